"""Several takes of one quantity at one moment: which of them are believed."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.quantities.precision import Precision

GATE_SIGMAS = 4.5
"""One take further from what was expected teaches nothing until a second one agrees with it."""
AGREE_SIGMAS = 2.2
"""Two takes agree when they differ by less than so many standard deviations of a difference. Of 100 pairs
with nothing wrong two or three do not; with 3, half of the gaps that were off by 1/16 in passed unseen."""
ALONE_SIGMAS = 2.5
"""Of three and more, one that is further from the mean of the others is not believed."""
SLIP = 6.0
"""What leaving a take out costs, against half the square of how far the others are from what was expected, in
standard deviations: a slip in 50 takes, anywhere within some tolerances (our figure)."""
MOST_UNEXPECTED = 8.0
"""What was expected may be wrong itself, by a change that was written down wrongly: it weighs no more."""
DECIDED = 3.0
"""The takes to believe have to be better than others by so much: twenty to one. Else another take decides."""
MORE_TAKES = 2
"""With so many more than are usual the bench has spoken: what fits best is believed, expected or not."""


@dataclass(frozen=True)
class Believed:
    """The takes that are believed, and those that are not. None believed: take another."""

    takes: tuple[float, ...]
    odd: tuple[float, ...] = ()

    @property
    def mean(self) -> float:
        return sum(self.takes) / len(self.takes)


def believed(
    takes: Sequence[float],
    precision: Precision,
    expected: float,
    spread: float,
    apart: bool = False,
    usual: int = 1,
) -> Believed:
    """Which takes to believe.

    Parameters
    ----------
    takes : sequence of float, length >= 1
        Of one moment.
    precision : Precision
        Of one take.
    expected : float
        What one take should show.
    spread : float
        Its standard deviation.
    apart : bool
        The takes are not the same thing twice (the two faces of a cam): all are believed.
    usual : int
        How often the quantity is usually taken.

    Returns
    -------
    Believed
        Takes that agree with each other, or a single one that agrees with what was expected; none where
        another take has to decide.
    """
    if apart:
        return Believed(tuple(takes))
    near = AGREE_SIGMAS * 2**0.5 * precision.sigma
    groups = {tuple(t for t in takes if abs(t - one) <= near) for one in takes}
    costs = {group: _cost(group, takes, expected, spread) for group in groups}
    best = min(sorted(groups), key=lambda group: costs[group])
    others = [costs[one] for one in groups if not set(one) & set(best)]
    spoken = len(takes) >= usual + MORE_TAKES
    far = len(best) == 1 and abs(best[0] - expected) > GATE_SIGMAS * spread
    if spoken and far:
        return _nearest_pair(takes)
    if not spoken and (far or any(cost < costs[best] + DECIDED for cost in others)):
        return Believed((), tuple(takes))
    best = _without_one_alone(best, precision)
    return Believed(best, tuple(take for take in takes if take not in best))


def _cost(group: Sequence[float], takes: Sequence[float], expected: float, spread: float) -> float:
    """How little these takes are what was expected, and how many would have to be slips."""
    off = (sum(group) / len(group) - expected) / spread
    return min(off**2 / 2, MOST_UNEXPECTED) + SLIP * (len(takes) - len(group))


def _without_one_alone(takes: tuple[float, ...], precision: Precision) -> tuple[float, ...]:
    """The takes without the one that is furthest from the mean of the others, if that is too far."""
    rest = len(takes) - 1
    if rest < 2:
        return takes
    total = sum(takes)
    off, at = max((abs(t - (total - t) / rest), at) for at, t in enumerate(takes))
    if off <= ALONE_SIGMAS * precision.sigma * (1 + 1 / rest) ** 0.5:
        return takes
    return takes[:at] + takes[at + 1 :]


def _nearest_pair(takes: Sequence[float]) -> Believed:
    """Of takes that all disagree, the two nearest to each other."""
    order = sorted(takes)
    at = min(range(len(order) - 1), key=lambda i: order[i + 1] - order[i])
    return Believed((order[at], order[at + 1]), tuple(order[:at] + order[at + 2 :]))
