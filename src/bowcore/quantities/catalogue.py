"""Every quantity of the bench: between which points, with which tool, within which limits.

Left and right are always as the archer sees them, from behind the bow. Tolerances and the order
of work are common practice with no published source, unless a comment says otherwise.
"""

from dataclasses import dataclass
from fractions import Fraction

from bowcore.errors import BadInput
from bowcore.quantities import tools
from bowcore.quantities.inches import say_inches
from bowcore.quantities.tools import Tool
from bowcore.quantities.weights import say_weight


@dataclass(frozen=True)
class Point:
    """One of the two points between which a quantity is measured."""

    key: str
    name: str


@dataclass(frozen=True)
class Way:
    """One direction of a quantity that has two: chosen first, then only a size is entered.

    `says` puts the size into words; `hotkey` chooses it from the keyboard.
    """

    key: str
    name: str
    hotkey: str
    sign: int
    says: str


@dataclass(frozen=True)
class Quantity:
    """A thing that is measured. Values are in `unit`; `sane` is what no bow goes outside of.

    `ways` are the directions of a signed quantity, asked with `which`; `eye` names what is chosen
    where nothing is measured: the first is good. `take_names` tell takes apart that are not the same
    thing twice: the two faces of a cam.
    """

    key: str
    name: str
    unit: str
    tool: Tool
    sane: tuple[float, float]
    tolerance: float
    starts: tuple[Point, ...] = ()
    ends: tuple[Point, ...] = ()
    how: str = ""
    drawn: bool = False
    takes: int = 1
    missed_later: str = ""
    low_word: str = "low"
    high_word: str = "high"
    which: str = ""
    ways: tuple[Way, ...] = ()
    optional: bool = False
    take_names: tuple[str, ...] = ()

    def say(self, value: float | Fraction) -> str:
        """The value as a person says it, without its unit."""
        if self.ways:
            return self._say_way(float(value))
        if self.unit == "in":
            return say_inches(value, max(self.tool.denominator, 16))
        return say_weight(float(value))

    def way(self, value: float) -> Way:
        """The direction a value lies in; the one for nought if it is too small to read."""
        sign = 0 if say_inches(abs(value), 64) == "0" else (1 if value > 0 else -1)
        return next(way for way in self.ways if way.sign == sign)

    def _say_way(self, value: float) -> str:
        return self.way(value).says.format(say_inches(abs(value), 64))

    def say_size(self, size: float) -> str:
        """A difference, never signed, with its unit; 'under 1/64 in' when it is too small to read."""
        if self.unit != "in":
            return f"{abs(size):.1f} {self.unit}"
        text = say_inches(abs(size), 64)
        return "under 1/64 in" if text == "0" else f"{text} in"


def say_gap(gap_in: float) -> str:
    """The stop gap in words. Positive is a late top cam: the bottom stop touches first."""
    return QUANTITIES["stop_gap"].say(gap_in)


STOPS = (
    Way("top", "Top", "t", -1, "bottom {} open"),
    Way("bottom", "Bottom", "b", 1, "top {} open"),
    Way("both", "Both together", "0", 0, "both together"),
)
MARK = (
    Way("past", "Past the mark", "p", 1, "{} past the mark"),
    Way("short", "Short of it", "s", -1, "{} short of the mark"),
    Way("on", "On the mark", "0", 0, "on the mark"),
)
LATER = (
    Way("top", "Top", "t", 1, "top {} later"),
    Way("bottom", "Bottom", "b", -1, "bottom {} later"),
    Way("even", "Even", "0", 0, "even"),
)


def _points(**names: str) -> tuple[Point, ...]:
    return tuple(Point(key, name) for key, name in names.items())


AXLES = _points(axle_centre="centre of axle")
NOCK_POINTS = _points(
    loop_knot="underside of the top loop knot",
    nock_tie="top nock tie",
    nock_groove="nock groove",
    loop_centre="centre of the loop",
)


def _lean(key: str, name: str, points: str) -> Quantity:
    """Lean of the cam at one axle; a laser's line stands for the shaft."""
    return Quantity(
        key, name, "in", tools.SHAFT, (-6, 6), 0.125,
        how=f"shaft or laser laid on the cam's face, {points}: its far end off the string, "
        "from behind",
        drawn=True, takes=2, take_names=("left face", "right face"),
        low_word="too far left", high_word="too far right",
        missed_later="Some bows lean on purpose; the next string should lean the same.",
        which="Where does the shaft's end run off?", ways=(
            Way("left", "Left", "l", -1, "{} left"), Way("right", "Right", "r", 1, "{} right"),
            Way("on", "On the string", "0", 0, "on the string"),
        ), optional=True,
    )  # fmt: skip


