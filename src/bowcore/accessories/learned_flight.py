"""How an arrow flies, learned from its speed, a usual arrow's drag, and every mark that the archer has shot.

Speed, drag and peep to pin each have a prior; where the pin would stand on its bar is not known. The marks'
places update all of them by iterated weighted least squares. Derived in docs/derivations/fit.md.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import hypot, pi, sqrt

import numpy as np

from bowcore.accessories.arrow import Arrow
from bowcore.accessories.arrow_speed import GRAINS_A_POUND, speed_fps
from bowcore.accessories.sight import (
    GRAVITY_FPS2,
    INCHES_A_FOOT,
    MOST_DRAG_PER_FT,
    Flight,
    MovedMark,
    SightGeometry,
    SightMark,
    impact_lower_in,
    pin_place_in,
)
from bowcore.bow.machine import Floats
from bowcore.errors import BadInput

USUAL_DRAG_PER_FT, USUAL_DRAG_SIGMA = 0.0003, 0.00015
"""By how much of itself a foot slows an arrow of which nothing is known, how arrows differ: our figure."""
DRAG_COEFFICIENT, DRAG_COEFFICIENT_SIGMA = 1.9, 0.5
"""Of an arrow by the area of its shaft's section: 1.5 with a smooth flow along it, 2.6 with a rough one
(T. Miyazaki et al., Aerodynamic properties of an archery arrow, Sports Engineering 16, 2013; from memory)."""
AIR_SLUG_FT3 = 0.002377
"""Density of air at sea level, 59 F (U.S. Standard Atmosphere, 1976)."""
SPEED_SHARE_SIGMA = 0.005
"""How far off a chronograph is as a whole, as a share: our figure. It does not average out."""
GIVEN_SHARE, GIVEN_SHARE_SIGMA = 0.82, 0.025
"""Share of its stored energy that a bow gives its arrow: 78 to 86 % are usual (common practice, no published
source)."""
PEEP_TO_PIN_SIGMA_IN = 0.25
"""Of a tape along an archer at full draw: our figure."""
MARK_SIGMA_IN = 0.02
"""Of a mark that was shot in and read from the bar: our figure."""
FAR_FROM_THE_REST = 4.0
"""A mark so many of its standard deviations off is a mistake somewhere: our figure."""
ROUNDS = 5
SPEED, DRAG, PEEP_TO_PIN, ZERO = range(4)
SMALL = (0.5, 1e-5, 0.05)
"""Differences by which slopes are taken: ft/s, 1/ft, in."""
STEP_DOWN_ABOVE = (300.0, MOST_DRAG_PER_FT / 2, 30.0)
"""Above these a difference goes down, so that it stays inside of what there is: ft/s, 1/ft, in."""


Figure = Callable[[Flight, SightGeometry], float]


@dataclass(frozen=True)
class Drag:
    """By how much of itself a foot slows an arrow, and how sure that is. [1/ft]"""

    per_ft: float
    sigma: float


def usual_drag(arrow: Arrow | None) -> Drag:
    """Of an arrow by its mass and the area of its shaft's section; of a usual one where it is not known."""
    if arrow is None:
        return Drag(USUAL_DRAG_PER_FT, USUAL_DRAG_SIGMA)
    area_ft2 = pi / 4 * (arrow.shaft_in / INCHES_A_FOOT) ** 2
    slugs = arrow.mass_gr / GRAINS_A_POUND / GRAVITY_FPS2
    by_coefficient = AIR_SLUG_FT3 * area_ft2 / (2 * slugs)
    return Drag(DRAG_COEFFICIENT * by_coefficient, DRAG_COEFFICIENT_SIGMA * by_coefficient)


def speed_by_energy(stored_ft_lbf: float, mass_gr: float) -> tuple[float, float]:
    """How fast an arrow flies from a bow that stores an energy, and its standard deviation. [ft/s]"""
    fps = speed_fps(GIVEN_SHARE * stored_ft_lbf, mass_gr)
    return fps, fps * GIVEN_SHARE_SIGMA / GIVEN_SHARE / 2


@dataclass(frozen=True)
class LearnedFlight:
    """Flight and geometry with what is not known of them; `covariance` is of speed, drag and peep to pin.

    `marks` is how many marks it rests on; `doubt` says in a sentence why marks were left out, else "".
    """

    flight: Flight
    sight: SightGeometry
    covariance: Floats
    marks: int = 0
    doubt: str = ""

    def at_speed(self, fps: float, sigma: float) -> "LearnedFlight":
        """The same arrow and archer at another speed, as sure as that change is. [ft/s]"""
        covariance = self.covariance.copy()
        covariance[SPEED, SPEED] += sigma**2
        return replace(self, flight=replace(self.flight, speed_fps=fps), covariance=covariance)

    def sigma_of(self, figure: Figure) -> float:
        """Standard deviation of a figure that follows from flight and geometry."""
        slopes = np.array(_slopes(figure, self.flight, self.sight)[1])
        return sqrt(max(float(slopes @ self.covariance @ slopes), 0.0))


