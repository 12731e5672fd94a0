"""Every quantity of the bench, in the order of work at the baseline.

Left and right are always as the archer sees them, from behind the bow. Tolerances, the order of
work and what a change makes stale are common practice with no published source, unless a comment
says otherwise. A new quantity is one entry here, and its small drawing where none fits.
"""

from bowcore.errors import BadInput
from bowcore.quantities import tools
from bowcore.quantities.changes import (
    CABLE_CHANGES,
    DRAWN_CHANGES,
    LENGTH_CHANGES,
    ON_THE_STRING,
    TEAR_CHANGES,
    TIMING_CHANGES,
    Change,
)
from bowcore.quantities.quantity import (
    CLOCK,
    Asked,
    Direction,
    Fit,
    Quantity,
    ReferencePoint,
    Role,
    TwoReadings,
    Usual,
)


def _points(**names: str) -> tuple[ReferencePoint, ...]:
    return tuple(ReferencePoint(key, name) for key, name in names.items())


STOPS = (
    Direction("top", "Top", "t", -1, "bottom {} open"),
    Direction("bottom", "Bottom", "b", 1, "top {} open"),
    Direction("both", "Both together", "0", 0, "both together"),
)
MARK = (
    Direction("past", "Past the mark", "p", 1, "{} past the mark"),
    Direction("short", "Short of it", "s", -1, "{} short of the mark"),
    Direction("on", "On the mark", "0", 0, "on the mark"),
)
LATER = (
    Direction("top", "Top", "t", 1, "top {} later"),
    Direction("bottom", "Bottom", "b", -1, "bottom {} later"),
    Direction("even", "Even", "0", 0, "even"),
)
LONGER = (
    Direction("top", "Top", "t", 1, "top {} longer"),
    Direction("bottom", "Bottom", "b", -1, "bottom {} longer"),
    Direction("even", "Even", "0", 0, "even"),
)
OFF_STRING = (
    Direction("left", "Left", "l", -1, "{} left"),
    Direction("right", "Right", "r", 1, "{} right"),
    Direction("on", "On the string", "0", 0, "on the string"),
)
TORN_UP = (
    Direction("high", "Nock high", "u", 1, "nock {} high"),
    Direction("low", "Nock low", "d", -1, "nock {} low"),
    Direction("clean", "Clean", "0", 0, "clean"),
)
TORN = (
    Direction("left", "Nock left", "l", -1, "nock {} left"),
    Direction("right", "Nock right", "r", 1, "nock {} right"),
    Direction("clean", "Clean hole", "0", 0, "clean hole"),
)
HEIGHT = (
    Direction("above", "Above", "u", 1, "{} above"),
    Direction("below", "Below", "d", -1, "{} below"),
    Direction("level", "Level", "0", 0, "level"),
)

NOCK_OR_REST = (
    Direction("nock_high", "Nock high", "u", 1, "nock {} high"),
    Direction("nock_low", "Nock low", "d", -1, "nock {} low"),
    Direction("level", "Level", "0", 0, "level"),
)
FARTHER_OUT = (
    Direction("front", "Front", "f", 1, "front {} farther out"),
    Direction("back", "Back", "b", -1, "back {} farther out"),
    Direction("alike", "Alike", "0", 0, "front and back alike"),
)
CLOCKWISE = Direction("clockwise", "Clockwise", "c", 1, "{} clockwise to go")
COUNTER = Direction("counter", "Counter-clockwise", "w", -1, "{} counter-clockwise to go")
TURNED = (CLOCKWISE, COUNTER, Direction("square", "Faces the eye", "0", 0, "at the eye"))
BEHIND_PEEP = (CLOCKWISE, COUNTER, Direction("square", "Straight", "0", 0, "straight"))

AXLES = _points(axle_centre="centre of axle")
NOCK_POINTS = _points(
    loop_knot="underside of the top loop knot",
    nock_tie="top nock tie",
    nock_groove="nock groove",
    loop_centre="centre of the loop",
)
PULLED_FROM = _points(
    loop="the loop", serving="the serving at the nock", riser="two-handed, by the riser"
)
"""Where a bow is pulled from changes when its stops touch: recorded with the reading."""

TIMING_MARK = Quantity(
    "stop_gap", "Timing mark", "in", tools.MARKER, (-1.5, 1.5), 1 / 32,
    how="the one cam's mark against the limb's edge, at rest", picture="one_cam",
    missed_later="An idler has no mark: only this one shows whether the buss cable came back.",
    low_word="short of the mark", high_word="past the mark",
    which="Where is the mark?", directions=MARK, device="draw_board",
)  # fmt: skip
"""Timing on a single cam, in the place of the stop gap."""


