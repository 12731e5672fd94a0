"""Shots as facts, and what several of them say together: their centre, their scatter, and which is a flyer.

All places are seen from behind the bow: x to the right, y up. [in] On paper a place is the nock's hole less
the point's hole; on a butt it is the impact less the point aimed at.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil, hypot, sqrt
from statistics import median

import numpy as np
from numpy.typing import NDArray

from bowcore.accessories.arrow import SOFTEST, STIFFEST
from bowcore.errors import BadInput
from bowcore.measurement.repeats import MAD_TO_SIGMA, OUTLIER_SIGMAS

USUAL_SCATTER_IN = 0.08
"""Standard deviation of one tear, one way, of a careful archer at three yards: our figure, until this
archer's shots have shown theirs."""
USUAL_WEIGHT = 4
"""How many shots that figure is worth."""
EVEN_CHANCE, NINE_IN_TEN = 0.0, 1.2816
"""Standard normal deviates of the chance to see a change that is there (any table)."""
TWO_SIDED_95 = 1.96
FARTHEST_YD = 120.0
MOST_OFF_IN = 72.0


class ShotTest(StrEnum):
    """What a shot was shot for."""

    PAPER = "paper"
    BARE_SHAFT = "bare_shaft"
    FRENCH = "french"
    WALK_BACK = "walk_back"
    BROADHEAD = "broadhead"


class ShaftKind(StrEnum):
    """What was on the arrow."""

    FLETCHED = "fletched"
    BARE = "bare"
    BROADHEAD = "broadhead"


@dataclass(frozen=True)
class Shot:
    """One shot. `seq` places it among the changes of its job; `good` is False where the archer called it bad.

    `arrow` and `shooter` are names, "" where nobody said; `spine` is the arrow's class, 0 where nobody said.
    """

    seq: int
    test: ShotTest
    distance_yd: float
    x_in: float
    y_in: float
    kind: ShaftKind = ShaftKind.FLETCHED
    arrow: str = ""
    shooter: str = ""
    good: bool = True
    spine: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what no sheet or butt shows.

        Raises
        ------
        BadInput
            Farther off or from farther away than anybody tunes, or a spine that no shaft has.
        """
        if not 0 < self.distance_yd <= FARTHEST_YD:
            raise BadInput(
                f"A distance of {self.distance_yd:g} yd?", "distance", f"up to {FARTHEST_YD:g}"
            )
        if self.spine and not STIFFEST <= self.spine <= SOFTEST:
            allowed = f"{STIFFEST:g} to {SOFTEST:g}"
            raise BadInput(f"A spine of {self.spine:g}?", "spine", allowed)
        if not hypot(self.x_in, self.y_in) <= MOST_OFF_IN:
            raise BadInput("That shot is not on the sheet.", "place", f"within {MOST_OFF_IN:g} in")


@dataclass(frozen=True)
class Group:
    """Shots of one kind with nothing changed between them.

    `covariance` is of one shot, 2 by 2, [in²]; `sigma_x`, `sigma_y` are of the centre [in]. `flyers` are
    places among the shots that were given: kept on record, not counted.
    """

    x_in: float
    y_in: float
    shots: int
    covariance: NDArray[np.float64]
    flyers: tuple[int, ...] = ()

    @property
    def sigma_x(self) -> float:
        return sqrt(float(self.covariance[0, 0]) / self.shots)

    @property
    def sigma_y(self) -> float:
        return sqrt(float(self.covariance[1, 1]) / self.shots)

    @property
    def size_in(self) -> float:
        """How far its centre is from where it should be. [in]"""
        return hypot(self.x_in, self.y_in)


def group_of(shots: Sequence[Shot], usual_in: float = USUAL_SCATTER_IN) -> Group:
    """What shots say together.

    Parameters
    ----------
    shots : sequence of Shot
        At least one that was called good; of one kind, nothing changed between them.
    usual_in : float
        Scatter of one shot before these have shown theirs. [in]

    Returns
    -------
    Group
        Shots that were called bad and flyers left out. Its covariance joins the shots' own with the usual
        one, which is worth `USUAL_WEIGHT` shots.

    Raises
    ------
    BadInput
        None was called good.
    """
    places = np.array([[one.x_in, one.y_in] for one in shots], float).reshape(-1, 2)
    good = [at for at, one in enumerate(shots) if one.good]
    if not good:
        raise BadInput("No shot that was called good.", "shots")
    flyers = _flyers(places, good, usual_in)
    kept = places[[at for at in good if at not in flyers]]
    centre = kept.mean(axis=0)
    off = kept - centre
    prior = USUAL_WEIGHT * usual_in**2 * np.eye(2)
    covariance = (off.T @ off + prior) / (len(kept) - 1 + USUAL_WEIGHT)
    return Group(float(centre[0]), float(centre[1]), len(kept), covariance, flyers)


def _flyers(places: NDArray[np.float64], good: Sequence[int], usual_in: float) -> tuple[int, ...]:
    """Shots farther from the middle of the others than 3.5 robust sigmas, either way; needs three."""
    if len(good) < 3:
        return ()
    found: set[int] = set()
    for axis in (0, 1):
        values = [float(places[at, axis]) for at in good]
        middle = median(values)
        scale = max(MAD_TO_SIGMA * median(abs(v - middle) for v in values), usual_in)
        found |= {
            at
            for at, v in zip(good, values, strict=True)
            if abs(v - middle) > OUTLIER_SIGMAS * scale
        }
    return tuple(sorted(found))


def pooled_scatter(groups: Iterable[Sequence[Shot]], usual_in: float = USUAL_SCATTER_IN) -> float:
    """Standard deviation of one shot, one way, from several groups that differ in their centres. [in]

    The root of the mean square about each group's own centre, flyers left out, joined with the usual figure.
    """
    total, freedom = USUAL_WEIGHT * 2 * usual_in**2, USUAL_WEIGHT * 2
    for shots in groups:
        every = np.array([[one.x_in, one.y_in] for one in shots], float).reshape(-1, 2)
        good = [at for at, one in enumerate(shots) if one.good]
        flyers = _flyers(every, good, usual_in)
        places = every[[at for at in good if at not in flyers]]
        if len(places) > 1:
            total += float(((places - places.mean(axis=0)) ** 2).sum())
            freedom += 2 * (len(places) - 1)
    return sqrt(total / freedom)


def shots_to_tell(change_in: float, scatter_in: float, power: float = NINE_IN_TEN) -> int:
    """How many shots a side it takes to tell a change of the centre from scatter.

    Parameters
    ----------
    change_in : float
        The change to be seen. [in]
    scatter_in : float
        Standard deviation of one shot. [in]
    power : float
        Deviate of the chance to see it: 0 for even, 1.28 for nine in ten.

    Returns
    -------
    int
        n = 2 ((z_0.975 + z_power) scatter / change)²: about 8 (s/c)² for an even chance, 21 (s/c)² for nine
        in ten. Source: any textbook of the comparison of two means; checked against statsmodels.
    """
    if change_in <= 0:
        raise BadInput("How large is the change?", "change", "more than 0")
    return max(ceil(2 * ((TWO_SIDED_95 + power) * scatter_in / change_in) ** 2 - 1e-9), 1)


def two_alike(shots: Sequence[Shot], scatter_in: float) -> bool:
    """Whether the last two good shots show the same: no farther apart than two of one thing usually are."""
    good = [one for one in shots if one.good][-2:]
    if len(good) < 2:
        return False
    apart = hypot(good[0].x_in - good[1].x_in, good[0].y_in - good[1].y_in)
    return apart <= 2 * sqrt(2) * scatter_in
