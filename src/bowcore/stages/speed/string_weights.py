"""String weights as an experiment: places tried one after another, a parabola through them, when to stop.

A place is where the weights sit, from each cam along the string, both ends alike [in]. Three shots a place,
coarse then fine, stopped after two that are worse: common practice with two figures of ours.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import sqrt

import numpy as np

from bowcore.deciding.act import Act
from bowcore.errors import BadInput
from bowcore.measurement.lines import CLEAR_SIGMAS
from bowcore.measurement.normal import chi_square_95
from bowcore.quantities.inches import say_length
from bowcore.stages.speed.speed_strings import SpeedString

FINE_IN = 1 / 8
COARSE_IN = 3 / 8
WORSE_IN_A_ROW = 2
"""Two worse in a row end a direction: our figure."""
NEAREST_IN, FARTHEST_IN = 1 / 4, 5.0
USUAL_START_IN = 1.0
LEAST_FOR_A_PARABOLA = 4
MOST_PLACES = 12


class WeightsActKind(StrEnum):
    """What to do with the weights."""

    SHOOT = "shoot"
    STOP = "stop"


@dataclass(frozen=True)
class Optimum:
    """The top of the parabola and its standard uncertainty [in], and the speed there [ft/s]."""

    place_in: float
    sigma_in: float
    fps: float


@dataclass(frozen=True, kw_only=True)
class WeightsAct(Act):
    """The next place to shoot from, or where to leave the weights; and why.

    `gain_fps` is how much the best place gives against the worst that was tried, `clear` whether that is more
    than its doubt.
    """

    kind: WeightsActKind
    place_in: float
    gain_fps: float = 0.0
    clear: bool = False
    optimum: Optimum | None = None


def next_place(strings: Sequence[SpeedString], start_in: float = USUAL_START_IN) -> WeightsAct:
    """Where to put the weights now.

    Parameters
    ----------
    strings : sequence of SpeedString
        Of one arrow, each with its place; nothing else changed between them.
    start_in : float
        Where to begin: where they sat, else the usual place. [in]

    Raises
    ------
    BadInput
        A string without a place.
    """
    if any(one.weights_in is None for one in strings):
        raise BadInput("Where were the weights? Each string needs its place.", "weights")
    unfinished = next((one for one in strings if not one.finished), None)
    if unfinished is not None:
        return _shoot(_place(unfinished), "Three shots within 2 fps are a string.")
    if not strings:
        return _shoot(_on_grid(start_in), "Begin where they sit.")
    if len(strings) < MOST_PLACES:
        coarse = _next_coarse(strings)
        if coarse is not None:
            return coarse
        fine = _next_fine(strings)
        if fine is not None:
            return fine
    return _stop(strings)


def optimum_of(strings: Sequence[SpeedString]) -> Optimum | None:
    """The top of a parabola through the strings, weighted by their doubt.

    None where they are too few, or where no top stands out between the places tried. Its uncertainty is of
    first order (delta method), from the covariance of the least squares (checked against statsmodels).
    """
    if len(strings) < LEAST_FOR_A_PARABOLA:
        return None
    places = np.array([_place(one) for one in strings])
    speeds = np.array([one.mean for one in strings])
    weights = 1 / np.array([one.sigma for one in strings]) ** 2
    middle = float(places.mean())
    design = np.vander(places - middle, 3)
    covariance = np.linalg.pinv(design.T @ (design * weights[:, None]))
    bend, slope, level = covariance @ (design.T @ (weights * speeds))
    if bend >= 0:
        return None
    top = -slope / (2 * bend)
    gradient = np.array([slope / (2 * bend**2), -1 / (2 * bend), 0.0])
    sigma = sqrt(float(gradient @ covariance @ gradient))
    if not places.min() <= top + middle <= places.max():
        return None
    return Optimum(float(top + middle), sigma, float(level + slope * top / 2))


def _next_coarse(strings: Sequence[SpeedString]) -> WeightsAct | None:
    """Outward until two are worse than the best, then inward from where it began, likewise."""
    tried = {_place(one): one for one in strings}
    for way in (COARSE_IN, -COARSE_IN):
        place = _first_missing(_place(strings[0]), way, tried)
        if place is not None and NEAREST_IN <= place <= FARTHEST_IN:
            side = "farther out" if way > 0 else "nearer to the cams"
            return _shoot(place, f"Coarse first: {side}, until two in a row are worse.")
    return None


def _first_missing(start: float, way: float, tried: dict[float, SpeedString]) -> float | None:
    """The next place in one direction; None once two in a row were worse than the best before them."""
    best, worse, place = tried[start].mean, 0, start + way
    while place in tried:
        worse = worse + 1 if tried[place].mean < best else 0
        best = max(best, tried[place].mean)
        if worse == WORSE_IN_A_ROW:
            return None
        place += way
    return place


def _next_fine(strings: Sequence[SpeedString]) -> WeightsAct | None:
    """At the parabola's top, to the nearest eighth, once the coarse places differ at all."""
    top = optimum_of(strings)
    if top is None or not _gain(strings)[1]:
        return None
    place = _on_grid(top.place_in)
    if any(abs(_place(one) - place) < FINE_IN / 2 for one in strings):
        return None
    return _shoot(place, f"The parabola through {len(strings)} strings has its top there.")


