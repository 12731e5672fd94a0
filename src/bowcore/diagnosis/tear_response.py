"""What a step of an adjuster does to a tear: geometry and the trade's ratios, then this bow's trials."""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.diagnosis.suspects import Axis
from bowcore.fitting.at_the_nock import TEAR_DOUBT, tear_up_in
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate

MOST_TAPS = 4
"""At once; a tear that wants more says that something else is wrong."""


@dataclass(frozen=True)
class TriedStep:
    """Steps of one adjuster alone, the tear before and after, and the doubt of their difference. [in]"""

    adjuster: str
    steps: int
    before: float
    after: float
    sigma: float


def first_rate(adjuster: str, left_handed: bool = False) -> Rate:
    """What one tap does to the tear in the adjuster's own axis, before this bow has shown it. [in]

    A rest that goes away from the riser takes the point with it; the nock stays: from behind, the riser is to
    the right of the arrow on a right-handed bow, so that the nock's hole comes to lie farther right. (phys)
    """
    nock, rest = tear_up_in(REST_STEP_IN, 0.0), tear_up_in(0.0, REST_STEP_IN)
    side = -nock if left_handed else nock
    mean = {"nock_point": nock, REST_UP: rest, REST_OUT: side}[adjuster]
    return Rate(mean, abs(mean) * TEAR_DOUBT)


def rate_of(adjuster: str, trials: Iterable[TriedStep], left_handed: bool = False) -> Rate:
    """What one tap does on this bow, from its trials."""
    shown = (
        ShownStep(one.steps, one.after - one.before, one.sigma)
        for one in trials if one.adjuster == adjuster
    )  # fmt: skip
    return learned_rate(first_rate(adjuster, left_handed), shown)


def surprised(adjuster: str, trials: Iterable[TriedStep], left_handed: bool = False) -> bool:
    """Whether this bow answers the other way round than geometry says; a fact of this bow, kept."""
    known = rate_of(adjuster, trials, left_handed)
    return known.trials > 0 and known.mean * first_rate(adjuster, left_handed).mean < 0


def taps_for(tear_in: float, rate: Rate, limits: tuple[int, int] = (-MOST_TAPS, MOST_TAPS)) -> int:
    """Taps that bring a tear nearest to nothing, not more than a few at once."""
    if not rate.mean:
        return 0
    wanted = round(-tear_in / rate.mean)
    return max(limits[0], -MOST_TAPS, min(limits[1], MOST_TAPS, wanted))


AXIS_OF = {"nock_point": Axis.UP, REST_UP: Axis.UP, REST_OUT: Axis.SIDE}