def learned_flight(
    speed: tuple[float, float],
    sight: SightGeometry,
    marks: Sequence[SightMark] = (),
    arrow: Arrow | None = None,
) -> LearnedFlight:
    """The flight by a speed and all marks that were shot with it.

    Parameters
    ----------
    speed : pair of float
        As it was read, and its standard deviation. [ft/s]
    sight : SightGeometry
        As it was measured.
    marks : sequence of SightMark
        The archer's own; one alone shows nothing, for the bar's zero is not known.
    arrow : Arrow, optional
        Whose drag is expected.

    Raises
    ------
    BadInput
        No bow shoots at that speed. Marks that no arrow explains are left out and said.
    """
    drag = usual_drag(arrow)
    mean = np.array([speed[0], drag.per_ft, sight.peep_to_pin_in, 0.0])
    sigma = np.array([
        hypot(speed[1], SPEED_SHARE_SIGMA * speed[0]), drag.sigma, PEEP_TO_PIN_SIGMA_IN,
    ])  # fmt: skip
    before = LearnedFlight(Flight(speed[0], drag.per_ft), sight, np.diag(sigma**2))
    if len(marks) < 2:
        return before
    try:
        return _by_marks(before, mean, sigma, marks)
    except BadInput:  # on the way to these marks no bow, no arrow or no archer is left
        return replace(before, doubt=_say_doubt("nothing flies by these marks", speed[0]))


def _by_marks(
    before: LearnedFlight, mean: Floats, sigma: Floats, marks: Sequence[SightMark]
) -> LearnedFlight:
    """The prior, updated by all marks; as it was, with a doubt, where one is far from the rest."""
    sight = before.sight
    weight = np.diag([*(1 / sigma**2), 0.0])
    now = mean.copy()
    for _ in range(ROUNDS):
        off, slopes = _against_marks(now, sight, marks)
        normal = weight + slopes.T @ slopes / MARK_SIGMA_IN**2
        step = np.linalg.solve(normal, slopes.T @ off / MARK_SIGMA_IN**2 + weight @ (mean - now))
        now = now + step
        now[DRAG] = min(max(now[DRAG], 0.0), MOST_DRAG_PER_FT)
    off, _ = _against_marks(now, sight, marks)
    by_mark, by_prior = np.abs(off) / MARK_SIGMA_IN, np.abs(now - mean)[:ZERO] / sigma
    if max(by_mark.max(), by_prior.max()) > FAR_FROM_THE_REST:
        yards = marks[int(np.argmax(by_mark))].distance_yd
        what = (
            f"the mark at {yards:g} yd does not go with the others"
            if by_mark.max() > by_prior.max()
            else "the marks are not where a usual arrow's would be"
        )
        return replace(before, doubt=_say_doubt(what, before.flight.speed_fps))
    covariance: Floats = np.linalg.inv(normal)[:ZERO, :ZERO].astype(np.float64)
    flight = Flight(float(now[SPEED]), float(now[DRAG]))
    return LearnedFlight(flight, _geometry(sight, now), covariance, len(marks))


def _against_marks(
    now: Floats, sight: SightGeometry, marks: Sequence[SightMark]
) -> tuple[Floats, Floats]:
    """How far each mark is from where it should be [in], and its slopes by speed, drag, peep to pin, zero."""
    flight, geometry = Flight(float(now[SPEED]), float(now[DRAG])), _geometry(sight, now)
    off, slopes = [], []
    for mark in marks:
        place, by_each = _slopes(_place_at(mark.distance_yd), flight, geometry)
        off.append(mark.place_in - now[ZERO] - place)
        slopes.append([*by_each, 1.0])
    return np.array(off), np.array(slopes)


def _geometry(sight: SightGeometry, now: Floats) -> SightGeometry:
    return replace(sight, peep_to_pin_in=float(now[PEEP_TO_PIN]))


def _place_at(distance_yd: float) -> Figure:
    return lambda flight, sight: pin_place_in(flight, sight, distance_yd)


def _slopes(figure: Figure, flight: Flight, sight: SightGeometry) -> tuple[float, list[float]]:
    """A figure, and by how much it changes with speed, drag and peep to pin."""
    here, at = figure(flight, sight), (flight.speed_fps, flight.drag_per_ft, sight.peep_to_pin_in)
    steps = [
        -by if now > high else by for by, now, high in zip(SMALL, at, STEP_DOWN_ABOVE, strict=True)
    ]
    beside = (
        (replace(flight, speed_fps=flight.speed_fps + steps[SPEED]), sight),
        (replace(flight, drag_per_ft=flight.drag_per_ft + steps[DRAG]), sight),
        (flight, replace(sight, peep_to_pin_in=sight.peep_to_pin_in + steps[PEEP_TO_PIN])),
    )
    return here, [(figure(*one) - here) / step for one, step in zip(beside, steps, strict=True)]


def _say_doubt(what: str, fps: float) -> str:
    return f"At {fps:.0f} fps {what}. Look at the speed, at peep to pin, and at the marks."


def moved_marks(
    before: LearnedFlight, change_fps: tuple[float, float], distances_yd: Sequence[float]
) -> list[MovedMark]:
    """Where marks go when the speed has changed.

    Parameters
    ----------
    before : LearnedFlight
        By which the old marks were shot.
    change_fps : pair of float
        How much faster the same arrow is now, and its standard deviation. [ft/s]
    distances_yd : sequence of float
        The distances. [yd]

    Raises
    ------
    BadInput
        It does not fly so far.
    """
    faster, sigma = change_fps
    found = []
    for distance in distances_yd:

        def moved(flight: Flight, sight: SightGeometry, at: float = distance) -> float:
            after = replace(flight, speed_fps=flight.speed_fps + faster)
            return pin_place_in(after, sight, at) - pin_place_in(flight, sight, at)

        now = replace(before.flight, speed_fps=before.flight.speed_fps + faster)
        by_change = sigma * _slopes(_place_at(distance), now, before.sight)[1][SPEED]
        found.append(
            MovedMark(
                distance,
                moved(before.flight, before.sight),
                hypot(before.sigma_of(moved), by_change),
                impact_lower_in(before.flight, now, distance),
            )
        )
    return found