def _lean(key: str, name: str, points: str, needs: str = "") -> Quantity:
    """Lean of the cam at one axle; a laser's line does the work of the shaft."""
    return Quantity(
        key,
        name,
        "in",
        tools.SHAFT,
        (-6, 6),
        0.125,
        how=f"shaft or laser laid on the cam's face, {points}: its far end off the string, "
        "from behind",
        drawn=True,
        takes=2,
        take_names=("left face", "right face"),
        low_word="too far left",
        high_word="too far right",
        missed_later="Some bows lean on purpose; the next string should lean the same.",
        which="Where does the shaft's end run off?",
        directions=OFF_STRING,
        role=Role.LEAN,
        stale_after=CABLE_CHANGES | {Change.LIMB_BOLT, Change.OPPOSITE_LEGS},
        asked=Asked.WELCOME,
        needs=needs,
        put_back=True,
        model_doubt=0.20,
        off_book=0.5,
        picture=key,
    )


def _at_rest(key: str, name: str, how: str, two: TwoReadings | None = None) -> Quantity:
    """A way to read timing without a draw board, on two cams. The drawn reading wins."""
    return Quantity(
        key,
        name,
        "in",
        tools.RULE,
        (-1.5, 1.5),
        1 / 32,
        how=f"{how}, both bolts bottomed",
        which="Which cam is later?",
        directions=LATER,
        role=Role.TIMING_AT_REST,
        missed_later="It can be read again without a draw board.",
        stale_after=TIMING_CHANGES,
        asked=Asked.WELCOME,
        needs="two_cams",
        picture="at_the_cams",
        two=two,
    )


def _force(key: str, name: str, how: str) -> Quantity:
    """Force at a fixed draw mark: smooth where the peak is not."""
    return Quantity(
        key,
        name,
        "lbf",
        tools.SCALE,
        (5, 100),
        1.0,
        how=f"draw board held {how}, on the way up",
        drawn=True,
        low_word="light",
        high_word="heavy",
        computed=True,
        model_doubt=0.08,
        off_book=4,
        stale_after=DRAWN_CHANGES,
        picture="on_the_way",
    )


