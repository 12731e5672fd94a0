"""The same name, measured between other points: converted where the offset is known, else apart.

A quantity is the place of its end point less the place of its start point, along one axis. `known`
gives the places of points that differ from their neighbours by a known length.
"""

from collections.abc import Mapping
from math import sqrt

from bowcore.accessories.on_the_bow import NOTHING_WRITTEN_DOWN, OnTheBow
from bowcore.accessories.ties import TieMethod
from bowcore.bow.bundle import effective_radius_in

Points = tuple[str, str]


def known_places(strands: int, on_bow: OnTheBow = NOTHING_WRITTEN_DOWN) -> dict[str, float]:
    """Places of the points that are known on a bow, each along its own quantity's axis. [in]

    The far face of a string of so many strands lies behind the near one by its thickness, its serving
    left out. The edges of the rest hole lie above and under its centre by half of it, the arrow's underside
    under its centre by half the shaft, the ties by half the nock, once the arrow is known. Nobody knows where
    the shelf is. Along the string, upward from the nock's groove, the tie and the loop's knot follow from the
    nock's height, the peep's top edge from the peep's.
    """
    return _across(strands) | _at_the_rest(on_bow) | _along_the_string(on_bow)


def _across(strands: int) -> dict[str, float]:
    return {"near_face": 0.0, "far_face": 2 * sqrt(2) * effective_radius_in(strands)}


def _at_the_rest(on_bow: OnTheBow) -> dict[str, float]:
    half = on_bow.hole_in / 2
    found = {"hole_centre": 0.0, "hole_edge": -half, "hole_top": half, "riser_face": 0.0}
    if (plane := on_bow.string_plane_in) is not None:
        found["string_plane"] = plane
    arrow = on_bow.arrow
    if arrow is not None:
        found |= {"arrow_centre": 0.0, "arrow_under": -arrow.shaft_in / 2}
    if arrow is not None and arrow.nock_in:
        found |= {"tie_under": arrow.nock_in / 2, "tie_over": -arrow.nock_in / 2}
    return found


def _along_the_string(on_bow: OnTheBow) -> dict[str, float]:
    """The loop's two knots hold the nock between them, above the tie where there is one; its middle is known
    only where no tie moves one of them."""
    found = {"peep_centre": 0.0}
    if (peep := on_bow.peep_height_in) is not None:
        found["peep_top"] = peep / 2
    arrow, method = on_bow.arrow, on_bow.tie_method
    if arrow is None or not arrow.nock_in or method is None:
        return found
    over = arrow.nock_in / 2
    found |= {"nock_groove": 0.0}
    tie = on_bow.tie_height_in
    if method.ties_above:
        found |= {"nock_tie": over} | ({} if tie is None else {"loop_knot": over + tie})
    else:
        found |= {"loop_knot": over}
    if method in (TieMethod.NONE, TieMethod.BOTH, TieMethod.LAST):
        found["loop_centre"] = 0.0
    return found


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