LEANS = ("lean", "lean_bottom")
"""How each cam leans; one that was read at the start is to be put back."""
PULLED_FROM = _points(
    loop="the loop", serving="the serving at the nock", riser="two-handed, by the riser"
)
"""Where a bow is pulled from changes when its stops touch: recorded with the reading."""

_ALL = (
    Quantity(
        "axle_to_axle", "Axle to axle", "in", tools.TAPE, (20, 50), 0.125,
        AXLES, AXLES, "centre to centre, at rest",
        missed_later="It is the first number that tells a long cable from a short one.",
        low_word="short", high_word="long",
    ),
    Quantity(
        "brace_height", "Brace height", "in", tools.SQUARE, (4, 10), 0.125,
        _points(throat="throat of the grip"),
        _points(near_face="near face of the string", far_face="far face of the string"),
        "square to the string, the shortest distance",
        missed_later="It tells string from cable once both are new.",
    ),
    Quantity(
        "peak_weight", "Peak weight", "lbf", tools.SCALE, (10, 100), 1.0, PULLED_FROM,
        how="highest value passed on the way up", drawn=True, takes=3,
        missed_later="A bow handed back five pounds light comes back the same day.",
        low_word="light", high_word="heavy",
    ),
    Quantity(
        "holding_weight", "Holding weight", "lbf", tools.SCALE, (3, 60), 1.5, PULLED_FROM,
        how="at the stop, on the way in", drawn=True, takes=3,
        missed_later="It shows whether the stops and modules came back where they were.",
        low_word="light", high_word="heavy",
    ),
    Quantity(
        "stop_gap", "First stop and gap", "in", tools.RULE, (-1.5, 1.5), 1 / 32, PULLED_FROM,
        how="which stop touches first, and what is left open at the other", drawn=True,
        which="Which stop touches first?", ways=STOPS,
        missed_later="Without it nobody can say later which cam was ahead.",
        low_word="too wide", high_word="too wide",
    ),
    Quantity(
        "nock_to_peep", "Nock to peep", "in", tools.TAPE, (2, 10), 1 / 16,
        NOCK_POINTS, _points(peep_centre="centre of the peep", peep_top="top of the peep"),
        "along the string, bow at rest",
        missed_later="It cannot be found again once the old string is cut.",
    ),
    Quantity("force_early", "Force at the early mark", "lbf", tools.SCALE, (5, 100), 1.0,
             how="draw board held at a third of the stroke, on the way up", drawn=True,
             low_word="light", high_word="heavy"),
    Quantity("force_late", "Force at the late mark", "lbf", tools.SCALE, (5, 100), 1.0,
             how="draw board held past the middle of the stroke, on the way up", drawn=True,
             low_word="light", high_word="heavy"),
    Quantity(
        "draw_length", "Draw length", "in", tools.DRAW_BOARD, (18, 34), 0.125,
        how="throat to string at full draw, plus 1 3/4 in", drawn=True,
        missed_later="A module or a long string shows here first, and the archer feels it.",
        low_word="short", high_word="long",
    ),
    Quantity(
        "tiller", "Tiller", "in", tools.SQUARE, (-1, 1), 1 / 16,
        how="each limb pocket to the string, square to it",
        missed_later="Uneven bolts are seen here and nowhere else.",
        which="Which is longer?", ways=(
            Way("top", "Top", "t", 1, "top {} longer"), Way("bottom", "Bottom", "b", -1,
            "bottom {} longer"), Way("even", "Even", "0", 0, "even"),
        ),
    ),
    Quantity(
        "cam_rotation", "Cam rotation", "in", tools.MARKER, (-2, 2), 1 / 16,
        how="cam mark against the limb's edge, at rest",
        missed_later="Back on this mark means that the cables are back to length.",
        which="Where does the mark stand?", ways=MARK,
    ),
    Quantity(
        "timing_marks", "Timing at rest, marks", "in", tools.RULE, (-1.5, 1.5), 1 / 32,
        how="cam marks against limb or cable, both bolts bottomed", which="Which cam is later?",
        ways=LATER, optional=True, missed_later="It can be read again without a draw board.",
    ),
    Quantity(
        "timing_tips", "Timing at rest, cam tips", "in", tools.RULE, (-1.5, 1.5), 1 / 32,
        how="cam tip to its cable, both bolts bottomed", which="Which cam is later?",
        ways=LATER, optional=True, missed_later="It can be read again without a draw board.",
    ),
    Quantity(
        "timing_hole", "Timing at rest, sight hole", "in", tools.RULE, (-1.5, 1.5), 1 / 32,
        how="cable off the middle of the sight hole, both bolts bottomed",
        which="Which cam is later?", ways=LATER, optional=True,
        missed_later="It can be read again without a draw board.",
    ),
    _lean("lean", "Lean, top", "pointing down from the top cam"),
    _lean("lean_bottom", "Lean, bottom", "pointing up from the bottom cam"),
    Quantity(
        "nock_height", "Nock height", "in", tools.SQUARE, (-1, 2), 1 / 16,
        _points(hole_centre="centre of the rest hole", hole_edge="lower edge of the rest hole"),
        _points(arrow_centre="centre of the arrow", arrow_under="underside of the arrow"),
        "square to the string", missed_later="The next nock point starts from here.",
        which="Where is the arrow?", ways=(
            Way("above", "Above", "u", 1, "{} above"), Way("below", "Below", "d", -1, "{} below"),
            Way("level", "Level", "0", 0, "level"),
        ),
    ),
    Quantity(
        "nock_to_kisser", "Nock to kisser", "in", tools.TAPE, (0.5, 4), 1 / 16, NOCK_POINTS,
        how="along the string", missed_later="The archer's anchor hangs on it.",
    ),
    Quantity(
        "loop_length", "Loop length", "in", tools.TAPE, (0.1, 2), 1 / 16,
        how="string to the inside of the loop",
        missed_later="The draw feels longer or shorter by as much as the new loop differs.",
    ),
    Quantity("loop_angle", "Loop angle", "", tools.EYE, (0, 1), 0.5),
    Quantity("nock_fit", "Nock fit", "in", tools.RULE, (0, 0.25), 1 / 64),
    Quantity(
        "centre_shot", "Centre shot", "in", tools.RULE, (0.25, 1.75), 1 / 16,
        _points(riser_face="face of the riser", string_plane="plane of the string"),
        _points(arrow_centre="centre of the arrow"), "level with the rest hole",
        missed_later="The rest will have been moved by the time anyone asks where it stood.",
    ),
    Quantity("arrow_level", "Arrow level", "in", tools.SQUARE, (-1, 1), 1 / 16),
    Quantity("bow_level", "Bow level", "", tools.EYE, (0, 1), 0.5),
    Quantity("peep_angle", "Peep angle", "", tools.EYE, (0, 1), 0.5, drawn=True),
    Quantity("peep_height", "Peep height at full draw", "", tools.EYE, (0, 1), 0.5, drawn=True),
    Quantity("rest_cord_timing", "Rest cord timing", "", tools.EYE, (0, 1), 0.5, drawn=True),
    Quantity("let_off", "Let-off", "%", tools.SCALE, (0, 95), 3, drawn=True),
    Quantity(
        "arrow_speed", "Arrow speed", "fps", tools.CHRONOGRAPH, (80, 450), 2, takes=3,
        how="his arrow, through the chronograph", drawn=True, optional=True,
        missed_later="Before and after with the same arrow shows what the new threads cost.",
    ),
    Quantity("arrow_fit", "Arrow length and spine", "", tools.EYE, (0, 1), 0.5),
    Quantity("minimum_mass", "Minimum mass check", "", tools.EYE, (0, 1), 0.5),
    Quantity("tear_vertical", "Tear, up or down", "in", tools.TAPE, (-4, 4), 0.125),
    Quantity("tear_lateral", "Tear, left or right", "in", tools.TAPE, (-4, 4), 0.125),
    Quantity("sight", "Sight marks", "", tools.EYE, (0, 1), 0.5),
)  # fmt: skip

