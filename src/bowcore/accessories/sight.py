"""The sight: its axes, and where its marks go when the bow shoots faster or slower.

Flat range; no wind. Without drag the arrow's path is a parabola; with it, slowed by k v^2. Derived in
docs/derivations/fit.md. Marks are places of the pin on its bar, downward for farther. [in]
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import atan, cos, hypot, radians, sin, tan

import numpy as np

from bowcore.bow.machine import Floats
from bowcore.errors import BadInput

GRAVITY_FPS2 = 32.174
FEET_A_YARD, INCHES_A_FOOT = 3.0, 12.0
GROUND_STEPS = 60
BISECTIONS = 40
MOST_DRAG_PER_FT = 0.004
"""Ten times what a usual arrow has: beyond, the marks were not shot with one arrow; our figure."""
MARK_READ_SIGMA_IN = 0.02
LEAST_MARKS = 2
LEAST_APART_YD = 10.0
STEEPEST = 0.6  # rad; no mark is shot steeper
AXES = (
    ("first", "First axis", "The sight's bar is vertical, the bow plumb on the string, both ways."),
    (
        "second",
        "Second axis",
        "The bubble is level while the pin bracket is level against a plumb string.",
    ),
    ("third", "Third axis", "The bubble stays level with the bow tilted 30 degrees up and down."),
)
"""In this order: fixing the third moves the second, which is checked again (common practice)."""


@dataclass(frozen=True)
class SightGeometry:
    """Where eye and pin are. [in]

    `peep_to_pin_in` at full draw; `eye_above_arrow_in` how far the peep stands above the arrow then.
    """

    peep_to_pin_in: float
    eye_above_arrow_in: float

    def __post_init__(self) -> None:
        """Refuse what no archer has.

        Raises
        ------
        BadInput
            Outside of what arms and faces are.
        """
        if not 15 <= self.peep_to_pin_in <= 50:
            raise BadInput("Peep to pin is read at full draw.", "peep_to_pin_in", "15 to 50 in")
        if not 1 <= self.eye_above_arrow_in <= 8:
            raise BadInput(
                "The eye is a few inches above the arrow.", "eye_above_arrow_in", "1 to 8 in"
            )


@dataclass(frozen=True)
class Flight:
    """How an arrow flies: its speed at the bow [ft/s], and by how much of itself a foot slows it [1/ft]."""

    speed_fps: float
    drag_per_ft: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what no bow shoots.

        Raises
        ------
        BadInput
            Outside of what compound bows do.
        """
        if not 80 <= self.speed_fps <= 450:
            raise BadInput(f"A speed of {self.speed_fps:g} ft/s?", "speed_fps", "80 to 450 ft/s")
        if not 0 <= self.drag_per_ft <= MOST_DRAG_PER_FT:
            raise BadInput(
                "No arrow is slowed so much.", "drag_per_ft", f"0 to {MOST_DRAG_PER_FT:g}"
            )

    def drop_ft(self, distance_ft: float, angle: float = 0.0) -> float:
        """How far below the line of its launch an arrow is. [ft, rad]"""
        if not self.drag_per_ft:
            return 0.5 * GRAVITY_FPS2 * (distance_ft / (self.speed_fps * cos(angle))) ** 2
        return distance_ft * tan(angle) - self._height_ft(distance_ft, angle)

    def launch_angle(self, distance_ft: float, rise_ft: float = 0.0) -> float:
        """At which angle it leaves to be `rise_ft` above the bow there. [rad]

        Raises
        ------
        BadInput
            It does not fly so far.
        """
        angle = (rise_ft + self.drop_ft(distance_ft)) / distance_ft
        for _ in range(BISECTIONS):
            if abs(angle) > STEEPEST:
                raise BadInput("An arrow of this speed does not fly so far.", "distance")
            again = atan((rise_ft + self.drop_ft(distance_ft, angle)) / distance_ft)
            if abs(again - angle) < 1e-10:
                break
            angle = again
        return angle

    def _height_ft(self, distance_ft: float, angle: float) -> float:
        """Height above the bow at a distance, by the classical Runge-Kutta method along the ground."""
        step = distance_ft / GROUND_STEPS
        at = np.array([0.0, tan(angle), self.speed_fps * cos(angle)])
        for _ in range(GROUND_STEPS):
            k1 = self._along_the_ground(at)
            k2 = self._along_the_ground(at + step / 2 * k1)
            k3 = self._along_the_ground(at + step / 2 * k2)
            k4 = self._along_the_ground(at + step * k3)
            at = at + step / 6 * (k1 + 2 * k2 + 2 * k3 + k4)
        return float(at[0])

    def _along_the_ground(self, at: Floats) -> Floats:
        """Derivative of (height, slope, speed along the ground) by the distance."""
        _, slope, speed = at
        slowed = -self.drag_per_ft * speed * hypot(1.0, slope)
        return np.array([slope, -GRAVITY_FPS2 / speed**2, slowed])


