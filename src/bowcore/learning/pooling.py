"""What finished bows of one model say of the next one.

Two levels: models differ from the book's guess, and bows of one model differ from each other. A model's
cams are machined alike, its threads are not; how much of the prior's spread lies between bows of the
model is learned from the bows that are finished. See docs/derivations/learning.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bowcore.bow.tracks import Floats
from bowcore.learning.belief import Belief, symmetric

OWN_SHARES = (0.1, 0.25, 0.5, 0.9)
"""Shares of the prior's variance that may lie between bows of one model; each is as likely at first."""
CURVE_SHARE = 0.5
"""Of the evidence for one way in which the gap bends: no plausible bow is quite the model's."""
TOO_FAR = 5.0
"""So many times further from the prior than what it was taught usually takes a bow, a job is taken to be
another kind of bow, or a blunder."""
_ROUNDING = 1e-7
"""Of the prior's variance in units of its own sigmas: what is below it is rounding."""


@dataclass(frozen=True)
class Pooled:
    """A model's prior after finished jobs: the belief to start the next bow from, and who taught.

    `left_out` are the positions of jobs too far from all others to be believed.
    """

    belief: Belief
    jobs: int
    left_out: tuple[int, ...]


def pool(prior: Belief, finished: Sequence[Belief]) -> Pooled:
    """What the shop's finished bows of one model say of the next one.

    Parameters
    ----------
    prior : Belief
        The model's prior.
    finished : sequence of Belief
        One per job, each learned from this same prior.

    Returns
    -------
    Pooled
        The new prior, how many jobs are in it, which were left out as absurd.
    """
    spread = ModelSpread(*prior.response_part())
    lessons = [spread.lesson(*job.response_part()) for job in finished]
    absurd = tuple(i for i, one in enumerate(lessons) if one.absurd)
    used = [i for i in range(len(finished)) if i not in absurd]
    if not used:
        return Pooled(prior, 0, absurd)
    mean, covariance = spread.next_bow([lessons[i] for i in used])
    likely = np.log(prior.weights)
    for i in used:
        likely = likely + CURVE_SHARE * (np.log(finished[i].weights) - np.log(prior.weights))
    weights = np.exp(likely - likely.max())
    taught = prior.with_response(mean, covariance, weights / weights.sum())
    count = len(used)
    basis = f"the book and {count} other bow{'s' if count != 1 else ''} of the model"
    return Pooled(replace(taught, rests_on=basis), count, absurd)


@dataclass(frozen=True)
class BowLesson:
    """What one bow's readings say of its response, where the prior has mean 0 and variance 1.

    `axes` (n, n) are the directions it speaks of, one a column; `information` (n,) how much it says along
    each; `pull` (n,) information times where it puts it; `absurd` that it lies too far from the prior.
    """

    axes: Floats
    information: Floats
    pull: Floats
    absurd: bool


@dataclass(frozen=True)
class ModelSpread:
    """Mean (n,) and covariance (n, n) of a model's response before any of its bows was seen."""

    mean: Floats
    covariance: Floats

    @cached_property
    def _sigma(self) -> Floats:
        return np.asarray(np.sqrt(np.diag(self.covariance)))

    @cached_property
    def _scale(self) -> Floats:
        """Sigmas, 1 for what bows never do: without it a spacer's answer is lost beside a bolt's."""
        return np.where(self._sigma > 0, self._sigma, 1.0)

    @cached_property
    def _root(self) -> Floats:
        """A root of the covariance, (n, m): what the prior is unsure of, in m independent directions."""
        values, axes = np.linalg.eigh(self.covariance / np.outer(self._scale, self._scale))
        kept = values > _ROUNDING * values.max()
        return np.asarray(self._sigma[:, None] * axes[:, kept] * np.sqrt(values[kept]))

    @cached_property
    def _unroot(self) -> Floats:
        """Its inverse where it has one, (m, n)."""
        return np.asarray(np.linalg.pinv(self._root / self._scale[:, None]) / self._scale)

    def lesson(self, mean: Floats, covariance: Floats) -> BowLesson:
        """What a bow says that ended with this response, having begun with the prior.

        Where it ended less sure than it began it says nothing.
        """
        off = self._unroot @ (mean - self.mean)
        left, axes = np.linalg.eigh(symmetric(self._unroot @ covariance @ self._unroot.T))
        surer = np.clip(left, _ROUNDING, 1.0)
        information = 1 / surer - 1
        pull = np.where(information > 0, (axes.T @ off) / surer, 0.0)
        usual = np.sqrt(max(float((1 - surer).sum()), 1.0))
        return BowLesson(axes, information, pull, bool(off @ off > (TOO_FAR * usual) ** 2))

    def next_bow(
        self, lessons: Sequence[BowLesson], own_shares: Sequence[float] = OWN_SHARES
    ) -> tuple[Floats, Floats]:
        """Mean (n,) and covariance (n, n) of the next bow's response, over all shares of the prior's
        variance that may lie between bows of the model."""
        found = [_next_bow(lessons, own) for own in own_shares]
        evidence = np.array([one.evidence for one in found])
        weights = np.exp(evidence - evidence.max())
        weights /= weights.sum()
        means = np.stack([one.mean for one in found])
        middle = weights @ means
        covariance = sum(
            weight * (one.covariance + np.outer(one.mean - middle, one.mean - middle))
            for weight, one in zip(weights, found, strict=True)
        )
        mean = self.mean + self._root @ middle
        return mean, symmetric(self._root @ covariance @ self._root.T)


@dataclass(frozen=True)
class _NextBow:
    """The next bow in units of the prior, and the log of how likely the lessons were."""

    mean: Floats
    covariance: Floats
    evidence: float


def _next_bow(lessons: Sequence[BowLesson], own: float) -> _NextBow:
    """The model's response from what its bows say, then another bow of it.

    A bow differs from its model by variance `own`, the model from the book by the rest. Each lesson is
    information on its own bow; on the model it is worth I / (1 + own I).
    """
    size = len(lessons[0].axes)
    sharp, pull, evidence = np.zeros((size, size)), np.zeros(size), 0.0
    for one in lessons:
        worth = 1 / (1 + own * one.information)
        sharp += (one.axes * (one.information * worth)) @ one.axes.T
        pull += one.axes @ (one.pull * worth)
        evidence += 0.5 * float((np.log(worth) + own * worth * one.pull**2).sum())
    precision = np.eye(size) + (1 - own) * sharp
    unsure = np.asarray((1 - own) * np.linalg.inv(precision))
    mean = unsure @ pull
    evidence += 0.5 * (float(pull @ mean) - float(np.linalg.slogdet(precision)[1]))
    return _NextBow(mean, symmetric(unsure) + own * np.eye(size), evidence)
