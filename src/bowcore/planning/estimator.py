"""What is believed of one bow: its true numbers and its response, learned together.

A Kalman filter on x = [true value of each quantity, response of each quantity to each adjuster].
A change of u steps moves the values by R u and adds process noise in proportion; a reading corrects
values and, through their covariance, the response. A reading far outside what is believed teaches
nothing until a second one agrees with it.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import BadInput
from bowcore.mechanics.gap_curve import GapCurves
from bowcore.mechanics.response import Adjuster, Response, adjuster_of
from bowcore.mechanics.tracks import Floats
from bowcore.quantities.catalogue import QUANTITIES

PROCESS_SHARE = 0.10  # of the predicted change: what the linear response leaves out
# Every change also adds a tool's own uncertainty: what was read before it counts for less after it.
GATE_SIGMAS = 5.0
SURPRISED = 2.0  # so many standard deviations off, the belief was too sure
_ROUNDING = 1e-7  # of an inverse in units of its own doubt; what is below it is nothing
UNKNOWN = 30.0  # standard deviation of a value nobody has read, in the quantity's own unit


KINK_REACH_IN = {"holding_weight": 1 / 8}
"""So far from stops that touch together a reading falls off; then the wall and the valley even out."""


def closer_in(name: str, before_in: float, after_in: float) -> float:
    """How much nearer together the stops are afterwards, as far as one reading feels it. [in]"""
    reach = KINK_REACH_IN.get(name, float("inf"))
    return min(abs(before_in), reach) - min(abs(after_in), reach)


@dataclass(frozen=True)
class Innovation:
    """What a reading said against what was expected. `absurd` readings teach nothing."""

    quantity: str
    expected: float
    sigma: float
    value: float
    absurd: bool

    @property
    def off_sigmas(self) -> float:
        return abs(self.value - self.expected) / self.sigma


@dataclass(frozen=True)
class Belief:
    """Mean and covariance of the joint state. Frozen: every step gives a new belief.

    The state holds the values first, then the response row by row (quantity by quantity).
    `doubted` keeps the last absurd reading of each quantity, in case the next one agrees.
    """

    quantities: tuple[str, ...]
    adjusters: tuple[Adjuster, ...]
    mean: Floats
    covariance: Floats
    rests_on: str = "the book"
    changes_seen: int = 0
    doubted: tuple[tuple[str, float], ...] = ()
    process_share: float = PROCESS_SHARE
    curves: GapCurves | None = None
    """How the stop gap bends, where it is known; the gap's response is then taken from there."""
    kinks: Mapping[str, float] = field(default_factory=dict)
    """What is read at the first stop falls off by so much for each inch of gap, to either side."""

    def observe(self, quantity: str, value: float, sigma: float) -> tuple["Belief", Innovation]:
        """Take in one reading.

        Parameters
        ----------
        quantity : str
            What was read.
        value : float
            The reading, in the quantity's unit.
        sigma : float
            Its standard uncertainty, above 0.

        Returns
        -------
        tuple of Belief and Innovation
            The belief afterwards; unchanged in mean and covariance if the reading was absurd.
        """
        if not np.isfinite(value) or not np.isfinite(sigma) or sigma <= 0:
            raise BadInput("A reading needs a number and an uncertainty above nought.", quantity)
        i = self._row(quantity)
        spread = float(np.sqrt(self.covariance[i, i] + sigma**2))
        expected = float(self.mean[i])
        before = dict(self.doubted).get(quantity)
        confirmed = before is not None and abs(before - value) < GATE_SIGMAS * sigma
        absurd = abs(value - expected) > GATE_SIGMAS * spread and not confirmed
        told = Innovation(quantity, expected, spread, value, absurd)
        rest = tuple(pair for pair in self.doubted if pair[0] != quantity)
        if absurd:
            return replace(self, doubted=(*rest, (quantity, value))), told
        covariance = self._loosened(i, abs(value - expected) / (SURPRISED * spread))
        gain = covariance[:, i] / (covariance[i, i] + sigma**2)
        mean = self.mean + gain * (value - expected)
        after = covariance - np.outer(gain, covariance[i])
        return replace(self, mean=mean, covariance=_even(after), doubted=rest), told

    def change(self, steps: Mapping[str, int]) -> "Belief":
        """After so many steps of each adjuster."""
        turned = np.array([float(steps.get(a.key, 0)) for a in self.adjusters])
        unknown = set(steps) - {a.key for a in self.adjusters}
        if unknown:
            known = ", ".join(a.key for a in self.adjusters)
            raise BadInput(f"There is no adjuster '{min(unknown)}'.", "adjuster", known)
        if not turned.any():
            return self
        count, width = len(self.quantities), len(self.adjusters)
        move = np.eye(len(self.mean))
        for q in range(count):
            move[q, count + q * width : count + (q + 1) * width] = turned
        moved = self._response_mean() @ turned
        noise = np.zeros_like(self.covariance)
        floor = np.array([QUANTITIES[name].tool.sigma for name in self.quantities])
        share = self.process_share
        noise[range(count), range(count)] = (share * moved) ** 2 + (
            floor if share else 0 * floor
        ) ** 2
        covariance = move @ self.covariance @ move.T + noise
        return replace(self, mean=move @ self.mean, covariance=_even(covariance),
                       changes_seen=self.changes_seen + 1)  # fmt: skip

    def shifted(self, by: Mapping[str, float]) -> "Belief":
        """Some values moved by what no response tells."""
        mean = self.mean.copy()
        for name, change in by.items():
            mean[self._row(name)] += change
        return replace(self, mean=mean)

    def forget_values(self, names: Collection[str] | None = None) -> "Belief":
        """These numbers, or all, are open again, as after a part was replaced; the response is still
        known."""
        covariance = self.covariance.copy()
        rows = [i for i, n in enumerate(self.quantities) if names is None or n in names]
        covariance[rows, :] = 0
        covariance[:, rows] = 0
        covariance[rows, rows] = UNKNOWN**2
        return replace(self, covariance=covariance, doubted=())

    def with_row(self, quantity: str, mean: Floats, covariance: Floats) -> "Belief":
        """The response of one quantity replaced by what is known of it elsewhere."""
        count, width = len(self.quantities), len(self.adjusters)
        i = self._row(quantity)
        rows = slice(count + i * width, count + (i + 1) * width)
        known, wide = self.mean.copy(), self.covariance.copy()
        known[rows] = mean
        wide[rows, :] = wide[:, rows] = 0
        wide[rows, rows] = covariance
        return replace(self, mean=known, covariance=wide)

    def readings(self) -> dict[str, tuple[float, float]]:
        """Best estimate and standard uncertainty of every quantity that has been read."""
        found = {}
        for i, name in enumerate(self.quantities):
            sigma = float(np.sqrt(self.covariance[i, i]))
            if sigma < UNKNOWN / 2:
                found[name] = (float(self.mean[i]), sigma)
        return found

    def response(self) -> Response:
        """What is believed of the response, with its uncertainty."""
        count, width = len(self.quantities), len(self.adjusters)
        variance = np.diag(self.covariance)[count:].reshape(count, width)
        return Response(
            self.quantities, self.adjusters, self._response_mean(), np.sqrt(variance), self.basis()
        )

    def blocks(self) -> Floats:
        """Covariance of [value, response to each adjuster] per quantity, (q, 1 + a, 1 + a)."""
        count, width = len(self.quantities), len(self.adjusters)
        picks = [[q, *range(count + q * width, count + (q + 1) * width)] for q in range(count)]
        return np.stack([self.covariance[np.ix_(pick, pick)] for pick in picks])

    def basis(self) -> str:
        """What it rests on, in words."""
        if not self.changes_seen:
            return self.rests_on
        times = "one change" if self.changes_seen == 1 else f"{self.changes_seen} changes"
        return f"{self.rests_on} and {times} of this bow"

    def _response_mean(self) -> Floats:
        count, width = len(self.quantities), len(self.adjusters)
        return self.mean[count:].reshape(count, width)

    def _row(self, quantity: str) -> int:
        if quantity not in self.quantities:
            raise BadInput(
                f"'{quantity}' is not estimated.", "quantity", ", ".join(self.quantities)
            )
        return self.quantities.index(quantity)

    def _loosened(self, i: int, surprise: float) -> Floats:
        """A reading far from what was believed means that the belief was too sure of this quantity.

        Its value and its response are made as unsure as the surprise asks for; the reading then
        teaches both. Without surprise nothing changes.
        """
        if surprise <= 1:
            return self.covariance
        count, width = len(self.quantities), len(self.adjusters)
        wider = np.ones(len(self.mean))
        wider[[i, *range(count + i * width, count + (i + 1) * width)]] = surprise
        return self.covariance * np.outer(wider, wider)