QUANTITIES = {quantity.key: quantity for quantity in _ALL}

TIMING_MARK = Quantity(
    "stop_gap", "Timing mark", "in", tools.MARKER, (-1.5, 1.5), 1 / 32,
    how="the one cam's mark against the limb's edge, at rest",
    missed_later="An idler has no mark: this one alone tells whether the buss cable came back.",
    low_word="short of the mark", high_word="past the mark",
    which="Where does the mark stand?", ways=MARK,
)  # fmt: skip
"""Timing on a single cam: it stands in the place of the stop gap."""

AT_REST = ("timing_marks", "timing_tips", "timing_hole")
"""Ways to read timing without a draw board, of two cams; the drawn reading wins."""
REQUIRED = ("axle_to_axle", "brace_height", "peak_weight", "holding_weight", "stop_gap")
"""What must be fresh and inside its band before a bow goes back, whatever was done to it."""


def shown(key: str, one_cam: bool = False) -> Quantity:
    """A quantity as it is called on this kind of bow: a single cam has a mark, not a gap."""
    return TIMING_MARK if one_cam and key == "stop_gap" else quantity(key)


def quantity(key: str) -> Quantity:
    """The quantity of that key.

    Raises
    ------
    BadInput
        There is none; the error lists those that exist.
    """
    if key not in QUANTITIES:
        raise BadInput(f"There is no quantity '{key}'.", "quantity", ", ".join(QUANTITIES))
    return QUANTITIES[key]
