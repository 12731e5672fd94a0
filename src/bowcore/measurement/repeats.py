"""Several takes of one reading: a robust value, its spread, and which takes are outliers."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite, sqrt
from statistics import median

from bowcore.errors import BadInput
from bowcore.quantities.precision import Precision

MAD_TO_SIGMA = 1.4826  # 1 / Phi^-1(3/4): median absolute deviation to a normal's sigma
OUTLIER_SIGMAS = 3.5  # Iglewicz and Hoaglin, How to Detect and Handle Outliers, 1993 (from memory)


@dataclass(frozen=True)
class RepeatSummary:
    """What several takes say together; values in the unit of the takes.

    `sigma` is the standard uncertainty of `value`; `outliers` holds the positions of takes that are far from
    the others: flagged and kept on record.
    """

    value: float
    spread: float
    sigma: float
    takes: int
    outliers: tuple[int, ...] = ()


def summarise(takes: Sequence[float], precision: Precision) -> RepeatSummary:
    """Robust mean of repeated takes.

    The mean of the takes that are not outliers by the modified z-score; a take is an outlier when it is
    further from the median than 3.5 robust sigmas, where sigma is never believed to be smaller
    than a single reading's own.

    Parameters
    ----------
    takes : sequence of float, length >= 1
        In one unit, in the order taken.
    precision : Precision
        Of a single reading, same unit.

    Returns
    -------
    RepeatSummary
        Value, spread (greatest less least of all takes), uncertainty, outliers.

    Raises
    ------
    BadInput
        No takes, or one that is not a number.
    """
    if not takes or not all(isfinite(take) for take in takes):
        raise BadInput("A reading needs at least one take, each a number.", "takes")
    middle = median(takes)
    scale = max(MAD_TO_SIGMA * median(abs(take - middle) for take in takes), precision.sigma)
    outliers = tuple(
        i for i, take in enumerate(takes) if abs(take - middle) > OUTLIER_SIGMAS * scale
    )
    kept = [take for i, take in enumerate(takes) if i not in outliers]
    value = sum(kept) / len(kept)
    spread = max(takes) - min(takes)
    return RepeatSummary(value, spread, _uncertainty(kept, value, precision), len(takes), outliers)


def smaller_than_scatter(before: RepeatSummary, after: RepeatSummary) -> bool:
    """Whether a change is too small to be distinguished from the readings' own scatter: it proves nothing.

    Parameters
    ----------
    before : RepeatSummary
        The quantity before the change.
    after : RepeatSummary
        And after it.

    Returns
    -------
    bool
        True when the difference is under two standard uncertainties of itself.
    """
    return abs(after.value - before.value) < 2 * sqrt(before.sigma**2 + after.sigma**2)


def _uncertainty(kept: Sequence[float], value: float, precision: Precision) -> float:
    """The usual scatter until there are enough takes to speak for themselves, then the larger."""
    n = len(kept)
    if n < 3:
        return precision.of_mean(n)
    observed = sqrt(sum((take - value) ** 2 for take in kept) / (n - 1))
    return Precision(max(observed, precision.scatter), precision.resolution).of_mean(n)
