"""Where the customer's sight marks go after the work, and a new tape: by the arrow's speed before and now."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import hypot

from bowcore.accessories.arrow_speed import energy_ft_lbf, momentum_lb_s
from bowcore.accessories.on_the_bow import SIGHT, OnTheBow
from bowcore.accessories.sight import (
    FEET_A_YARD,
    LEAST_MARKS,
    Flight,
    MovedMark,
    SightGeometry,
    fitted_drag,
    miss_by_axis_in,
    moved_marks,
    pin_place_in,
)
from bowcore.bow.twin import Twin
from bowcore.errors import BadInput
from bowcore.evidence.facts import Current, Facts
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.stages.speed.speed_board import shooting_now

AXIS_YD, AXIS_SLOPE_DEG = 60.0, 30.0
USUAL_YARDS = (20.0, 30.0, 40.0, 50.0, 60.0)
TAPE_FROM_YD, TAPE_TO_YD, NAMED_EVERY_YD = 20, 80, 10


@dataclass(frozen=True)
class SpeedRead:
    """An arrow's speed as it was read, with its standard deviation, and when, in words. [ft/s]"""

    fps: float
    sigma: float
    when: str


@dataclass(frozen=True)
class SightMarks:
    """Speeds before and now [ft/s], and every mark that moves.

    `drag_per_ft` is by how much of itself a foot slows the arrow, by two marks that the archer has shot; None
    where the marks are computed without it, and `why_no_drag` says why where marks were written down.
    """

    before: SpeedRead
    now_fps: float
    marks: tuple[MovedMark, ...]
    drag_per_ft: float | None = None
    why_no_drag: str = ""


@dataclass(frozen=True)
class TapeMark:
    """A distance on a tape and its place below the nearest one. [yd, in]"""

    distance_yd: int
    down_in: float

    @property
    def named(self) -> bool:
        """Whether its number stands beside it."""
        return self.distance_yd % NAMED_EVERY_YD == 0


def flight_of(read: Current | None) -> Flight | None:
    """How the arrow flies by a reading of its speed; None where nothing was read, or no bow shoots so."""
    if read is None or read.summary is None:
        return None
    try:
        return Flight(read.summary.value)
    except BadInput:
        return None


def flight_now(facts: Facts) -> Flight | None:
    """How the arrow flies now; None where its speed has not been read since the last change."""
    now = facts.current("arrow_speed")
    return flight_of(now) if now and now.fresh else None


def speed_before(facts: Facts, last_visit: SpeedRead | None = None) -> SpeedRead | None:
    """The speed by which the customer's marks were shot: as the bow came in, else as it left last time."""
    read = facts.baseline("arrow_speed")
    if flight_of(read) is None or read is None or read.summary is None:
        return last_visit
    return SpeedRead(read.summary.value, read.summary.sigma, "as it came in")


def missing_for_marks(facts: Facts, last_visit: SpeedRead | None = None) -> list[str]:
    """What has to be known before marks can be predicted, in words."""
    found = []
    if facts.on_bow.sight is None:
        found.append("peep to pin and the peep's height above the arrow, at full draw")
    if speed_before(facts, last_visit) is None:
        found.append("the arrow's speed as it came in")
    if flight_now(facts) is None:
        found.append("its speed now, with the same arrow")
    return found


def with_drag(speed_fps: float, on_bow: OnTheBow) -> tuple[Flight, str]:
    """How an arrow of a speed flies by the archer's own marks, the nearest and the farthest; without drag
    where they do not show any, and why, in a sentence."""
    plain, marks = Flight(speed_fps), on_bow.shot_marks
    if on_bow.sight is None or len(marks) < LEAST_MARKS:
        return plain, ""
    try:
        return fitted_drag(speed_fps, on_bow.sight, marks[0], marks[-1]), ""
    except BadInput as error:
        return plain, str(error)


def sight_marks(facts: Facts, last_visit: SpeedRead | None = None) -> SightMarks | None:
    """Where the marks go; None while something is not known.

    The same arrow is shot before and after, so that the scatter of both counts. A distance that the arrow
    does not reach is left out.
    """
    sight, now = facts.on_bow.sight, facts.current("arrow_speed")
    before, after = speed_before(facts, last_visit), flight_now(facts)
    if sight is None or before is None or after is None or now is None or now.summary is None:
        return None
    flight, why_not = with_drag(before.fps, facts.on_bow)
    sigma = hypot(before.sigma, now.summary.sigma)
    marks: list[MovedMark] = []
    for distance in _distances(facts):
        try:
            marks += moved_marks(flight, after.speed_fps, sight, [distance], sigma)
        except BadInput:
            continue
    if not marks:
        return None
    return SightMarks(before, after.speed_fps, tuple(marks), flight.drag_per_ft or None, why_not)


