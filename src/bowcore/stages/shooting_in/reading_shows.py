"""What a reading says of a tear: the tear that a number so far off would make, against the one seen."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, hypot, log, pi, sqrt

import numpy as np

from bowcore.bow.tracks import Floats
from bowcore.learning.one_rate import Rate

USUAL_SHARE = 0.4
"""How far off a number usually is that is not behind a tear, as a share of half its band: our figure."""
OPPOSITE = 0.1
"""How often a bow answers the other way round than geometry says: our figure."""
EITHER_WAY = 0.5
"""Of a number of which nobody knows beforehand which way it throws the nock."""
PART_OF_A_TEAR = 1 / 4
"""A number that is off accuses of a tear if it could make so much of it: our figure."""
MISREAD = 0.05
"""Density of a number that was misread, whatever it should be: our figure. [1/in of tear]"""
LEAST_GAIN = 0.05
"""A bow that answers by less is taken to answer by so much. [in for an inch]"""
SHARES_WITH_ANOTHER = (0.3, 0.5, 0.7)
"""Of a tear with two causes, what one of them makes."""
_DEVIATES = np.linspace(-2.5, 2.5, 21)
_WEIGHTS = np.exp(-(_DEVIATES**2) / 2) / np.exp(-(_DEVIATES**2) / 2).sum()


@dataclass(frozen=True)
class NumberOff:
    """One number as it was read: how far from its target, its doubt, half its band [in]; and the tear that an
    inch of it makes. [in]"""

    off_in: float
    sigma_in: float
    half_band_in: float
    tear_per_in: Rate
    opposite: float = OPPOSITE


def reading_shows(
    numbers: Sequence[NumberOff], tear_in: float, tear_sigma_in: float
) -> tuple[float, float, float]:
    """How likely these numbers are where they are behind a tear alone, with another cause, and not at all.

    Several numbers of one suspect, the lean of either cam, add up to one tear. What an inch of them does is
    known to a factor (log-normal), and some bows answer the other way round.

    Parameters
    ----------
    numbers : sequence of NumberOff
        Of one suspect; at least one.
    tear_in : float
        The tear in its axis. [in]
    tear_sigma_in : float
        Its doubt. [in]

    Returns
    -------
    tuple of float
        Densities, up to a common factor.
    """
    makes = sum(one.off_in * one.tear_per_in.mean for one in numbers)
    doubt = hypot(*(one.sigma_in * one.tear_per_in.mean for one in numbers))
    usual = hypot(*(USUAL_SHARE * one.half_band_in * one.tear_per_in.mean for one in numbers))
    gain = max(numbers, key=lambda one: abs(one.off_in)).tear_per_in
    spread = sqrt(log(1 + (gain.sigma / max(abs(gain.mean), LEAST_GAIN)) ** 2))
    factors = np.exp(spread * _DEVIATES)  # of the true gain over the one that is thought

    def if_it_makes(part: float) -> float:
        found = 0.0
        for way, chance in ((1, 1 - numbers[0].opposite), (-1, numbers[0].opposite)):
            seen = way * part * tear_in / factors
            sigma = np.hypot(doubt, part * tear_sigma_in / factors)
            found += chance * float(_WEIGHTS @ _density(makes, seen, sigma))
        return found

    with_another = sum(map(if_it_makes, SHARES_WITH_ANOTHER)) / len(SHARES_WITH_ANOTHER)
    by_itself = float(_density(makes, np.zeros(1), np.full(1, hypot(doubt, usual)))[0])
    return if_it_makes(1.0), with_another, by_itself


def could_make(numbers: Sequence[NumberOff], tear_in: float) -> bool:
    """Whether numbers so far off may be behind a tear, by its direction and its size. [in]"""
    makes = sum(one.off_in * one.tear_per_in.mean for one in numbers)
    most = sum(
        abs(one.off_in) * (abs(one.tear_per_in.mean) + 2 * one.tear_per_in.sigma) for one in numbers
    )
    either_way = any(one.opposite >= EITHER_WAY for one in numbers)
    return (either_way or makes * tear_in > 0) and most >= PART_OF_A_TEAR * abs(tear_in)


def density(off: float, sigma: float) -> float:
    """Of a normal distribution about 0."""
    return exp(-((off / sigma) ** 2) / 2) / (sigma * sqrt(2 * pi))


def _density(at: float, mean: Floats, sigma: Floats) -> Floats:
    """Of a normal distribution, or of a misreading."""
    return np.exp(-(((at - mean) / sigma) ** 2) / 2) / (sigma * sqrt(2 * pi)) + MISREAD
