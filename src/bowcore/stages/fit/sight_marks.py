"""Where the customer's sight marks go after the work, and a new tape: by the arrow's speed before and now."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import hypot

from bowcore.accessories.arrow_speed import energy_ft_lbf, momentum_lb_s
from bowcore.accessories.learned_flight import (
    Figure,
    LearnedFlight,
    learned_flight,
    moved_marks,
    speed_by_energy,
)
from bowcore.accessories.on_the_bow import SIGHT
from bowcore.accessories.sight import (
    FEET_A_YARD,
    INCHES_A_FOOT,
    Flight,
    MovedMark,
    SightGeometry,
    miss_by_axis_in,
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
    """Speeds before and now [ft/s], every mark that moves, and how the arrow flew by the old ones."""

    before: SpeedRead
    now_fps: float
    marks: tuple[MovedMark, ...]
    flown: LearnedFlight


@dataclass(frozen=True)
class TapeMark:
    """A distance on a tape and its place below the nearest one, with its standard deviation. [yd, in]"""

    distance_yd: int
    down_in: float
    sigma_in: float = 0.0

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


def flown_before(facts: Facts, before: SpeedRead, sight: SightGeometry) -> LearnedFlight:
    """How the arrow flew when the archer's marks were shot."""
    return learned_flight(
        (before.fps, before.sigma), sight, facts.on_bow.shot_marks, facts.on_bow.arrow
    )


def sight_marks(facts: Facts, last_visit: SpeedRead | None = None) -> SightMarks | None:
    """Where the marks go; None while something is not known.

    The same arrow is shot before and after, so that the scatter of both counts. A distance that the arrow
    does not reach is left out.
    """
    sight, now = facts.on_bow.sight, facts.current("arrow_speed")
    before, after = speed_before(facts, last_visit), flight_now(facts)
    if sight is None or before is None or after is None or now is None or now.summary is None:
        return None
    flown = flown_before(facts, before, sight)
    change = (after.speed_fps - before.fps, hypot(before.sigma, now.summary.sigma))
    marks: list[MovedMark] = []
    for distance in _distances(facts):
        try:
            marks += moved_marks(flown, change, [distance])
        except BadInput:
            continue
    return SightMarks(before, after.speed_fps, tuple(marks), flown) if marks else None


def flight_for_tape(
    facts: Facts, last_visit: SpeedRead | None = None, twin: Twin | None = None
) -> LearnedFlight | None:
    """How the arrow flies now: by its speed and what the archer's marks show; else by the energy that the
    twin stores. None while neither is known."""
    sight, speed, before = (
        facts.on_bow.sight,
        speed_now(facts, twin),
        speed_before(facts, last_visit),
    )
    if sight is None or speed is None:
        return None
    now = (speed.fps, speed.sigma)
    if before is None:
        return learned_flight(now, sight, arrow=facts.on_bow.arrow)
    flown = flown_before(facts, before, sight)
    change = hypot(speed.sigma, before.sigma)
    try:
        return flown.at_speed(flown.flight.speed_fps + speed.fps - before.fps, change)
    except BadInput:  # the two speeds are too far apart for one arrow
        return learned_flight(now, sight, arrow=facts.on_bow.arrow)


def speed_now(facts: Facts, twin: Twin | None = None) -> SpeedRead | None:
    """The arrow's speed now: as it was read since the last change, else by the energy that the twin stores
    and the share of it that bows give; None while neither is known."""
    now, arrow = facts.current("arrow_speed"), facts.on_bow.arrow
    if now and now.fresh and now.summary and flight_of(now):
        return SpeedRead(now.summary.value, now.summary.sigma, "as it was read")
    if twin is None or arrow is None:
        return None
    stored = twin.stored_energy_inlbf() / INCHES_A_FOOT
    return SpeedRead(*speed_by_energy(stored, arrow.mass_gr), "by the energy that the bow stores")


def _distances(facts: Facts) -> Sequence[float]:
    """Those that were written down of the sight, else the usual ones. [yd]"""
    return facts.on_bow.of(SIGHT).get("marks") or USUAL_YARDS


def tape(flown: LearnedFlight) -> list[TapeMark]:
    """Every yard of a tape, as far as the arrow flies; the doubt of those that are named. [yd, in]"""
    nearest = pin_place_in(flown.flight, flown.sight, TAPE_FROM_YD)
    marks: list[TapeMark] = []
    for yards in range(TAPE_FROM_YD, TAPE_TO_YD + 1):
        try:
            down = pin_place_in(flown.flight, flown.sight, yards) - nearest
            mark = TapeMark(yards, down)
            sigma = flown.sigma_of(_below_nearest(yards)) if mark.named else 0.0
        except BadInput:
            break
        marks.append(replace(mark, sigma_in=sigma))
    return marks


def _below_nearest(yards: int) -> Figure:
    def below(flight: Flight, sight: SightGeometry) -> float:
        return pin_place_in(flight, sight, yards) - pin_place_in(flight, sight, TAPE_FROM_YD)

    return below


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


def say_drag(flown: LearnedFlight) -> str:
    """What the marks rest on, in a sentence."""
    lost = FEET_A_YARD * AXIS_YD * flown.flight.drag_per_ft
    by_then = f"about {lost:.0%} of its speed is lost at {AXIS_YD:g} yd"
    if flown.marks:
        return f"By {flown.marks} of the archer's own marks: {by_then}."
    usual = f"With a usual arrow's drag, {by_then}."
    if flown.doubt:
        return f"{usual} {flown.doubt}"
    return f"{usual} Write down where the archer's own marks are: each makes it surer."


def say_tape(flown: LearnedFlight, speed: SpeedRead, marks: Sequence[TapeMark]) -> str:
    """By which speed the tape is drawn and how sure its farthest name is, in a sentence."""
    farthest = max(
        (one for one in marks if one.named), key=lambda one: one.distance_yd, default=None
    )
    if farthest is None:
        return ""
    doubt = f"{farthest.distance_yd} yd give or take {farthest.sigma_in:.2f} in"
    fps = f"{flown.flight.speed_fps:.0f} fps, give or take {speed.sigma:.1f}, {speed.when}"
    return f"Tape for {fps}; {doubt}, measured from {TAPE_FROM_YD} yd."
