"""The same name, measured between other points: converted where the offset is known, else apart.

A quantity is the place of its end point less the place of its start point, along one axis. `known`
gives the places of points that differ from their neighbours by a known length.
"""

from collections.abc import Mapping
from math import sqrt

from bowcore.fitting.on_the_bow import REST_HOLE_IN
from bowcore.mechanics.bundle import effective_radius_in

Points = tuple[str, str]


def known_places(
    strands: int, shaft_in: float | None = None, hole_in: float = REST_HOLE_IN
) -> dict[str, float]:
    """Places of the points that are known on a bow, each along its own quantity's axis. [in]

    The far face of a string of so many strands lies behind the near one by its thickness, its serving
    left out; the lower edge of the rest hole lies under its centre by half of it, the arrow's underside under
    its centre by half the shaft, once the arrow is known.
    """
    known_arrow = {} if shaft_in is None else {"arrow_centre": 0.0, "arrow_under": -shaft_in / 2}
    return known_arrow | {
        "near_face": 0.0,
        "far_face": 2 * sqrt(2) * effective_radius_in(strands),
        "hole_centre": 0.0,
        "hole_edge": -hole_in / 2,
    }


def shift_in(taken: Points, wanted: Points, known: Mapping[str, float]) -> float | None:
    """What to add to a reading taken between some points to compare it with one between others.

    Parameters
    ----------
    taken : pair of str
        Keys of the start and the end point it was taken between.
    wanted : pair of str
        Those of the reading it is compared with.
    known : mapping of str to float
        From `known_places`. [in]

    Returns
    -------
    float or None
        0 for the same points; None where the offset is not known: the two must not be compared.
    """
    total = 0.0
    for sign, had, has in ((-1.0, taken[0], wanted[0]), (1.0, taken[1], wanted[1])):
        if had == has or not had or not has:
            continue
        if had not in known or has not in known:
            return None
        total += sign * (known[has] - known[had])
    return total