_ALL = (  # the tape, then the square, the rule, and one pull: peak, gap, lean, draw, holding
    Quantity(
        "axle_to_axle", "Axle to axle", "in", tools.TAPE, (20, 50), 0.125,
        AXLES, AXLES, "centre to centre, at rest",
        missed_later="Shows first whether a cable is long or short.",
        low_word="short", high_word="long", stale_after=LENGTH_CHANGES | {Change.LIMB_BOLT},
        asked=Asked.ALWAYS, required=True, computed=True, model_doubt=0.10,
        off_book=0.12, picture="axle_to_axle",
    ),
    Quantity(
        "nock_to_peep", "Nock to peep", "in", tools.TAPE, (2.5, 8.5), 1 / 16,
        NOCK_POINTS, _points(peep_centre="centre of the peep", peep_top="top of the peep"),
        "along the string, bow at rest",
        missed_later="It cannot be found again once the old string is cut.",
        stale_after=ON_THE_STRING | {Change.PEEP, Change.MODULE_OR_STOP},
        asked=Asked.ALWAYS, needs="peep", fit=Fit.BY_ITSELF, put_back=True, device="caliper",
        picture="nock_to_peep", usual=Usual(5.0, 0.5, 16),
    ),
    Quantity(
        "nock_to_kisser", "Nock to kisser", "in", tools.TAPE, (0.5, 4), 1 / 16, NOCK_POINTS,
        how="along the string", missed_later="The archer's anchor depends on it.",
        stale_after=ON_THE_STRING,
        asked=Asked.CARRY_OVER, needs="kisser", fit=Fit.BY_ITSELF, put_back=True, device="caliper",
        picture="nock_to_kisser", usual=Usual(1.1875, 0.125, 16),
    ),
    Quantity(
        "loop_length", "Loop length", "in", tools.TAPE, (0.25, 1.25), 1 / 16,
        how="string to the inside of the loop",
        missed_later="The draw feels longer or shorter by as much as the new loop differs.",
        stale_after=frozenset({Change.NEW_STRING, Change.LOOP_OR_TIES, Change.LOOP}),
        asked=Asked.CARRY_OVER, needs="loop",
        fit=Fit.BY_ITSELF, put_back=True, device="caliper", picture="loop", usual=Usual(0.5625, 0.0625, 16),
    ),
    Quantity(
        "brace_height", "Brace height", "in", tools.SQUARE, (4, 10), 0.125,
        _points(throat="throat of the grip"),
        _points(near_face="near face of the string", far_face="far face of the string"),
        "square to the string, the shortest distance",
        missed_later="With axle to axle it shows whether string or cables are off.",
        stale_after=LENGTH_CHANGES | {Change.LIMB_BOLT}, asked=Asked.ALWAYS, required=True,
        computed=True, model_doubt=0.20, off_book=0.15, device="caliper", picture="brace_height",
    ),
    Quantity(
        "tiller", "Tiller", "in", tools.SQUARE, (-1, 1), 1 / 16,
        how="each limb pocket to the string, square to it",
        missed_later="The only reading that shows uneven limb bolts.",
        which="Which is longer?", directions=LONGER, stale_after=frozenset({Change.LIMB_BOLT}),
        two=TwoReadings("Top", "Bottom", (2, 14)),
        asked=Asked.CARRY_OVER, put_back=True, computed=True, model_doubt=0.20, off_book=0.1,
        picture="tiller", usual=Usual(0.0, 0.03125, 32),
    ),
    Quantity(
        "nock_height", "Nock height", "in", tools.SQUARE, (-1, 2), 1 / 16,
        _points(hole_centre="centre of the rest hole", hole_edge="lower edge of the rest hole",
                hole_top="upper edge of the rest hole", shelf="shelf"),
        _points(arrow_centre="centre of the arrow", arrow_under="underside of the arrow",
                tie_under="lower face of the top tie", tie_over="upper face of the lower tie"),
        "square to the string", missed_later="The next nock point starts from here.",
        which="Where is the arrow?", directions=HEIGHT,
        stale_after=frozenset({Change.STRING, Change.LIMB_BOLT, Change.LOOP_OR_TIES,
                               Change.ARROW_OR_NOCK, Change.SHOTS}),
        asked=Asked.CARRY_OVER, fit=Fit.BY_ITSELF, put_back=True, model_doubt=0.05,
        off_book=0.3, device="caliper",
        picture="nock_height", usual=Usual(0.0625, 0.0625, 16),
    ),
    Quantity(
        "centre_shot", "Centre shot", "in", tools.RULE, (0.25, 1.75), 1 / 16,
        _points(riser_face="face of the riser", string_plane="plane of the string"),
        _points(arrow_centre="centre of the arrow"), "level with the rest hole",
        missed_later="Needed to put the rest back after it is moved.",
        stale_after=frozenset({Change.REST}), asked=Asked.CARRY_OVER, fit=Fit.WITH_ARROW, put_back=True,
        limits_from={"string_plane": (0.0, 0.5)},
        device="caliper", picture="centre_shot", usual=Usual(0.8125, 0.0625, 16),
    ),
    Quantity(
        "front_back", "Arrow, front against back", "in", tools.RULE, (-3 / 8, 3 / 8), 1 / 32,
        how="gauge on the riser's flat, caliper or laser: riser to shaft at two places ten inches apart",
        missed_later="It shows whether the arrow runs along the bow where no book has a figure.",
        which="Which is farther out?", directions=FARTHER_OUT, two=TwoReadings("Front", "Back", (0, 4)),
        stale_after=frozenset({Change.REST}), needs="gauged", fit=Fit.WITH_ARROW, picture="centre_shot",
        usual=Usual(0.0, 1 / 32, 64),
    ),
    Quantity(
        "nock_gap", "Nock fit", "in", tools.FEELER, (0, 0.25), 1 / 64,
        how="free play of the customer's own nock between its ties, on the string",
        missed_later="A nock that is pinched at full draw throws bare shafts anywhere.",
        low_word="too tight", high_word="too loose",
        stale_after=frozenset({Change.NEW_STRING, Change.LOOP_OR_TIES, Change.ARROW_OR_NOCK}),
        needs="ties", fit=Fit.WITH_ARROW, picture="nock_height", usual=Usual(1 / 32, 1 / 64, 64),
    ),
    Quantity(
        "arrow_level", "Arrow level", "in", tools.SQUARE, (-1, 1), 1 / 16,
        how="rest up, bow plumb on the string: how much higher the nock is than the arrow on its rest",
        missed_later="An arrow that is not level tears up or down and looks like a timing fault.",
        which="Which end is high?", directions=NOCK_OR_REST,
        stale_after=frozenset({Change.NEW_STRING, Change.STRING, Change.LIMB_BOLT, Change.LOOP_OR_TIES,
                               Change.ARROW_OR_NOCK, Change.REST}),
        needs="rest", fit=Fit.WITH_ARROW, picture="nock_height", usual=Usual(1 / 16, 1 / 16, 16),
    ),
    Quantity(
        "string_stop_gap", "String-stop gap", "in", tools.RULE, (0, 1), 1 / 16,
        _points(string_back="string, the side of the stop"),
        _points(stop_face="face of the string stop"), "along the stop's rod, at rest",
        missed_later="A stop that touches or is too far moves where the string comes to rest.",
        low_word="too close", high_word="too far", stale_after=LENGTH_CHANGES | {Change.LIMB_BOLT},
        asked=Asked.WELCOME, put_back=True, picture="string_stop",
        usual=Usual(1 / 16, 1 / 32, 32),
    ),
    Quantity(
        "cam_rotation", "Cam rotation", "in", tools.MARKER, (-2, 2), 1 / 16,
        how="cam mark against the limb's edge, at rest",
        missed_later="Back on this mark means that the cables are back to length.",
        which="Where is the mark?", directions=MARK, stale_after=DRAWN_CHANGES, asked=Asked.WELCOME,
        needs="two_cams", put_back=True, picture="at_the_cams",
    ),
    _at_rest("timing_marks", "Timing at rest, marks", "cam marks against limb or cable"),
    _at_rest("timing_tips", "Timing at rest, cam tips", "each cam's tip to its own cable",
             TwoReadings("Top", "Bottom", (0, 6))),
    _at_rest("timing_hole", "Timing at rest, sight hole", "cable off the middle of the sight hole"),
    Quantity(
        "peak_weight", "Peak weight", "lbf", tools.SCALE, (10, 100), 1.0, PULLED_FROM,
        how="highest value passed on the way up", drawn=True, takes=3,
        missed_later="Shows whether the draw weight has changed.",
        low_word="light", high_word="heavy", stale_after=DRAWN_CHANGES,
        asked=Asked.ALWAYS, required=True, computed=True, model_doubt=0.15, off_book=4, device="scale",
        picture="on_the_way",
    ),
    Quantity(
        "stop_gap", "Cam timing", "in", tools.RULE, (-1.0, 1.0), 1 / 32,
        PULLED_FROM, drawn=True, takes=2, touch=0.012,
        how="first stop just touching, not dug in: what is left open at the other",
        which="Which stop touches first?", directions=STOPS,
        missed_later="Without it nobody can say later which cam was ahead.",
        low_word="too wide", high_word="too wide", stale_after=TIMING_CHANGES,
        asked=Asked.ALWAYS, required=True, computed=True, model_doubt=0.12,
        off_book=0.06, device="draw_board",
        picture="at_the_stop", one_cam=TIMING_MARK,
    ),
    _lean("lean", "Lean, top", "pointing down from the top cam"),
    _lean("lean_bottom", "Lean, bottom", "pointing up from the bottom cam", "bottom_lean"),
    Quantity(
        "draw_length", "Draw length", "in", tools.DRAW_BOARD, (18, 34), 0.125, takes=2,
        how="throat to string at full draw, plus 1 3/4 in", drawn=True,
        missed_later="A module or a long string shows here first, and the archer feels it.",
        low_word="short", high_word="long", stale_after=DRAWN_CHANGES,
        asked=Asked.CARRY_OVER, put_back=True, computed=True, model_doubt=0.10, off_book=0.5,
        device="draw_board", picture="draw_length",
    ),
    Quantity(
        "holding_weight", "Holding weight", "lbf", tools.SCALE, (3, 60), 1.5, PULLED_FROM,
        how="at the stop, on the way in", drawn=True, takes=3,
        missed_later="It shows whether the stops and modules came back where they were.",
        low_word="light", high_word="heavy",
        stale_after=DRAWN_CHANGES,
        asked=Asked.ALWAYS, required=True, computed=True, model_doubt=0.20, off_book=3, device="scale",
        picture="at_the_stop",
    ),
    _force("force_early", "Force at the early mark", "at a third of the stroke"),
    _force("force_late", "Force at the late mark", "past the middle of the stroke"),
    Quantity(
        "cord_up", "Rest's arm up", "in", tools.DRAW_BOARD, (0, 25), 0.5,
        how="drawn slowly: how far before full draw the arm is all the way up", drawn=True,
        missed_later="An arm that comes up early drags on its cable; late, the arrow falls.",
        low_word="too late", high_word="too early",
        stale_after=DRAWN_CHANGES | {Change.REST}, needs="drop_away", fit=Fit.BY_ITSELF,
        picture="on_the_way", usual=Usual(1.5, 0.5, 8),
    ),
    Quantity(
        "peep_turn", "Peep facing", CLOCK, tools.CLOCK_FACE, (-30, 30), 3.0,
        how="at full draw, seen from above: how far it has to turn to face the eye", drawn=True,
        which="Which way must it turn?", directions=TURNED,
        missed_later="The archer waits for the peep to come round, or turns the loop.",
        stale_after=frozenset({Change.NEW_STRING, Change.STRING, Change.PEEP, Change.SHOTS}),
        needs="peep", fit=Fit.BY_ITSELF, picture="nock_to_peep", usual=Usual(0.0, 0.0, 1),
    ),
    Quantity(
        "loop_facing", "Loop facing", CLOCK, tools.CLOCK_FACE, (-30, 30), 5.0,
        how="at rest, seen from above: how far the loop has to turn to stand straight behind the peep",
        which="Which way must it turn?", directions=BEHIND_PEEP,
        missed_later="A loop that stands aside turns the peep away at every draw.",
        stale_after=frozenset({Change.NEW_STRING, Change.STRING, Change.LOOP_OR_TIES, Change.LOOP,
                               Change.PEEP}),
        needs="loop", fit=Fit.BY_ITSELF, picture="loop", usual=Usual(0.0, 0.0, 1),
    ),
    Quantity(
        "arrow_speed", "Arrow speed", "fps", tools.CHRONOGRAPH, (80, 450), 2, takes=3,
        how="the customer's arrow, through the chronograph", drawn=True,
        missed_later="Before and after with the same arrow shows what the new threads cost.",
        stale_after=DRAWN_CHANGES | {Change.ARROW_OR_NOCK}, asked=Asked.WELCOME,
        device="chronograph", picture="chronograph", usual=Usual(281.0, 12.0, 1),
    ),
    Quantity(
        "tear_side", "Paper tear, sideways", "in", tools.PAPER, (-4, 4), 0.125,
        how="the nock's hole against the point's, seen from behind the bow, shot at about 3 yd",
        drawn=True, which="Which way is the nock?", directions=TORN,
        missed_later="It shows a lean that a shaft on the cam does not, and shims are chosen by it.",
        stale_after=TEAR_CHANGES,
        asked=Asked.WELCOME, picture="paper", usual=Usual(0.0, 0.125, 16),
    ),
    Quantity(
        "tear_up", "Paper tear, up and down", "in", tools.PAPER, (-4, 4), 0.125,
        how="the nock's hole against the point's, seen from behind the bow, shot at about 3 yd",
        drawn=True, which="Where is the nock?", directions=TORN_UP,
        missed_later="Shows nock, rest and timing errors that a bow square does not.",
        stale_after=TEAR_CHANGES,
        picture="paper",
    ),
)  # fmt: skip

