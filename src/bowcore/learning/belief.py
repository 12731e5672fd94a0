"""What is believed of one bow: its true numbers and its response, learned together.

A Kalman filter on x = [true value of each quantity, response of each quantity to each adjuster,
growth still in each new part]. A change of u steps moves the values by R u; a reading corrects the
values and, through their covariance, the response. What one part's half twist is worth is shared by
all numbers that the part moves, so a weight teaches something about the timing.

The stop gap does not answer in a straight line, and how it bends differs between bows. It is
therefore carried as the length of the timing cable that gives it, along the curves of several
plausible bows; every such bow has a filter of its own, and counts for as much as it explained what
was read. See docs/derivations/learning.md.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import Adjuster
from bowcore.bow.tracks import Floats
from bowcore.errors import BadInput
from bowcore.learning.first_stop_effect import closer_in
from bowcore.learning.gap_bend import GapBend, bend_of
from bowcore.learning.settling import GROWTH_IN, GROWTH_SIGMA_IN, share_left
from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.gap_curve import GapCurves
from bowcore.response.matrix import Response

GAP = "stop_gap"
PROCESS_SHARE = 0.05
"""Of what each part moves: what the straight response and one efficiency of a part leave out."""
GAP_SHARE = 0.06
"""The same for the timing cable's length: a bow's curve is not quite one of the plausible ones."""
SEATING_SHARE = 0.2
"""A change adds this share of a reading's own uncertainty: parts seat a little differently."""
SEATING_IN = 0.003
"""And this much to the length of the timing cable. [in]"""
SURPRISED = 2.0
"""So many standard deviations off, the belief was too sure."""
MOST_SURPRISED = 3.0
"""The most by which one reading makes a belief less sure."""
UNKNOWN = 30.0  # standard deviation of a value nobody has read, in the quantity's own unit
LENGTH_OFF_IN = 0.2
"""How far the length of a new part may be off before anything was read. [in]"""
LEAST_WEIGHT = 0.02
"""All plausible bows together keep at least this share: the true one may not be among them."""
LEAST_ANSWER, MOST_ANSWER = 0.4, 2.5
"""Shares of the book's answer between which the timing of any bow answers."""
_TOUCH_IN = 0.01


@dataclass(frozen=True)
class Innovation:
    """What a reading said against what was expected.

    `disbelieved` readings taught nothing: the next ones decide.
    """

    quantity: str
    expected: float
    sigma: float
    value: float
    disbelieved: bool = False

    @property
    def off_sigmas(self) -> float:
        return abs(self.value - self.expected) / self.sigma


