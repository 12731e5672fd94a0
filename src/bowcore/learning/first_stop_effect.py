"""What is read at the first stop falls off by the gap to the other one, whichever is ahead.

Draw length and holding weight are read where the *first* stop touches, so they have a kink where the
stops touch together: see docs/derivations/gap.md.
"""

from collections.abc import Mapping

import numpy as np

from bowcore.bow.tracks import Floats

AT_THE_FIRST_STOP = ("draw_length", "holding_weight")
"""Read where the first of two stops touches: there is a kink where both touch together."""
REACH_IN = {"holding_weight": 1 / 8}
"""So far from stops that touch together a reading falls off; then the wall and the valley even out."""


def reach_in(name: str) -> float:
    """How far from stops that touch together a reading still falls off. [in]"""
    return REACH_IN.get(name, float("inf"))


def closer_in(name: str, before_in: float, after_in: float) -> float:
    """How much nearer together the stops are afterwards, as far as one reading feels it. [in]"""
    reach = reach_in(name)
    return min(abs(before_in), reach) - min(abs(after_in), reach)


def moved_by_gap(
    effect: Mapping[str, float], names: tuple[str, ...], before_in: float, after_in: Floats
) -> Floats:
    """What closing the gap adds to each quantity.

    Parameters
    ----------
    effect : mapping of str to float
        How much a reading falls off for each inch of gap, by quantity.
    names : tuple of str, length q
        The quantities.
    before_in : float
        The gap now. [in]
    after_in : array, shape (n,)
        The gap after each of n changes. [in]

    Returns
    -------
    array, shape (n, q)
        In each quantity's unit.
    """
    slopes = np.array([effect.get(name, 0.0) for name in names])
    reach = np.array([reach_in(name) for name in names])
    nearer = np.minimum(abs(before_in), reach) - np.minimum(np.abs(after_in)[:, None], reach)
    return np.asarray(nearer * slopes)
