"""What this bow's stop gap will answer, from the curves of plausible bows and its own log.

Every plausible bow is stretched until it explains what this bow did, and counts for as much as that
stretch is likely. Together they say how far the gap moves on the way to where it should be, also
where the curve bends and one slope would be wrong for half of the way.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bowcore.adjusters.steps import Steps
from bowcore.mechanics.tracks import Floats
from bowcore.response.gap_curve import GapCurves
from bowcore.response.matrix import Response

STRETCH_SIGMA = 0.15
"""How far a bow's half twist may be from the book's beyond what plausible bows differ in."""
UNMODELLED_SHARE = 0.04
"""Of a predicted change of the gap: what the plausible bows do not have."""
PART_SHARE = 0.04
"""How far two parts of one bow differ in what half a twist does."""
GAP_SURPRISED = 1.5
"""So many standard deviations off, a bow is taken to differ more than bows usually do."""
CLOSE_IN = 1 / 32
"""Nearer to its aim than this, the slope just here is used."""
_TOUCH_IN = 0.01


@dataclass(frozen=True)
class GapChange:
    """One change of a bow with its gap before and after, and how sure each reading was. [in]"""

    steps: Steps
    before: float
    after: float
    sigma: float


@dataclass(frozen=True)
class GapSlope:
    """How far the gap moves for each inch of timing cable on the way to some place."""

    mean: float
    sigma: float


class GapModel:
    """The gap's answer on one bow, as far as its log shows."""

    def __init__(self, curves: GapCurves, response: Response, log: Sequence[GapChange] = ()):
        """Weigh the plausible bows by the log.

        Parameters
        ----------
        curves : GapCurves
            Of plausible bows.
        response : Response
            The book's: what a step of each adjuster is, in inches of timing cable.
        log : sequence of GapChange
            What this bow did so far.
        """
        self._curves, self.log = curves, tuple(log)
        row = response.mean[response.quantities.index("stop_gap")]
        self.inches = row / _middle_slope(curves)
        """Timing cable per step of each adjuster. [in]"""
        self._keys = [adjuster.key for adjuster in response.adjusters]
        self._apart = np.array([max(PART_SHARE, a.doubt) for a in response.adjusters])
        count = len(curves.gap_in)
        self._stretch, self._variance = np.ones(count), np.full(count, STRETCH_SIGMA**2)
        self._plausible = np.zeros(count)
        for change in log:
            self._take_in(change)
        weight = np.exp(self._plausible - self._plausible.max())
        self._weight = weight / weight.sum()

    def towards(self, gap: float, aim: float) -> GapSlope:
        """Slope on the way from a gap to an aim, as if the aim were reached."""
        if abs(aim - gap) < CLOSE_IN:
            middle = (gap + aim) / 2
            gap, aim = middle - CLOSE_IN / 2, middle + CLOSE_IN / 2
        distance = self._curves.lengths(aim) - self._curves.lengths(gap)
        return self._mixed((aim - gap) / distance * self._stretch, (aim - gap) / distance)

    def after(self, gap: float, steps: Steps) -> GapSlope:
        """Slope over just the way that these steps go."""
        turned = self._turned(steps)
        if abs(turned) < 1e-9:
            return self.towards(gap, gap)
        start = self._curves.lengths(gap)
        moved = (self._curves.gaps(start + turned * self._stretch) - gap) / turned
        return self._mixed(moved, moved / self._stretch)

    def row(self, slope: GapSlope) -> tuple[Floats, Floats]:
        """Response of the gap per step of each adjuster, and its covariance."""
        mean = self.inches * slope.mean
        common = np.outer(self.inches, self.inches) * slope.sigma**2
        return mean, common + np.diag((self._apart * mean) ** 2)

    def _turned(self, steps: Steps) -> float:
        return float(sum(steps.get(k, 0) * x for k, x in zip(self._keys, self.inches, strict=True)))

    def _take_in(self, change: GapChange) -> None:
        """Stretch every bow towards what was seen, and mark down those that need much of it."""
        turned = self._turned(change.steps)
        if abs(turned) < 1e-9:
            return
        seen = self._curves.lengths(change.after) - self._curves.lengths(change.before)
        slope = self._slopes(change.before) ** -2 + self._slopes(change.after) ** -2
        noise = change.sigma**2 * slope + (UNMODELLED_SHARE * seen) ** 2
        spread = turned**2 * self._variance + noise
        off = seen - turned * self._stretch
        self._plausible -= 0.5 * (np.log(spread) + off**2 / spread)
        self._plausible -= np.log(np.abs(self._slopes(change.after)))
        widening = np.maximum(off**2 / spread / GAP_SURPRISED**2, 1.0)
        variance = self._variance * widening
        spread = turned**2 * variance + noise
        gain = turned * variance / spread
        self._stretch = np.maximum(self._stretch + gain * off, 0.1)
        self._variance = variance * (1 - gain * turned)

    def _slopes(self, gap: float) -> Floats:
        ahead, behind = self._curves.lengths(gap + _TOUCH_IN), self._curves.lengths(gap - _TOUCH_IN)
        return 2 * _TOUCH_IN / (ahead - behind)

    def _mixed(self, slopes: Floats, per_stretch: Floats) -> GapSlope:
        mean = float(self._weight @ slopes)
        own = per_stretch**2 * self._variance + (UNMODELLED_SHARE * slopes) ** 2
        return GapSlope(mean, float(np.sqrt(self._weight @ (own + (slopes - mean) ** 2))))


def _middle_slope(curves: GapCurves) -> float:
    """Of the book's own bow, the first row."""
    middle = int(np.abs(curves.shorter_in).argmin())
    x, y = curves.shorter_in, curves.gap_in[0]
    return float((y[middle + 1] - y[middle - 1]) / (x[middle + 1] - x[middle - 1]))
