"""Where the customer's sight marks go after the work, and a new tape: by the arrow's speed before and now."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.errors import BadInput
from bowcore.fitting.on_the_bow import SIGHT
from bowcore.fitting.sight import (
    Flight,
    MovedMark,
    SightGeometry,
    miss_by_axis_in,
    moved_marks,
    pin_place_in,
)
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.workflow.facts import Current, Facts

AXIS_YD, AXIS_SLOPE_DEG = 60.0, 30.0
USUAL_YARDS = (20.0, 30.0, 40.0, 50.0, 60.0)
TAPE_FROM_YD, TAPE_TO_YD, NAMED_EVERY_YD = 20, 80, 10


@dataclass(frozen=True)
class SightMarks:
    """Speeds before and now [ft/s], and every mark that moves."""

    before_fps: float
    now_fps: float
    marks: tuple[MovedMark, ...]


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


def missing_for_marks(facts: Facts) -> list[str]:
    """What has to be known before marks can be predicted, in words."""
    found = []
    if facts.on_bow.sight is None:
        found.append("peep to pin and the peep's height above the arrow, at full draw")
    if flight_of(facts.baseline("arrow_speed")) is None:
        found.append("the arrow's speed as it came in")
    if flight_now(facts) is None:
        found.append("its speed now, with the same arrow")
    return found


def sight_marks(facts: Facts) -> SightMarks | None:
    """Where the marks go, without drag; None while something is not known.

    The same arrow is shot before and after, so that the scatter of both counts. A distance that the arrow
    does not reach is left out.
    """
    sight, was, now = (
        facts.on_bow.sight,
        facts.baseline("arrow_speed"),
        facts.current("arrow_speed"),
    )
    before, after = flight_of(was), flight_now(facts)
    if sight is None or before is None or after is None or was is None or now is None:
        return None
    assert was.summary is not None and now.summary is not None
    sigma = (was.summary.sigma**2 + now.summary.sigma**2) ** 0.5
    marks: list[MovedMark] = []
    for distance in _distances(facts):
        try:
            marks += moved_marks(before, after.speed_fps, sight, [distance], sigma)
        except BadInput:
            continue
    return SightMarks(before.speed_fps, after.speed_fps, tuple(marks)) if marks else None


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
    change = marks.now_fps - marks.before_fps
    what = QUANTITIES["arrow_speed"]
    way = "faster" if change > 0 else "slower"
    hits = ", ".join(
        f"{abs(one.impact_in):.1f} in {'lower' if one.impact_in > 0 else 'higher'} at {one.distance_yd:g} yd"
        for one in dict.fromkeys((marks.marks[0], marks.marks[-1]))
    )
    return f"{what.say_size(change)} {way} with the same arrow: by the old marks it hits {hits}."
