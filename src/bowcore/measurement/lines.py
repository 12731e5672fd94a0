"""A line through impacts at several distances: what the rest and what the sight has to do.

Weighted least squares; checked against certified data (NIST StRD, Norris) and statsmodels.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import BadInput

LEAST_PLACES = 3
STUDENT_95 = (
    12.706, 4.303, 3.182, 2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.160, 2.145, 2.131,
    2.120, 2.110, 2.101, 2.093, 2.086, 2.080, 2.074, 2.069, 2.064, 2.060, 2.056, 2.052, 2.048, 2.045, 2.042,
)  # fmt: skip
"""Two-sided 95 % points of Student's t with 1 to 30 degrees of freedom (NIST e-Handbook, 1.3.6.7.2)."""
CLEAR_SIGMAS = 2.0
"""What is under two of its errors is left alone (common practice)."""
INCHES_A_YARD = 36.0
DRAWN_NOCK_TO_REST_IN = 28.0
"""From the nock to the rest at full draw, as the arrow is aimed: our figure, to be measured on the archer."""


@dataclass(frozen=True)
class Line:
    """y = at_zero + slope * x, with standard errors, and how far the points curve away from it.

    `bend` is the coefficient of x² where it was fitted too; 0 with an infinite error where there are too few
    points.
    """

    at_zero: float
    slope: float
    at_zero_sigma: float
    slope_sigma: float
    residual_sigma: float
    bend: float = 0.0
    bend_sigma: float = float("inf")
    free: int = 0
    """Degrees of freedom where the scatter was taken from the points themselves, else 0."""

    @property
    def slope_doubt(self) -> float:
        """Half of the interval that holds the slope in 95 of 100 cases, by Student's t."""
        return student_95(self.free) * self.slope_sigma

    @property
    def slopes(self) -> bool:
        """Whether the slope is more than its own doubt."""
        return abs(self.slope) > self.slope_doubt

    @property
    def bends(self) -> bool:
        """Whether the points clearly do not lie on a line."""
        return abs(self.bend) > student_95(max(self.free - 1, 0)) * self.bend_sigma


def student_95(free: int) -> float:
    """The two-sided 95 % point of Student's t; of the normal distribution where the scatter is known (0)."""
    if free <= 0:
        return 1.96
    return STUDENT_95[free - 1] if free <= len(STUDENT_95) else 1.96 + 2.4 / free


def line_through(
    xs: Sequence[float],
    ys: Sequence[float],
    sigma: float | Sequence[float] | None = None,
    scaled: bool = False,
    least: float = 0.0,
) -> Line:
    """The line of least weighted squares.

    Parameters
    ----------
    xs : sequence of float
        At least three places, not all alike.
    ys : sequence of float
        One value for each.
    sigma : float or sequence of float, optional
        Standard deviation of each y; from the residuals if absent.
    scaled : bool
        Whether `sigma` only says how the points compare; how much they scatter follows from the residuals.
    least : float
        The least scatter that is believed, in `sigma`: what is read to a grid lies on a line by chance.

    Raises
    ------
    BadInput
        Too few points, or all at one x.
    """
    x, y = np.asarray(xs, float), np.asarray(ys, float)
    if len(x) < LEAST_PLACES or np.ptp(x) == 0:
        raise BadInput(f"A line takes {LEAST_PLACES} shots at different distances.", "shots")
    weight = (
        np.ones_like(x) if sigma is None else 1 / np.broadcast_to(np.asarray(sigma, float), x.shape)
    )
    by_residuals = sigma is None or scaled
    (zero, slope), errors, residual = _solved(
        np.stack([np.ones_like(x), x], axis=1), y, weight, by_residuals, least
    )
    bend, bend_sigma = 0.0, float("inf")
    if len(set(xs)) > LEAST_PLACES:
        middle = x - x.mean()
        curved = np.stack([np.ones_like(x), middle, middle**2], axis=1)
        beta, by, _ = _solved(curved, y, weight, by_residuals, least)
        bend, bend_sigma = float(beta[2]), float(by[2])
    free = len(x) - 2 if by_residuals else 0
    return Line(
        float(zero),
        float(slope),
        float(errors[0]),
        float(errors[1]),
        residual,
        bend,
        bend_sigma,
        free,
    )


def _solved(
    design: NDArray[np.float64],
    y: NDArray[np.float64],
    weight: NDArray[np.float64],
    by_residuals: bool,
    least: float,
) -> tuple[NDArray[np.float64], NDArray[np.float64], float]:
    """Coefficients, their standard errors, and the residuals' standard deviation, by QR."""
    q, r = np.linalg.qr(design * weight[:, None])
    beta = np.linalg.solve(r, q.T @ (y * weight))
    off = (y - design @ beta) * weight
    free = len(y) - design.shape[1]
    residual = max(sqrt(float(off @ off) / free) if free else 0.0, least)
    inverse = np.linalg.inv(r)
    errors = np.sqrt((inverse**2).sum(axis=1)) * (residual if by_residuals else 1.0)
    return beta, errors, residual


def rest_shift_in(slope_in_per_yd: float, nock_to_rest_in: float = DRAWN_NOCK_TO_REST_IN) -> float:
    """How far the rest goes, in the sense of the drift turned round, so that impacts stay on one line. [in]

    The arrow flies aside by the slope; the rest turns it about the nock by as much (phys): for an inch at
    20 yd, the sight set at 3, about 3/64.
    """
    return -slope_in_per_yd / INCHES_A_YARD * nock_to_rest_in
