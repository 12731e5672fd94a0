"""What finished bows of one model say of the next one."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.learning.belief import Belief, symmetric
from bowcore.mechanics.tracks import Floats

TOO_FAR = 5.0
"""Standard deviations beyond which a job is taken to be another kind of bow, or a blunder."""
_ROUNDING = 1e-7  # of an inverse in units of its own sigma; what is below it is rounding


@dataclass(frozen=True)
class Pooled:
    """A model's prior after finished jobs: the belief to start the next bow from, and who taught.

    `left_out` are the positions of jobs too far from all others to be believed.
    """

    belief: Belief
    jobs: int
    left_out: tuple[int, ...]


def pool(prior: Belief, finished: Sequence[Belief], share: float = 0.5) -> Pooled:
    """What the shop's finished bows of one model say of the next one.

    Each job adds the information its readings added over the prior, discounted by `share`, because
    it was another bow. Half of the prior's own spread between bows always stays.

    Parameters
    ----------
    prior : Belief
        The model's prior.
    finished : sequence of Belief
        One per job, each learned from this same prior.
    share : float
        How much of what one bow shows holds for the next, 0 to 1.

    Returns
    -------
    Pooled
        The new prior, how many jobs are in it, which were left out as absurd.
    """
    start, spread = prior.response_part()
    open_to = np.flatnonzero(np.diag(spread) > 0)  # what bows of the model never do stays 0
    scale = np.sqrt(np.diag(spread)[open_to])
    base = _inverse(spread, open_to, scale)
    middle = start[open_to] / scale
    information, weighted, used, left_out = base.copy(), base @ middle, 0, []
    likely = np.log(prior.weights)
    for i, job in enumerate(finished):
        learned, unsure = job.response_part()
        mean = learned[open_to] / scale
        off = mean - middle
        if float(off @ base @ off) > TOO_FAR**2 * max(len(start) / 4, 1):
            left_out.append(i)
            continue
        sharp = _inverse(unsure, open_to, scale)
        information += share * (sharp - base)
        weighted += share * (sharp @ mean - base @ middle)
        likely = likely + share * (np.log(job.weights) - np.log(prior.weights))
        used += 1
    if not used:
        return Pooled(prior, 0, tuple(left_out))
    pooled = np.linalg.pinv(information, rcond=_ROUNDING, hermitian=True)
    mean, covariance = start.copy(), spread.copy()
    rows = np.ix_(open_to, open_to)
    covariance[rows] = symmetric(0.5 * spread[rows] + 0.5 * pooled * np.outer(scale, scale))
    mean[open_to] = pooled @ weighted * scale
    weights = np.exp(likely - likely.max())
    taught = prior.with_response(mean, covariance, weights / weights.sum())
    basis = f"the book and {used} other bow{'s' if used != 1 else ''} of the model"
    return Pooled(replace(taught, rests_on=basis), used, tuple(left_out))


def _inverse(covariance: Floats, rows: NDArray[np.int64], scale: Floats) -> Floats:
    """Information of some rows in units of their own sigma: a spacer's and a bolt's answers differ
    by many powers of ten, and an inverse of the bare numbers would be rounding."""
    own = covariance[np.ix_(rows, rows)] / np.outer(scale, scale)
    return np.asarray(np.linalg.pinv(own, rcond=_ROUNDING, hermitian=True))