@dataclass(frozen=True)
class Belief:
    """Means, covariances and weights of the plausible bows. Frozen: every step gives a new belief.

    Attributes
    ----------
    quantities, adjusters : tuple
        Names of the values, and what may be turned.
    mean : array, shape (k, d)
        Values first, then the response row by row, then the growth left in each part. The stop gap's
        own value and row are in inches of timing cable where `curves` are known.
    covariance : array, shape (k, d, d)
        Of the same.
    weights : array, shape (k,)
        How much each plausible bow counts; they sum to 1.
    rests_on : str
        Where the response comes from, in words.
    changes_seen : int
        Changes of this bow so far.
    process_share : float
        Of what each part moves: what the response leaves out.
    curves : GapCurves, optional
        How the stop gap bends, a row for each plausible bow.
    first_stop_effect : mapping of str to float
        What is read at the first stop falls off by so much for each inch of gap, to either side.
    seen : frozenset of str
        What has been read since it was opened.
    draws : mapping of str to float
        Draws on each new part since it was fitted, by its role.
    timing : array, shape (a,), optional
        Timing cable for a step of each adjuster by the book: no bow answers with another sign, or many
        times as much. [in]
    """

    quantities: tuple[str, ...]
    adjusters: tuple[Adjuster, ...]
    mean: Floats
    covariance: Floats
    weights: Floats
    rests_on: str = "the book"
    changes_seen: int = 0
    process_share: float = PROCESS_SHARE
    curves: GapCurves | None = None
    first_stop_effect: Mapping[str, float] = field(default_factory=dict)
    seen: frozenset[str] = frozenset()
    draws: Mapping[str, float] = field(default_factory=dict)
    timing: Floats | None = None

    def expected(self, quantity: str, sigma: float = 0.0) -> tuple[float, float]:
        """What a reading with this uncertainty should show, and how far it may be off."""
        i = self._row(quantity)
        means, spread = self.mean[:, i], np.sqrt(self.covariance[:, i, i])
        if quantity == GAP and self.curves is not None:
            slope = self._slopes(means)
            means, spread = self.curves.gaps(means), np.abs(slope) * spread
        middle = float(self.weights @ means)
        variance = float(self.weights @ (spread**2 + (means - middle) ** 2))
        return middle, float(np.sqrt(variance + sigma**2))

    def observe(self, quantity: str, value: float, sigma: float) -> "Belief":
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
        Belief
            Afterwards.
        """
        if not np.isfinite(value) or not np.isfinite(sigma) or sigma <= 0:
            raise BadInput("A reading needs a number and an uncertainty above 0.", quantity)
        i = self._row(quantity)
        read, noise, slope = self._as_carried(quantity, value, sigma)
        off = read - self.mean[:, i]
        spread = self.covariance[:, i, i] + noise**2
        covariance = self._loosened(i, np.abs(off) / (SURPRISED * np.sqrt(spread)))
        spread_now = covariance[:, i, i] + noise**2
        gain = covariance[:, :, i] / spread_now[:, None]
        mean = self._bounded(self.mean + gain * off[:, None])
        after = covariance - gain[:, :, None] * covariance[:, None, i, :]
        evidence = -0.5 * (np.log(spread_now) + off**2 / spread_now) - np.log(np.abs(slope))
        return replace(
            self,
            mean=mean,
            covariance=symmetric(after),
            weights=_weighed(self.weights, evidence),
            seen=self.seen | {quantity},
        )

    def change(self, turned: Mapping[str, float]) -> "Belief":
        """After a change.

        Parameters
        ----------
        turned : mapping of str to float
            Steps of each adjuster, in steps of the size that its response is for.
        """
        unknown = set(turned) - {a.key for a in self.adjusters}
        if unknown:
            known = ", ".join(a.key for a in self.adjusters)
            raise BadInput(f"There is no adjuster '{min(unknown)}'.", "adjuster", known)
        steps = np.array([float(turned.get(a.key, 0)) for a in self.adjusters])
        if not steps.any():
            return self
        count, rows = len(self.quantities), self._answers
        mean, covariance = self.mean.copy(), self.covariance.copy()
        mean[:, :count] += mean[:, rows] @ steps
        covariance[:, :count, :] += np.einsum("kqad,a->kqd", covariance[:, rows, :], steps)
        covariance[:, :, :count] += np.einsum("kdqa,a->kdq", covariance[:, :, rows], steps)
        covariance[:, range(count), range(count)] += self._left_out(steps)
        moved = replace(self, mean=mean, covariance=symmetric(covariance))
        moved = moved._with_first_stop(self)
        return replace(moved, changes_seen=self.changes_seen + 1)

    def fitted(self, part: str, moves: Collection[str]) -> "Belief":
        """With a new part of unknown length on: these numbers are open, along its own response."""
        own = next((a for a in self.adjusters if a.key == part), None)
        if own is None or not own.length_step_in:
            return self
        column = self.adjusters.index(own)
        count, rows = len(self.quantities), self._answers[:, column]
        along = self.mean[:, rows] * (LENGTH_OFF_IN / own.length_step_in)
        covariance = self.covariance.copy()
        covariance[:, :count, :count] += along[:, :, None] * along[:, None, :]
        mean = self.mean.copy()
        at = self._growth_at(part)
        covariance[:, at, :] = covariance[:, :, at] = 0
        covariance[:, at, at] = GROWTH_SIGMA_IN**2
        mean[:, at] = GROWTH_IN
        return replace(
            self,
            mean=mean,
            covariance=covariance,
            seen=self.seen - set(moves),
            draws={**self.draws, part: 0.0},
        )

    def drawn(self, draws: int) -> "Belief":
        """After so many draws or shots: new threads have become longer."""
        if not self.draws or draws <= 0:
            return self
        after = {part: count + draws for part, count in self.draws.items()}
        grown = {p: share_left(n) - share_left(after[p]) for p, n in self.draws.items()}
        moved = self._grown(grown)
        return replace(moved, draws=after)

    def settled(self) -> "Belief":
        """Once all new threads have become as long as they will."""
        return self._grown({part: share_left(count) for part, count in self.draws.items()})

    def forget_values(self, names: Collection[str] | None = None) -> "Belief":
        """These numbers, or all, are open again; the response is still known."""
        covariance = self.covariance.copy()
        rows = [i for i, n in enumerate(self.quantities) if names is None or n in names]
        covariance[:, rows, :] = covariance[:, :, rows] = 0
        covariance[:, rows, rows] = UNKNOWN**2
        return replace(
            self, covariance=covariance, seen=self.seen - {self.quantities[i] for i in rows}
        )

    def readings(self) -> dict[str, tuple[float, float]]:
        """Best estimate and standard uncertainty of every quantity that has been read."""
        return {name: self.expected(name) for name in self.quantities if name in self.seen}

    def response(self, bands: Mapping[str, Band] | None = None) -> Response:
        """What is believed of the response, with its uncertainty.

        The gap's row is its slope on the way to the middle of its band, or where the stops touch
        together.
        """
        mean, sigma = self._rows()
        if self.curves is not None:
            mean[self._gap] *= self.gap_slope(bands)
            sigma[self._gap] *= abs(self.gap_slope(bands))
        return Response(self.quantities, self.adjusters, mean, sigma, self.basis())

    def blocks(self, bands: Mapping[str, Band] | None = None) -> Floats:
        """Covariance of [value, response to each adjuster] per quantity, (q, 1 + a, 1 + a)."""
        picks = [[q, *row] for q, row in enumerate(self._answers.tolist())]
        found = np.stack([self._mixed_covariance(pick) for pick in picks])
        if self.curves is not None:
            found[self._gap] *= self.gap_slope(bands) ** 2
        return found

    def bend(self, bands: Mapping[str, Band] | None = None) -> GapBend | None:
        """How the gap answers along the way, against its straight response; None without curves."""
        if self.curves is None:
            return None
        own = self.mean[:, self._answers[self._gap]]
        middle = self.weights @ own
        stretch = own @ middle / max(float(middle @ middle), 1e-12)
        return bend_of(
            self.curves, self.mean[:, self._gap], stretch, self.weights, self.gap_slope(bands)
        )

    def gap_slope(self, bands: Mapping[str, Band] | None = None) -> float:
        """How far the gap moves for an inch of timing cable, on the way to where it should be."""
        assert self.curves is not None
        now = self.mean[:, self._gap] if GAP in self.seen else self.curves.lengths(0.0)
        aim = bands[GAP].target if bands and GAP in bands else 0.0
        gap = self.curves.gaps(now)
        there = self.curves.lengths(aim)
        far = np.abs(there - now) > 2 * _TOUCH_IN
        slopes = self._slopes(now)
        slopes[far] = ((aim - gap) / np.where(far, there - now, 1.0))[far]
        return float(self.weights @ slopes)

    def left_out(self, bands: Mapping[str, Band] | None = None) -> dict[str, tuple[float, float]]:
        """By quantity: the share of what a part moves that the response may leave out, and what
        every change adds, in the quantity's unit."""
        found = {name: self._shares(name) for name in self.quantities}
        if self.curves is not None:
            share, seats_in = found[GAP]
            found[GAP] = share, seats_in * abs(self.gap_slope(bands))
        return found

    def basis(self) -> str:
        """What it rests on, in words."""
        if not self.changes_seen:
            return self.rests_on
        times = "one change" if self.changes_seen == 1 else f"{self.changes_seen} changes"
        return f"{self.rests_on} and {times} of this bow"

    def values(self) -> tuple[Floats, Floats]:
        """Means and covariances of the values alone, as carried: (k, q) and (k, q, q)."""
        count = len(self.quantities)
        return self.mean[:, :count], self.covariance[:, :count, :count]

    def carried(self, bow: int, quantity: str, value: float, sigma: float) -> tuple[float, ...]:
        """A reading as one plausible bow carries it, its uncertainty, and the slope in between."""
        read, noise, slope = self._as_carried(quantity, value, sigma)
        return float(read[bow]), float(noise[bow]), float(slope[bow])

    def response_part(self) -> tuple[Floats, Floats]:
        """Mean and covariance of the response over all plausible bows, row by row, as carried."""
        start, end = self._response_slice
        rows = list(range(start, end))
        return self.weights @ self.mean[:, rows], self._mixed_covariance(rows, apart=True)

    def with_response(self, mean: Floats, covariance: Floats, weights: Floats) -> "Belief":
        """Another response in place of its own, the same for every plausible bow."""
        start, end = self._response_slice
        known, widened = self.mean.copy(), self.covariance.copy()
        known[:, start:end] = mean
        widened[:, start:end, start:end] = covariance
        return replace(self, mean=known, covariance=widened, weights=weights)

    @property
    def _response_slice(self) -> tuple[int, int]:
        count, width = len(self.quantities), len(self.adjusters)
        return count, count + count * width

    @cached_property
    def _answers(self) -> NDArray[np.int64]:
        """Where in the state the answer of each quantity to each adjuster is, (q, a)."""
        start, end = self._response_slice
        return np.arange(start, end).reshape(len(self.quantities), len(self.adjusters))

    @cached_property
    def _gap(self) -> int:
        return self.quantities.index(GAP)

    @cached_property
    def _parts(self) -> list[str]:
        return [a.key for a in self.adjusters if a.key == a.part]

    def _growth_at(self, part: str) -> int:
        return self._response_slice[1] + self._parts.index(part)

    def _row(self, quantity: str) -> int:
        if quantity not in self.quantities:
            raise BadInput(
                f"'{quantity}' is not estimated.", "quantity", ", ".join(self.quantities)
            )
        return self.quantities.index(quantity)

    def _rows(self) -> tuple[Floats, Floats]:
        count, width = len(self.quantities), len(self.adjusters)
        start, end = self._response_slice
        rows = self.mean[:, start:end]
        mean = self.weights @ rows
        own = np.diagonal(self.covariance, axis1=1, axis2=2)[:, start:end]
        variance = self.weights @ (own + (rows - mean) ** 2)
        return mean.reshape(count, width), np.sqrt(variance).reshape(count, width)

    def _mixed_covariance(self, rows: list[int], apart: bool = False) -> Floats:
        """Of some entries, over all plausible bows.

        The gap's own differences between bows are left to its bend, unless they are wanted `apart`.
        """
        found = np.einsum("k,kij->ij", self.weights, self.covariance[:, rows][:, :, rows])
        if apart or self.curves is None or rows[0] != self._gap:
            off = self.mean[:, rows] - self.weights @ self.mean[:, rows]
            found = found + np.einsum("k,ki,kj->ij", self.weights, off, off)
        return np.asarray(found)

    def _as_carried(
        self, quantity: str, value: float, sigma: float
    ) -> tuple[Floats, Floats, Floats]:
        """A reading as each plausible bow carries it, its uncertainty, and the slope in between."""
        ones = np.ones(len(self.weights))
        if quantity != GAP or self.curves is None:
            return value * ones, sigma * ones, ones
        read = self.curves.lengths(value)
        slope = self._slopes(read, max(sigma, _TOUCH_IN))
        return read, sigma / np.abs(slope), slope

    def _slopes(self, lengths: Floats, touch_in: float = _TOUCH_IN) -> Floats:
        """Gap per inch of timing cable at a place of each curve."""
        assert self.curves is not None
        ahead, behind = self.curves.gaps(lengths + touch_in), self.curves.gaps(lengths - touch_in)
        return (ahead - behind) / (2 * touch_in)

    def _left_out(self, steps: Floats) -> Floats:
        """Variance that a change adds to each value, (k, q): gross, part by part."""
        count, width = len(self.quantities), len(self.adjusters)
        start, end = self._response_slice
        parts = self.mean[:, start:end].reshape(-1, count, width) * steps
        share, seats = np.array([self._shares(name) for name in self.quantities]).T
        seats = seats * (np.abs(parts) > 0).any(axis=2)
        return np.asarray((parts**2).sum(axis=2) * share**2 + seats**2)

    def _shares(self, name: str) -> tuple[float, float]:
        """Of what a part moves, and in every change: what is left out of a quantity as carried."""
        if name == GAP and self.curves is not None:
            return GAP_SHARE, SEATING_IN
        return self.process_share, SEATING_SHARE * QUANTITIES[name].precision.sigma

    def _with_first_stop(self, before: "Belief") -> "Belief":
        """What is read at the first stop comes up as the gap closes, whichever stop is ahead."""
        if not self.first_stop_effect or GAP not in self.seen:
            return self
        (then, unsure_then), (now, unsure_now) = before.expected(GAP), self.expected(GAP)
        mean, covariance = self.mean.copy(), self.covariance.copy()
        for name, slope in self.first_stop_effect.items():
            row = self._row(name)
            mean[:, row] += slope * closer_in(name, then, now)
            covariance[:, row, row] += slope**2 * (unsure_then**2 + unsure_now**2)
        return replace(self, mean=mean, covariance=covariance)

    def _grown(self, shares: Mapping[str, float]) -> "Belief":
        """Every new part longer by a share of its own growth."""
        count = len(self.quantities)
        mean, covariance = self.mean.copy(), self.covariance.copy()
        for part, share in shares.items():
            column = next(i for i, a in enumerate(self.adjusters) if a.key == part)
            steps = -share / self.adjusters[column].length_step_in
            rows = self._answers[:, column]
            at = self._growth_at(part)
            per_inch = mean[:, rows] * steps
            mean[:, :count] += per_inch * mean[:, [at]]
            covariance[:, :count, :] += per_inch[:, :, None] * covariance[:, None, at, :]
            covariance[:, :, :count] += covariance[:, :, at, None] * per_inch[:, None, :]
        return replace(self, mean=mean, covariance=symmetric(covariance))

    def _bounded(self, mean: Floats) -> Floats:
        """The timing's answer kept within what a bow can do: the rule of timing has one sign."""
        if self.timing is None:
            return mean
        rows = self._answers[self._gap]
        ends = np.sort([LEAST_ANSWER * self.timing, MOST_ANSWER * self.timing], axis=0)
        mean[:, rows] = np.clip(mean[:, rows], *ends)
        return mean

    def _loosened(self, i: int, surprise: Floats) -> Floats:
        """A reading far from what was believed means that the belief was too sure of this quantity.

        Its value and its response are made as unsure as the surprise asks for; the reading then
        teaches both. Without surprise nothing changes.
        """
        surprise = np.clip(surprise, 1, MOST_SURPRISED)
        if (surprise <= 1).all():
            return self.covariance
        scale = np.ones_like(self.mean)
        scale[:, [i, *self._answers[i]]] = surprise[:, None]
        return np.asarray(self.covariance * scale[:, :, None] * scale[:, None, :])


def symmetric(matrix: Floats) -> Floats:
    """Symmetric to the last bit, so that rounding never makes a variance negative."""
    return np.asarray((matrix + np.swapaxes(matrix, -1, -2)) / 2)


def _weighed(weights: Floats, evidence: Floats) -> Floats:
    """Weights after evidence, by its logarithm; no bow is ever ruled out for good."""
    likely = weights * np.exp(evidence - evidence.max())
    likely = np.maximum(likely / likely.sum(), LEAST_WEIGHT / len(weights))
    return np.asarray(likely / likely.sum())
