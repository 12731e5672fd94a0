"""How sure a reading is: what averages out over repeats, and what does not."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import hypot, sqrt
from statistics import median

KNOWN_AS = 6
"""The usual scatter of a tool counts for as much as so many degrees of freedom seen on this job."""
BLUNDER_SIGMAS = 3.0
"""A take further from the middle of the others than so many standard deviations is not scatter."""


@dataclass(frozen=True)
class Precision:
    """How sure a reading is, in its unit.

    `scatter` is the standard deviation between careful readings: it averages out. `resolution` is
    what the tool's division leaves open, the same in every reading: it does not.
    """

    scatter: float
    resolution: float = 0.0

    @property
    def sigma(self) -> float:
        """Standard uncertainty of one reading."""
        return self.of_mean(1)

    def of_mean(self, takes: int) -> float:
        """Standard uncertainty of the mean of so many readings.

        Source: JCGM 100:2008 (GUM), 4.2.3, 4.3.7 and F.2.2.1: s / sqrt n, and a rectangular
        distribution for the resolution, added in quadrature (from memory).
        """
        return hypot(self.scatter / sqrt(takes), self.resolution)

    def learned(self, groups: Iterable[Sequence[float]]) -> "Precision":
        """With the scatter that repeats on this job have shown, pooled over all moments.

        Source: JCGM 100:2008 (GUM), 4.2.4: the pooled estimate of variance (from memory). The usual
        scatter counts as `KNOWN_AS` degrees of freedom; a take far from the others is a blunder and
        shows nothing of it.

        Parameters
        ----------
        groups : iterable of sequence of float
            Takes of one moment each.
        """
        squares, freedom = KNOWN_AS * self.scatter**2, float(KNOWN_AS)
        for takes in groups:
            centre = median(takes)
            far = BLUNDER_SIGMAS * self.sigma * sqrt(1 - 1 / len(takes))
            near = [take for take in takes if abs(take - centre) <= far]
            if len(near) > 1:
                middle = sum(near) / len(near)
                squares += sum((take - middle) ** 2 for take in near)
                freedom += len(near) - 1
        return Precision(sqrt(squares / freedom), self.resolution)