def belief_to_json(belief: Belief) -> dict[str, Any]:
    """A prior as plain numbers, to be kept and read back."""
    return {
        "quantities": list(belief.quantities),
        "adjusters": [asdict(adjuster) for adjuster in belief.adjusters],
        "mean": belief.mean.tolist(),
        "covariance": belief.covariance.tolist(),
        "rests_on": belief.rests_on,
        "process_share": belief.process_share,
        "kinks": dict(belief.kinks),
        "gap_curves": belief.curves and {
            "shorter_in": belief.curves.shorter_in.tolist(), "gap_in": belief.curves.gap_in.tolist(),
        },
    }  # fmt: skip


def belief_from_json(data: dict[str, Any]) -> Belief:
    """The prior that `belief_to_json` wrote.

    Raises
    ------
    BadInput
        The data are not a belief.
    """
    try:
        kept = data["gap_curves"]
        curves = kept and GapCurves(np.array(kept["shorter_in"]), np.array(kept["gap_in"]))
        return Belief(
            tuple(data["quantities"]), tuple(adjuster_of(row) for row in data["adjusters"]),
            np.array(data["mean"]), np.array(data["covariance"]), data["rests_on"],
            process_share=data["process_share"], curves=curves, kinks=data["kinks"],
        )  # fmt: skip
    except (KeyError, TypeError, ValueError) as error:
        raise BadInput(f"What was stored is no belief: {error}.", "belief") from None


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
    start, wide = prior.mean[count:], prior.covariance[count:, count:]
    open_to = np.flatnonzero(np.diag(wide) > 0)  # what no bow of the model does stays nought
    scale = np.sqrt(np.diag(wide)[open_to])
    base = _inverse(wide, open_to, scale)
    middle = start[open_to] / scale
    information, pull, used, left = base.copy(), base @ middle, 0, []
    for i, job in enumerate(finished):
        mean = job.mean[count:][open_to] / scale
        off = mean - middle
        if float(off @ base @ off) > GATE_SIGMAS**2 * max(len(start) / 4, 1):
            left.append(i)
            continue
        sharp = _inverse(job.covariance[count:, count:], open_to, scale)
        information += share * (sharp - base)
        pull += share * (sharp @ mean - base @ middle)
        used += 1
    learned = np.linalg.pinv(information, rcond=_ROUNDING, hermitian=True)
    covariance, mean = prior.covariance.copy(), prior.mean.copy()
    if used:
        rows = np.ix_(count + open_to, count + open_to)
        own = learned * np.outer(scale, scale)
        covariance[rows] = _even(0.5 * covariance[rows] + 0.5 * own)
        mean[count + open_to] = learned @ pull * scale
    words = f"the book and {used} other bow{'s' if used != 1 else ''} of the model"
    said = words if used else prior.rests_on
    return Pooled(
        replace(prior, mean=mean, covariance=covariance, rests_on=said), used, tuple(left)
    )


def _inverse(covariance: Floats, rows: NDArray[np.int64], scale: Floats) -> Floats:
    """Information of some rows in units of their own doubt: a spacer's and a bolt's answers differ
    by many powers of ten, and an inverse of the bare numbers would be rounding."""
    own = covariance[np.ix_(rows, rows)] / np.outer(scale, scale)
    return np.asarray(np.linalg.pinv(own, rcond=_ROUNDING, hermitian=True))


def _even(matrix: Floats) -> Floats:
    """Symmetric to the last bit, so that rounding never makes a variance negative."""
    return np.asarray((matrix + matrix.T) / 2)
