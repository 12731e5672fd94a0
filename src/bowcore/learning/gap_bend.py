"""How the gap answers on the way from where it is, against a straight response."""

from dataclasses import dataclass

import numpy as np

from bowcore.bow.tracks import Floats
from bowcore.response.gap_curve import GapCurves

REACH_IN, POINTS = 2.4, 241
"""Moves up to here, to either side, are tabulated. [in]"""
_TOUCH_IN = 0.01


@dataclass(frozen=True)
class GapBend:
    """The gap after a move, by how far a straight response says that it goes.

    Attributes
    ----------
    moves : array, shape (n,)
        By the straight response. [in]
    after : array, shape (n,)
        The gap then, by the best estimate. [in]
    factor : array, shape (n,)
        How much steeper than the straight response it answers there.
    spread : array, shape (n,)
        Standard deviation between the bows that are still plausible. [in]
    """

    moves: Floats
    after: Floats
    factor: Floats
    spread: Floats

    def gaps(self, moves: Floats) -> Floats:
        """The gap after each move. [in]"""
        return np.interp(moves, self.moves, self.after)

    def factors(self, moves: Floats) -> Floats:
        """How much steeper than straight, after each move."""
        return np.interp(moves, self.moves, self.factor)

    def spreads(self, moves: Floats) -> Floats:
        """How far plausible bows differ there. [in]"""
        return np.interp(moves, self.moves, self.spread)


def bend_of(
    curves: GapCurves, lengths: Floats, stretch: Floats, weights: Floats, slope: float
) -> GapBend:
    """The bend from here, over several plausible bows.

    Parameters
    ----------
    curves : GapCurves
        Of k plausible bows.
    lengths : array, shape (k,)
        Timing cable at which each of them is now. [in]
    stretch : array, shape (k,)
        How much further than expected a change moves each along its curve, as a factor.
    weights : array, shape (k,)
        How much each counts.
    slope : float
        Gap per inch of timing cable by the straight response.

    Returns
    -------
    GapBend
    """
    moves = np.linspace(-REACH_IN, REACH_IN, POINTS)
    places = lengths[:, None] + stretch[:, None] * moves / slope
    every = curves.many(places)
    steeper = (curves.many(places + _TOUCH_IN) - curves.many(places - _TOUCH_IN)) / (2 * _TOUCH_IN)
    after = weights @ every
    return GapBend(
        moves,
        after,
        (weights @ steeper) / slope,
        np.sqrt(weights @ (every - after) ** 2),
    )