def _stop(strings: Sequence[SpeedString]) -> WeightsAct:
    best = max(strings, key=lambda one: one.mean)
    gain, clear = _gain(strings)
    top = optimum_of(strings)
    if not clear:
        first = _place(strings[0])
        why = (
            f"The best and the worst place differ by {gain:.1f} fps, no more than the doubt of the strings. "
            "Put the weights back where they were."
        )
        return _leave(first, why, gain, False, top)
    place = _place(best) if top is None else _on_grid(top.place_in)
    why = f"{gain:.1f} fps between this place and the worst: {gain / best.mean:.1%}."
    return _leave(place, why, gain, True, top)


def _gain(strings: Sequence[SpeedString]) -> tuple[float, bool]:
    """Between the best and the worst place [ft/s], and whether the places differ beyond their doubt.

    Of many places one always looks best: all of them together have to differ as well.
    """
    best = max(strings, key=lambda one: one.mean)
    worst = min(strings, key=lambda one: one.mean)
    gain = best.mean - worst.mean
    doubt = sqrt(best.sigma**2 + worst.sigma**2)
    return gain, gain > CLEAR_SIGMAS * doubt and places_differ(strings)


def places_differ(strings: Sequence[SpeedString]) -> bool:
    """Whether the strings scatter more about their mean than their own doubts explain.

    Chi-square test of equal means at 5 %.
    """
    freedom = len(strings) - 1
    if not freedom:
        return False
    means = np.array([one.mean for one in strings])
    weights = 1 / np.array([one.sigma for one in strings]) ** 2
    middle = float((weights * means).sum() / weights.sum())
    scatter = float((weights * (means - middle) ** 2).sum())
    return scatter > chi_square_95(freedom)


def _shoot(place: float, why: str) -> WeightsAct:
    do = f"Weights {say_length(place, 8)} from each cam, both ends alike; shoot three."
    return WeightsAct(do, why, kind=WeightsActKind.SHOOT, place_in=place)


def _leave(place: float, why: str, gain: float, clear: bool, top: Optimum | None) -> WeightsAct:
    return WeightsAct(
        f"Leave the weights {say_length(place, 8)} from each cam.",
        why,
        kind=WeightsActKind.STOP,
        place_in=place,
        gain_fps=gain,
        clear=clear,
        optimum=top,
    )


def _place(string: SpeedString) -> float:
    assert string.weights_in is not None
    return string.weights_in


def _on_grid(place: float) -> float:
    whole = round(place / FINE_IN) * FINE_IN
    return min(max(whole, NEAREST_IN), FARTHEST_IN)
