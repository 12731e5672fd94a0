"""What is believed of one bow: its true numbers and its response, learned together.

A Kalman filter on x = [true value of each quantity, response of each quantity to each adjuster].
A change of u steps moves the values by R u and adds process noise in proportion; a reading corrects
values and, through their covariance, the response. A reading far outside what is believed teaches
nothing until a second one agrees with it.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput
from bowcore.mechanics.tracks import Floats
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.gap_curve import GapCurves
from bowcore.response.matrix import Response

PROCESS_SHARE = 0.10  # of the predicted change: what the linear response leaves out
# Every change also adds a tool's own uncertainty: what was read before it counts for less after it.
GATE_SIGMAS = 5.0
SURPRISED = 2.0  # so many standard deviations off, the belief was too sure
UNKNOWN = 30.0  # standard deviation of a value nobody has read, in the quantity's own unit


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
    `unconfirmed` keeps the last absurd reading of each quantity, in case the next one agrees.
    """

    quantities: tuple[str, ...]
    adjusters: tuple[Adjuster, ...]
    mean: Floats
    covariance: Floats
    rests_on: str = "the book"
    changes_seen: int = 0
    unconfirmed: tuple[tuple[str, float], ...] = ()
    process_share: float = PROCESS_SHARE
    curves: GapCurves | None = None
    """How the stop gap bends, where it is known; the gap's response is then taken from there."""
    first_stop_effect: Mapping[str, float] = field(default_factory=dict)
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
            raise BadInput("A reading needs a number and an uncertainty above 0.", quantity)
        i = self._row(quantity)
        spread = float(np.sqrt(self.covariance[i, i] + sigma**2))
        expected = float(self.mean[i])
        before = dict(self.unconfirmed).get(quantity)
        confirmed = before is not None and abs(before - value) < GATE_SIGMAS * sigma
        absurd = abs(value - expected) > GATE_SIGMAS * spread and not confirmed
        innovation = Innovation(quantity, expected, spread, value, absurd)
        rest = tuple(pair for pair in self.unconfirmed if pair[0] != quantity)
        if absurd:
            return replace(self, unconfirmed=(*rest, (quantity, value))), innovation
        covariance = self._loosened(i, abs(value - expected) / (SURPRISED * spread))
        gain = covariance[:, i] / (covariance[i, i] + sigma**2)
        mean = self.mean + gain * (value - expected)
        after = covariance - np.outer(gain, covariance[i])
        return replace(self, mean=mean, covariance=symmetric(after), unconfirmed=rest), innovation

    def change(self, steps: Steps) -> "Belief":
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
        variance = (share * moved) ** 2 + (floor**2 if share else 0)
        noise[range(count), range(count)] = variance
        covariance = move @ self.covariance @ move.T + noise
        return replace(
            self,
            mean=move @ self.mean,
            covariance=symmetric(covariance),
            changes_seen=self.changes_seen + 1,
        )

    def shifted(self, by: Mapping[str, float]) -> "Belief":
        """Some values moved by what the response leaves out."""
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
        return replace(self, covariance=covariance, unconfirmed=())

    def with_row(self, quantity: str, mean: Floats, covariance: Floats) -> "Belief":
        """The response of one quantity replaced by what is known of it elsewhere."""
        count, width = len(self.quantities), len(self.adjusters)
        i = self._row(quantity)
        rows = slice(count + i * width, count + (i + 1) * width)
        known, widened = self.mean.copy(), self.covariance.copy()
        known[rows] = mean
        widened[rows, :] = widened[:, rows] = 0
        widened[rows, rows] = covariance
        return replace(self, mean=known, covariance=widened)

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
        scale = np.ones(len(self.mean))
        scale[[i, *range(count + i * width, count + (i + 1) * width)]] = surprise
        return self.covariance * np.outer(scale, scale)


def symmetric(matrix: Floats) -> Floats:
    """Symmetric to the last bit, so that rounding never makes a variance negative."""
    return np.asarray((matrix + matrix.T) / 2)
