"""Cam tracks as convex curves given by their support function, for many bows at once.

A track is h(phi) = r0 + c1 cos phi + s1 sin phi + c2 cos 2 phi + s2 sin 2 phi: the distance from the
axle to the tangent whose normal points along phi. The moment arm of a rope that leaves the track
along that tangent is h, and the rope wrapped on it is the integral of h plus h': arms and lengths
agree by construction, so energy is conserved. Coefficient arrays have shape (..., 5).
"""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def circle(radius: float) -> Floats:
    """Coefficients of a round track. [in]"""
    return np.array([radius, 0.0, 0.0, 0.0, 0.0])


def harmonic(r0: float, a1: float, p1: float, a2: float, p2: float) -> Floats:
    """Coefficients of r0 + a1 cos(phi - p1) + a2 cos(2 phi - p2). [in, rad]"""
    return np.array([r0, a1 * np.cos(p1), a1 * np.sin(p1), a2 * np.cos(p2), a2 * np.sin(p2)])


def basis(phi: Floats) -> Floats:
    """The five functions at phi, shape (..., 5)."""
    one = np.ones_like(phi)
    return np.stack([one, np.cos(phi), np.sin(phi), np.cos(2 * phi), np.sin(2 * phi)], -1)


def integral_basis(phi: Floats) -> Floats:
    """Integrals of the five functions from 0 to phi, up to constants that cancel, (..., 5)."""
    return np.stack([phi, np.sin(phi), -np.cos(phi), np.sin(2 * phi) / 2, -np.cos(2 * phi) / 2], -1)


def evaluate(track: Floats, phi: Floats) -> tuple[Floats, Floats, Floats]:
    """Support h, its slope h' and its integral H at phi.

    Parameters
    ----------
    track : array, shape (..., 5)
        Coefficients. [in]
    phi : array, shape (...)
        Normal direction in the cam's own frame. [rad]

    Returns
    -------
    tuple of arrays
        h [in], h' [in/rad], H [in rad], each of phi's shape.
    """
    c, s = np.cos(phi), np.sin(phi)
    c2, s2 = c * c - s * s, 2 * s * c
    r0, a, b, p, q = (track[..., i] for i in range(5))
    h = r0 + a * c + b * s + p * c2 + q * s2
    slope = -a * s + b * c + 2 * (q * c2 - p * s2)
    integral = r0 * phi + a * s - b * c + (p * s2 - q * c2) / 2
    return h, slope, integral
