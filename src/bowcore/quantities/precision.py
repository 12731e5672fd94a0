"""How sure a reading is: what averages out over repeats, and what does not."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import exp, pi, sqrt
from statistics import median

KNOWN_AS = 6
"""The usual scatter of a tool counts for as much as so many degrees of freedom seen on this job."""
BLUNDER_SIGMAS = 3.0
"""A take further from the middle of the others than so many standard deviations is not scatter."""

TERMS = 50
"""Of the Fourier series of the rounding; the rest of it is below 1 % of a sigma."""


@dataclass(frozen=True)
class Precision:
    """How sure a reading is, in its unit.

    `scatter` is the standard deviation between careful readings: it averages out. `resolution` is
    what the tool's division leaves open; what of it is the same in every reading does not (`shared`).
    """

    scatter: float
    resolution: float = 0.0

    @property
    def sigma(self) -> float:
        """Standard uncertainty of one reading."""
        return self.of_mean(1)

    def of_mean(self, takes: int) -> float:
        """Standard uncertainty of the mean of so many readings.

        Source: JCGM 100:2008 (GUM), 4.2.3, 4.3.7 and F.2.2.1 (from memory): s / sqrt n, and a
        rectangular distribution for the resolution. Of the latter only what all readings share stays in
        the mean: see `shared`.
        """
        shared = self.shared**2
        apart = self.scatter**2 + self.resolution**2 - shared
        return sqrt(shared + apart / takes)

    @cached_property
    def shared(self) -> float:
        """What a tool's division leaves open alike in every reading: it does not average out.

        All of it where readings do not scatter; little where they scatter over half a division, for then
        the mark that is read differs from take to take. Source: Widrow and Kollar, Quantization Noise,
        2008, the mean error of a rounded normal variable as a Fourier series (from memory).
        """
        if not self.resolution:
            return 0.0
        divisions = self.scatter / (self.resolution * sqrt(12))
        terms = (exp(-((2 * pi * k * divisions) ** 2)) / k**2 for k in range(1, TERMS + 1))
        return self.resolution * sqrt(sum(terms) * 6 / pi**2)

    def scaled(self, share: float) -> "Precision":
        """Both parts in that proportion."""
        return Precision(self.scatter * share, self.resolution * share)

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
