"""What moves a tear, and by how much: geometry and the trade's ratios, then this bow's trials.

A lever is what somebody does in one go: taps of the nock point or of the rest, a half twist into one leg of a
yoke and out of the other, another pair of shims, half a twist in a cable.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from bowcore.accessories.at_the_nock import TEAR_DOUBT, tear_up_in
from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.nock_point import NockPoint
from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP, RestMove
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.steps import Steps
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.adjusters.yoke_leg import YokeLeg
from bowcore.deciding.weighing import PRESS_MINUTES
from bowcore.evidence.tears import CLEAN_IN
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate
from bowcore.measurement.lines import DRAWN_NOCK_TO_REST_IN, INCHES_A_YARD
from bowcore.stages.shooting_in.suspects import NOCK_POINT, TIMING_CABLE, Axis

MOST_TAPS = 4
"""At once; a tear that wants more says that something else is wrong."""
DRIFT = "drift"
"""Under which trials of the rest at walk-back and French are kept."""
MOST_CABLE_STEPS = 2
"""Half twists in a cable at once (our figure)."""
MOST_LEG_STEPS = 2
"""Half twists into one leg and out of the other, at once: one each, or a half each (common practice)."""
YOKE_TEAR_IN = 0.1
"""Half a twist into one leg and out of the other moves the tear by so much: our figure."""
SHIM_TEAR_IN = 0.009
"""A thousandth more on one side of the cam moves the tear by so much, a pair of a thin kit by about 3/16 in:
our figure."""
TEAR_PER_GAP = 1.5
"""A top cam that is an inch later at the stops throws the nock so many inches higher: by the path of the
nock in the twins of two-cam bows. That it throws it high is common practice, no published source."""
TIMING_DOUBT = 1.0
"""Of that, as a share: some bows answer the other way round (common practice)."""
TIMING_WORTH = 0.5
"""A press for timing that is inside its band has to take away so much of the tear, or leave it clean: our
figure."""
TAPPED: dict[str, type[Adjuster]] = {
    NOCK_POINT: NockPoint,
    REST_UP: RestMove,
    REST_OUT: RestMove,
}
READ_AGAIN_MINUTES = 4.0
"""After a press, before the next shot (common practice)."""


def pressed_minutes(kind: type[Adjuster]) -> float:
    """What a change takes in the press, with its gate and what is read again."""
    return PRESS_MINUTES + kind.minutes + READ_AGAIN_MINUTES


@dataclass(frozen=True)
class TriedStep:
    """Units of one lever alone, the tear before and after, and the doubt of their difference. [in]"""

    lever: str
    count: int
    before: float
    after: float
    sigma: float


@dataclass(frozen=True)
class Lever:
    """Something by which a tear is moved.

    Attributes
    ----------
    key : str
        Under which its trials are kept.
    unit : Steps
        Adjusters turned for one unit.
    axis : Axis
        The way in which it moves the tear.
    first : Rate
        What one unit does before this bow has shown it. [in]
    counts : sequence of int
        Units that may be turned at once, nothing left out but 0.
    minutes : float
        What it takes.
    blocked : str
        Why there are no more units, in a sentence; "" where nothing holds them back.
    worth : float
        Share of the tear that has to go, where it is not left clean.
    """

    key: str
    unit: Steps
    axis: Axis
    first: Rate
    counts: Sequence[int]
    minutes: float
    blocked: str = ""
    worth: float = 0.0

    def rate(self, trials: Iterable[TriedStep]) -> Rate:
        """What one unit does on this bow, from its trials. [in]"""
        shown = (
            ShownStep(one.count, one.after - one.before, one.sigma)
            for one in trials if one.lever == self.key
        )  # fmt: skip
        return learned_rate(self.first, shown)

    def surprised(self, trials: Iterable[TriedStep]) -> bool:
        """Whether this bow answers the other way round than was thought; a fact of this bow, kept."""
        known = self.rate(trials)
        return known.trials > 0 and known.mean * self.first.mean < 0

    def count_for(self, tear_in: float, rate: Rate) -> int:
        """Units that bring a tear nearest to nothing; 0 where none bring it nearer, or not near enough."""
        count = min((0, *self.counts), key=lambda n: (abs(tear_in + n * rate.mean), abs(n)))
        left = abs(tear_in + count * rate.mean)
        enough = left <= max((1 - self.worth) * abs(tear_in), CLEAN_IN) if self.worth else True
        return count if enough else 0

    def units_in(self, steps: Steps) -> int:
        """How many units some steps are; 0 where they are something else."""
        key, one = next(iter(self.unit.items()))
        count = steps.get(key, 0) // one
        return count if self.steps(count) == steps else 0

    def steps(self, count: int) -> Steps:
        """Adjusters turned for so many units."""
        return Steps({key: count * n for key, n in self.unit.items()})


def tap_lever(
    key: str,
    left_handed: bool = False,
    limits: tuple[int, int] = (-MOST_TAPS, MOST_TAPS),
    blocked: str = "",
) -> Lever:
    """Nock point or rest, moved by taps.

    A rest that goes away from the riser takes the point with it; the nock stays: from behind, the riser is to
    the right of the arrow on a right-handed bow, so that the nock's hole comes to lie farther right. (phys)

    Parameters
    ----------
    key : str
        Of the nock point, or of the rest up or sideways.
    left_handed : bool
        Whose riser is to the left.
    limits : pair of int
        The fewest and the most taps.
    blocked : str
        Why there are no more.
    """
    nock, rest = tear_up_in(REST_STEP_IN, 0.0), tear_up_in(0.0, REST_STEP_IN)
    side = -nock if left_handed else nock
    mean = {NOCK_POINT: nock, REST_UP: rest, REST_OUT: side}[key]
    counts = [n for n in range(-MOST_TAPS, MOST_TAPS + 1) if n and limits[0] <= n <= limits[1]]
    rate = Rate(mean, abs(mean) * TEAR_DOUBT)
    axis = Axis.SIDE if key == REST_OUT else Axis.UP
    return Lever(key, Steps({key: 1}), axis, rate, counts, TAPPED[key].minutes, blocked)


def drift_lever(
    left_handed: bool = False,
    limits: tuple[int, int] = (-MOST_TAPS, MOST_TAPS),
    blocked: str = "",
) -> Lever:
    """The rest sideways, for impacts that drift with the distance: it turns the arrow about the nock. (phys)

    Its rate is in inches for a yard. A tap takes the point away from the riser: to the left on a right-handed
    bow.

    Parameters
    ----------
    left_handed : bool
        Whose riser is to the left.
    limits : pair of int
        The fewest and the most taps.
    blocked : str
        Why there are no more.
    """
    turned = REST_STEP_IN / DRAWN_NOCK_TO_REST_IN * INCHES_A_YARD
    rate = Rate(turned if left_handed else -turned, turned * TEAR_DOUBT)
    lever = tap_lever(REST_OUT, left_handed, limits, blocked)
    return replace(lever, key=DRIFT, first=rate)


def tap_levers(left_handed: bool = False) -> tuple[Lever, ...]:
    """What every bow has."""
    return tuple(tap_lever(key, left_handed) for key in TAPPED)


def yoke_lever(key: str, left: str, right: str, counts: Sequence[int]) -> Lever:
    """One leg in, the other out by as much: a nock that goes left wants the left leg shorter.

    Common practice, no published source.

    Parameters
    ----------
    key : str
        Under which its trials are kept.
    left : str
        Adjuster of the left leg.
    right : str
        Of the right one.
    counts : sequence of int
        Half twists into the left leg and out of the right.
    """
    rate = Rate(YOKE_TEAR_IN, YOKE_TEAR_IN * TEAR_DOUBT)
    return Lever(
        key, Steps({left: 1, right: -1}), Axis.SIDE, rate, counts, pressed_minutes(YokeLeg)
    )


def shim_lever(key: str, adjuster: str, counts: Sequence[int], blocked: str = "") -> Lever:
    """Another pair of shims: the cam is pushed toward the tear (common practice).

    Parameters
    ----------
    key : str
        Under which its trials are kept.
    adjuster : str
        The pair at one axle; a step is a thousandth more right than left, which pushes the cam left.
    counts : sequence of int
        From the pair that is in to the others of the kit.
    blocked : str
        Why they stay as they are.
    """
    rate = Rate(SHIM_TEAR_IN, SHIM_TEAR_IN * TEAR_DOUBT)
    return Lever(key, Steps({adjuster: 1}), Axis.SIDE, rate, counts, pressed_minutes(Shim), blocked)


def timing_lever(
    cable: str, gap_per_step_in: float, counts: Sequence[int], blocked: str = ""
) -> Lever:
    """Half a twist in a cable, the nock kept level: it moves timing inside its band, and the tear with it.

    Parameters
    ----------
    cable : str
        Adjuster of the cable.
    gap_per_step_in : float
        What half a twist does to the gap at the stops; more is the top cam later. [in]
    counts : sequence of int
        Half twists that leave every number in its band.
    blocked : str
        Why there are no more.
    """
    mean = TEAR_PER_GAP * gap_per_step_in
    rate = Rate(mean, abs(mean) * TIMING_DOUBT)
    unit = Steps({cable: 1})
    return Lever(
        TIMING_CABLE,
        unit,
        Axis.UP,
        rate,
        counts,
        pressed_minutes(StringOrCable),
        blocked,
        TIMING_WORTH,
    )