QUANTITIES = {quantity.key: quantity for quantity in _ALL}
"""By key, in the order of work."""
LEANS = tuple(one.key for one in _ALL if one.role is Role.LEAN)
"""How each cam leans; one that was read at the start is to be put back."""
TIMED_AT_REST = tuple(one.key for one in _ALL if one.role is Role.TIMING_AT_REST)
"""Ways to read timing without a draw board."""
REQUIRED = tuple(one.key for one in _ALL if one.required)
"""What must be fresh and inside its band before a bow goes back, whatever was done to it."""
PUT_BACK = tuple(one.key for one in _ALL if one.put_back)
"""What goes back to where it was at the baseline."""

FITTED_TO_SHOOT = tuple(one.key for one in _ALL if one.fit is not Fit.NO)
"""What belongs to the fit: where the string, the rest and the peep meet arrow and archer."""
TEAR_SIDE = "tear_side"
"""By which shims are chosen where it has been read."""
REPEATED = tuple(one.key for one in _ALL if one.takes > 1 and not one.take_names)
"""What is read several times for one value; how often is the shop's choice."""
MOST_TAKES = 5
"""More takes of one thing tell nothing new."""


def say_gap(gap_in: float) -> str:
    """The stop gap in words. Positive is a late top cam: the bottom stop touches first."""
    return QUANTITIES["stop_gap"].say(gap_in)


def shown(key: str, one_cam: bool = False) -> Quantity:
    """A quantity as it is called on this kind of bow: a single cam has a mark, not a gap."""
    found = quantity(key)
    return found.one_cam if one_cam and found.one_cam else found


def quantity(key: str) -> Quantity:
    """The quantity of that key.

    Raises
    ------
    BadInput
        It does not exist; the error lists those that do.
    """
    if key not in QUANTITIES:
        raise BadInput(f"There is no quantity '{key}'.", "quantity", ", ".join(QUANTITIES))
    return QUANTITIES[key]
