"""What finished bows of one model say of the next one."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.learning.belief import GATE_SIGMAS, Belief, symmetric
from bowcore.mechanics.tracks import Floats

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
    count = len(prior.quantities)
    start, spread = prior.mean[count:], prior.covariance[count:, count:]
    open_to = np.flatnonzero(np.diag(spread) > 0)  # what bows of the model never do stays 0
    scale = np.sqrt(np.diag(spread)[open_to])
    base = _inverse(spread, open_to, scale)
    middle = start[open_to] / scale
    information, weighted, used, left_out = base.copy(), base @ middle, 0, []
    for i, job in enumerate(finished):
        mean = job.mean[count:][open_to] / scale
        off = mean - middle
        if float(off @ base @ off) > GATE_SIGMAS**2 * max(len(start) / 4, 1):
            left_out.append(i)
            continue
        sharp = _inverse(job.covariance[count:, count:], open_to, scale)
        information += share * (sharp - base)
        weighted += share * (sharp @ mean - base @ middle)
        used += 1
    learned = np.linalg.pinv(information, rcond=_ROUNDING, hermitian=True)
    covariance, mean = prior.covariance.copy(), prior.mean.copy()
    if used:
        rows = np.ix_(count + open_to, count + open_to)
        own = learned * np.outer(scale, scale)
        covariance[rows] = symmetric(0.5 * covariance[rows] + 0.5 * own)
        mean[count + open_to] = learned @ weighted * scale
    basis = f"the book and {used} other bow{'s' if used != 1 else ''} of the model"
    basis = basis if used else prior.rests_on
    return Pooled(
        replace(prior, mean=mean, covariance=covariance, rests_on=basis), used, tuple(left_out)
    )


def _inverse(covariance: Floats, rows: NDArray[np.int64], scale: Floats) -> Floats:
    """Information of some rows in units of their own sigma: a spacer's and a bolt's answers differ
    by many powers of ten, and an inverse of the bare numbers would be rounding."""
    own = covariance[np.ix_(rows, rows)] / np.outer(scale, scale)
    return np.asarray(np.linalg.pinv(own, rcond=_ROUNDING, hermitian=True))
