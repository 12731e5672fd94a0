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
from bowcore.workflow.facts import Facts

AXIS_YD, AXIS_SLOPE_DEG = 60.0, 30.0
USUAL_YARDS = (20.0, 30.0, 40.0, 50.0, 60.0)
TAPE_FROM_YD, TAPE_TO_YD, TAPE_STEP_YD, NAMED_EVERY_YD = 20, 80, 1, 10


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


def missing_for_marks(facts: Facts) -> list[str]:
    """What has to be known before marks can be predicted, in words."""
    found = []
    if facts.on_bow.sight is None:
        found.append("peep to pin and the peep's height above the arrow, at full draw")
    before, now = facts.baseline("arrow_speed"), facts.current("arrow_speed")
    if before is None or before.summary is None:
        found.append("the arrow's speed as it came in")
    if now is None or not now.fresh:
        found.append("its speed now, with the same arrow")
    return found


def sight_marks(facts: Facts) -> SightMarks | None:
    """Where the marks go, without drag; None while something is not known.

    The same arrow is shot before and after, so that the scatter of both counts.
    """
    sight, before, now = (
        facts.on_bow.sight,
        facts.baseline("arrow_speed"),
        facts.current("arrow_speed"),
    )
    if missing_for_marks(facts) or sight is None or before is None or now is None:
        return None
    assert before.summary is not None and now.summary is not None
    sigma = (before.summary.sigma**2 + now.summary.sigma**2) ** 0.5
    flight = Flight(before.summary.value)
    marks = moved_marks(flight, now.summary.value, sight, _distances(facts), sigma)
    return SightMarks(before.summary.value, now.summary.value, tuple(marks))


def _distances(facts: Facts) -> Sequence[float]:
    """Those that were written down of the sight, else the usual ones. [yd]"""
    return facts.on_bow.of(SIGHT).get("marks") or USUAL_YARDS


def tape(speed_fps: float, sight: SightGeometry) -> list[TapeMark]:
    """Every yard of a tape, as far as the arrow flies. [yd, in]"""
    flight = Flight(speed_fps)
    first = pin_place_in(flight, sight, TAPE_FROM_YD)
    found = []
    for yards in range(TAPE_FROM_YD, TAPE_TO_YD + 1, TAPE_STEP_YD):
        try:
            found.append(TapeMark(yards, pin_place_in(flight, sight, yards) - first))
        except BadInput:
            break
    return found


def say_axis(speed_fps: float) -> str:
    """What a third axis that is off costs on a slope, in a sentence."""
    miss = miss_by_axis_in(AXIS_YD, Flight(speed_fps), 1.0, AXIS_SLOPE_DEG)
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
