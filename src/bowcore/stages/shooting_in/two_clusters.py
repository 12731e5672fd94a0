"""Shots of one group that lie in two places: something happens at some shots and not at others."""

from collections.abc import Sequence
from math import hypot

import numpy as np

from bowcore.evidence.shots import Shot

APART_SIGMAS = 4.0
"""Two clusters are so many scatters of one shot apart: our figure."""
LEAST_OF_EACH = 2


def lies_in_two(shots: Sequence[Shot], scatter_in: float) -> bool:
    """Whether good shots with nothing changed between them lie in two clusters, two of each at least.

    Split where the gap along the line of their greatest spread is widest.

    Parameters
    ----------
    shots : sequence of Shot
        Of one archer and one arrow.
    scatter_in : float
        Standard deviation of one shot, one way. [in]
    """
    places = np.array([[one.x_in, one.y_in] for one in shots if one.good], float).reshape(-1, 2)
    if len(places) < 2 * LEAST_OF_EACH:
        return False
    off = places - places.mean(axis=0)
    along = np.sort(off @ np.linalg.svd(off)[2][0])
    gaps = np.diff(along)[LEAST_OF_EACH - 1 : len(along) - LEAST_OF_EACH]
    split = int(np.argmax(gaps)) + LEAST_OF_EACH
    near, far = along[:split], along[split:]
    inside = hypot(float(near.std()), float(far.std()))
    return float(far.mean() - near.mean()) > APART_SIGMAS * max(scatter_in, inside)
