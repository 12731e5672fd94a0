"""The normal distribution, once: the chances of single numbers and of whole grids come from here."""

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

_Value = TypeVar("_Value", float, NDArray[np.float64])
NINETY = 1.645
"""Half width of a 90 % interval in standard deviations (any table of the normal distribution)."""


def normal_cdf(z: _Value) -> _Value:
    """Probability that a standard normal is below z.

    Parameters
    ----------
    z : float or array
        In standard deviations.

    Returns
    -------
    float or array
        Of the same shape. Error below 1.5e-7.

    Source: Abramowitz and Stegun, Handbook of Mathematical Functions, 1964, 7.1.26.
    """
    x = abs(z) / 2**0.5
    t = 1 / (1 + 0.3275911 * x)
    series = t * (
        0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))
    )
    below = series * np.exp(-(x**2)) / 2
    if isinstance(z, np.ndarray):
        return np.where(z < 0, below, 1 - below)
    return float(below if z < 0 else 1 - below)


def chi_square_95(freedom: int) -> float:
    """The value that a chi-square of so many degrees of freedom exceeds in 5 of 100; 0 of none.

    Wilson and Hilferty's approximation (1931, from memory; checked against SciPy).
    """
    if not freedom:
        return 0.0
    part = 2 / (9 * freedom)
    return float(freedom * (1 - part + NINETY * part**0.5) ** 3)
