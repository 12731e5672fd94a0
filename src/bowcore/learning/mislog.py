"""Whether a change was written down as it was made: the readings after it may say otherwise."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.registry import adjuster_in
from bowcore.adjusters.steps import Steps
from bowcore.learning.belief import Belief

ASK_FROM = 3.0
"""How much better another entry must explain the readings, as the logarithm of a likelihood ratio:
people write down what they did far more often than not."""
LEAST_READ = 3
"""So many numbers must have been read again: one alone is a reading gone wrong."""
ReadAfter = tuple[str, float, float]
"""Quantity, value and standard uncertainty."""


@dataclass(frozen=True)
class Mislog:
    """A change that may have been another one: as logged, and as the bow moved."""

    logged: Steps
    moved_as: Steps
    better_by: float


def mislog(
    before: Belief, steps: Steps, spent: Mapping[str, int], reads: Sequence[ReadAfter]
) -> Mislog | None:
    """The other change that explains the readings far better than the one logged; None if none does.

    Parameters
    ----------
    before : Belief
        Before the change.
    steps : Steps
        As logged.
    spent : mapping of str to int
        Steps in each adjuster before it.
    reads : sequence of (str, float, float)
        Quantity, value and standard uncertainty of what was read after it.
    """
    if len(reads) < LEAST_READ:
        return None
    as_logged = _explains(before, steps, spent, reads)
    others = {other: _explains(before, other, spent, reads) for other in _others(before, steps)}
    if not others:
        return None
    best = max(others, key=lambda other: others[other])
    better = others[best] - as_logged
    return Mislog(steps, best, better) if better > ASK_FROM else None


def _others(before: Belief, steps: Steps) -> Iterator[Steps]:
    """What people write down by mistake: half a twist more or less, the other way, the other part."""
    twisted = [one for one in before.adjusters if one.twisted and steps.get(one.key)]
    for one in twisted:
        count = steps[one.key]
        for other in (count - 1, count + 1, -count):
            yield Steps({**steps, one.key: other})
        for part in before.adjusters:
            if _mistaken_for(one, part) and not steps.get(part.key):
                yield Steps({**steps, one.key: 0, part.key: count})


def _mistaken_for(one: Adjuster, other: Adjuster) -> bool:
    return other.key != one.key and other.kind == one.kind and other.change is one.change


def _explains(
    before: Belief, steps: Steps, spent: Mapping[str, int], reads: Sequence[ReadAfter]
) -> float:
    """Logarithm of how likely the readings are after these steps."""
    worth = {
        key: adjuster_in(before.adjusters, key).worth(spent.get(key, 0), count)
        for key, count in steps.items()
    }
    after = before.change(worth)
    means, covariances = after.values()
    rows = [after.quantities.index(name) for name, _, _ in reads]
    evidence = np.log(after.weights)
    for bow in range(len(means)):
        read, noise, slope = zip(*(after.carried(bow, *one) for one in reads), strict=True)
        spread = covariances[bow][np.ix_(rows, rows)] + np.diag(np.square(noise))
        off = np.array(read) - means[bow, rows]
        evidence[bow] -= 0.5 * (np.linalg.slogdet(spread)[1] + off @ np.linalg.solve(spread, off))
        evidence[bow] -= np.log(np.abs(slope)).sum()
    return float(np.logaddexp.reduce(evidence))