def pin_place_in(flight: Flight, sight: SightGeometry, distance_yd: float) -> float:
    """Place of the pin on its bar, downward from the line through the eye along the arrow. [in]

    The target is level with the eye; the pin lies on the line from eye to target, which falls from the
    arrow's line by the angle of launch.
    """
    eye_ft = sight.eye_above_arrow_in / INCHES_A_FOOT
    angle = flight.launch_angle(distance_yd * FEET_A_YARD, eye_ft)
    return sight.peep_to_pin_in * tan(angle)


@dataclass(frozen=True)
class SightMark:
    """A distance and where its mark is on the bar, growing downward. [yd, in]"""

    distance_yd: float
    place_in: float


@dataclass(frozen=True)
class MovedMark:
    """How far down a mark goes, with its doubt; `impact_in` is how much lower the arrow hits by the old one.
    [in]"""

    distance_yd: float
    down_in: float
    sigma_in: float
    impact_in: float


def fitted_drag(
    speed_fps: float, sight: SightGeometry, first: SightMark, second: SightMark
) -> Flight:
    """The flight whose marks are as far apart as two that the archer has shot.

    Raises
    ------
    BadInput
        The marks are the wrong way round, or no drag explains them: speed, peep to pin or a mark is wrong.
    """
    near, far = sorted((first, second), key=lambda one: one.distance_yd)
    if far.distance_yd - near.distance_yd < LEAST_APART_YD:
        raise BadInput(
            f"Two marks at least {LEAST_APART_YD:g} yards apart show how much the arrow slows.",
            "marks",
        )

    def apart(drag: float) -> float:
        flight = Flight(speed_fps, drag)
        places = (pin_place_in(flight, sight, one.distance_yd) for one in (far, near))
        return next(places) - next(places)

    wanted, low, high = far.place_in - near.place_in, 0.0, MOST_DRAG_PER_FT
    if not apart(low) - MARK_READ_SIGMA_IN <= wanted <= apart(high):
        raise BadInput(
            f"At {speed_fps:g} ft/s these marks would be {apart(low):.2f} to {apart(high):.2f} in apart, not "
            f"{wanted:.2f}. Look at the speed, at peep to pin, and at the marks.", "marks",
        )  # fmt: skip
    for _ in range(BISECTIONS):
        middle = (low + high) / 2
        low, high = (middle, high) if apart(middle) < wanted else (low, middle)
    return Flight(speed_fps, (low + high) / 2)


def moved_marks(
    before: Flight, now_fps: float, sight: SightGeometry, distances_yd: Sequence[float],
    speed_sigma_fps: float = 1.0,
) -> list[MovedMark]:  # fmt: skip
    """Where marks go when the speed has changed.

    Parameters
    ----------
    before : Flight
        By which the old marks were shot.
    now_fps : float
        Speed now, with the same arrow. [ft/s]
    sight : SightGeometry
        Of this archer.
    distances_yd : sequence of float
        The distances. [yd]
    speed_sigma_fps : float
        Standard deviation of the change of speed. [ft/s]
    """
    now = replace(before, speed_fps=now_fps)
    unsure = replace(before, speed_fps=now_fps - speed_sigma_fps)
    found = []
    for distance in distances_yd:
        was, place = (pin_place_in(one, sight, distance) for one in (before, now))
        sigma = abs(pin_place_in(unsure, sight, distance) - place)
        ft = distance * FEET_A_YARD
        lower = INCHES_A_FOOT * (now.drop_ft(ft) - before.drop_ft(ft))
        found.append(MovedMark(distance, place - was, sigma, lower))
    return found


def miss_by_axis_in(
    distance_yd: float, flight: Flight, axis_off_deg: float, slope_deg: float
) -> float:
    """How far sideways an arrow goes on a slope for a third axis that is off. [in]

    The axis cants the bow by its error times the sine of the slope; the launch angle is canted with it.
    """
    cant = radians(axis_off_deg) * sin(radians(slope_deg))
    angle = flight.launch_angle(distance_yd * FEET_A_YARD)
    return distance_yd * FEET_A_YARD * INCHES_A_FOOT * tan(angle) * sin(cant)
