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
MOST_UNDECIDED = 3
"""With so many takes the bench has spoken: they are believed, whatever was expected."""


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

    Returns
    -------
    Believed
        Takes that agree with each other, or a single one that agrees with what was expected.
    """
    if apart:
        return Believed(tuple(takes))
    near = AGREE_SIGMAS * 2**0.5 * precision.sigma
    groups = [tuple(t for t in takes if abs(t - one) <= near) for one in takes]
    largest = max(len(group) for group in groups)
    best = min(
        (group for group in groups if len(group) == largest),
        key=lambda group: abs(sum(group) / len(group) - expected),
    )
    if largest == 1 and len(takes) >= MOST_UNDECIDED:
        return _nearest_pair(takes)
    best = _without_one_alone(best, precision)
    odd = tuple(take for take in takes if take not in best)
    if largest == 1 and abs(best[0] - expected) > GATE_SIGMAS * spread:
        return Believed((), tuple(takes))
    return Believed(best, odd)


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