def flight_for_tape(facts: Facts, last_visit: SpeedRead | None = None) -> Flight | None:
    """How the arrow flies now, with the drag that the archer's marks show; None while it was not read."""
    now, before = flight_now(facts), speed_before(facts, last_visit)
    if now is None or before is None:
        return now
    return replace(now, drag_per_ft=with_drag(before.fps, facts.on_bow)[0].drag_per_ft)


def _distances(facts: Facts) -> Sequence[float]:
    """Those that were written down of the sight, else the usual ones. [yd]"""
    return facts.on_bow.of(SIGHT).get("marks") or USUAL_YARDS


def tape(flight: Flight, sight: SightGeometry) -> list[TapeMark]:
    """Every yard of a tape, as far as the arrow flies. [yd, in]"""
    places: list[float] = []
    for yards in range(TAPE_FROM_YD, TAPE_TO_YD + 1):
        try:
            places.append(pin_place_in(flight, sight, yards))
        except BadInput:
            break
    return [TapeMark(TAPE_FROM_YD + n, place - places[0]) for n, place in enumerate(places)]


def say_speed(
    facts: Facts, twin: Twin | None, others: Sequence[tuple[str, float]] = ()
) -> list[str]:
    """What the arrow's speed says, in sentences; none while mass or speed are not known.

    Parameters
    ----------
    facts : Facts
        With the arrow and its speed.
    twin : Twin, optional
        By which the stored energy is known.
    others : sequence of (name, mass)
        Other arrows whose speed is predicted. [gr]
    """
    arrow, flight = facts.on_bow.arrow, flight_now(facts)
    if arrow is None or flight is None:
        return []
    mass, fps = arrow.mass_gr, flight.speed_fps
    energy, push = energy_ft_lbf(mass, fps), momentum_lb_s(mass, fps)
    words = [f"{mass:g} gr at {fps:.0f} fps: {energy:.1f} ft lbf, momentum {push:.2f} lbf s."]
    if twin is None:
        return words
    shooting = shooting_now(facts, twin, mass, fps)
    if shooting.doubt:
        return [*words, shooting.doubt]
    words.append(
        f"By the twin the bow stores {shooting.stored_ft_lbf:.0f} ft lbf: {shooting.efficiency:.0%} of it "
        "goes with the arrow."
    )
    return words + [
        f"{name}, {other:g} gr, would fly at about {shooting.speed_of(other):.0f} fps."
        for name, other in others
        if other != mass
    ]


def say_axis(flight: Flight) -> str:
    """What a third axis that is off costs on a slope, in a sentence; "" where no arrow flies so far."""
    try:
        miss = miss_by_axis_in(AXIS_YD, flight, 1.0, AXIS_SLOPE_DEG)
    except BadInput:
        return ""
    slope = f"a slope of {AXIS_SLOPE_DEG:g} degrees"
    return (
        f"A third axis off by one degree costs {miss:.1f} in at {AXIS_YD:g} yd on {slope}, to one side up "
        "and to the other down it."
    )


def say_moved(marks: SightMarks) -> str:
    """What to tell the customer, in a sentence: the nearest and the farthest mark."""
    change = marks.now_fps - marks.before.fps
    what = QUANTITIES["arrow_speed"]
    way = "faster" if change > 0 else "slower"
    hits = ", ".join(
        f"{abs(one.impact_in):.1f} in {'lower' if one.impact_in > 0 else 'higher'} at {one.distance_yd:g} yd"
        for one in dict.fromkeys((marks.marks[0], marks.marks[-1]))
    )
    moved = f"{what.say_size(change)} {way} than {marks.before.when}"
    return f"{moved}, with the same arrow: by the old marks it hits {hits}."


def say_drag(marks: SightMarks) -> str:
    """What the marks rest on, in a sentence."""
    if marks.drag_per_ft is not None:
        lost = FEET_A_YARD * AXIS_YD * marks.drag_per_ft
        by_then = f"about {lost:.0%} of its speed at {AXIS_YD:g} yd"
        return f"With the drag that the archer's own marks show: {by_then}."
    if marks.why_no_drag:
        return f"Without drag. {marks.why_no_drag}"
    return "Without drag: write down where two of the archer's marks are, and it is counted in."
