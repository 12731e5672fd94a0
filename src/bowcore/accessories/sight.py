"""The sight: its axes, and where its marks go when the bow shoots faster or slower.

Flat range; no wind. Without drag the arrow's path is a parabola; with it, slowed by k v^2. Derived in
docs/derivations/fit.md. Marks are places of the pin on its bar, downward for farther. [in]
"""

from dataclasses import dataclass
from math import atan, cos, hypot, radians, sin, tan

from bowcore.errors import BadInput

GRAVITY_FPS2 = 32.174
FEET_A_YARD, INCHES_A_FOOT = 3.0, 12.0
GROUND_STEPS = 12
BISECTIONS = 40
MOST_DRAG_PER_FT = 0.004
"""Ten times what a usual arrow has: beyond, the marks were not shot with one arrow; our figure."""
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
        at: tuple[float, ...] = (0.0, tan(angle), self.speed_fps * cos(angle))
        for _ in range(GROUND_STEPS):
            k1 = self._along_the_ground(at)
            k2 = self._along_the_ground(_onward(at, k1, step / 2))
            k3 = self._along_the_ground(_onward(at, k2, step / 2))
            k4 = self._along_the_ground(_onward(at, k3, step))
            at = tuple(
                a + step / 6 * (one + 2 * two + 2 * three + four)
                for a, one, two, three, four in zip(at, k1, k2, k3, k4, strict=True)
            )
        return at[0]

    def _along_the_ground(self, at: tuple[float, ...]) -> tuple[float, float, float]:
        """Derivative of (height, slope, speed along the ground) by the distance."""
        _, slope, speed = at
        slowed = -self.drag_per_ft * speed * hypot(1.0, slope)
        return slope, -GRAVITY_FPS2 / speed**2, slowed


def _onward(at: tuple[float, ...], by: tuple[float, ...], step: float) -> tuple[float, ...]:
    return tuple(a + step * b for a, b in zip(at, by, strict=True))


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

    @property
    def hits(self) -> str:
        """Where the arrow hits by the old mark, in words."""
        return f"{abs(self.impact_in):.1f} in {'low' if self.impact_in > 0 else 'high'}"

    @property
    def goes(self) -> str:
        """Where the mark goes, in words."""
        return f"{abs(self.down_in):.3f} in {'down' if self.down_in > 0 else 'up'}"


def impact_lower_in(before: Flight, now: Flight, distance_yd: float) -> float:
    """How much lower an arrow hits by the old mark. [in]"""
    ft = distance_yd * FEET_A_YARD
    return INCHES_A_FOOT * (now.drop_ft(ft) - before.drop_ft(ft))


def miss_by_axis_in(
    distance_yd: float, flight: Flight, axis_off_deg: float, slope_deg: float
) -> float:
    """How far sideways an arrow goes on a slope for a third axis that is off. [in]

    On a slope the bubble hides a cant of the error times the slope's tangent; of the launch angle the
    cosine of the slope is left. Together that is the sine.
    """
    slope = radians(slope_deg)
    angle = flight.launch_angle(distance_yd * FEET_A_YARD) * cos(slope)
    cant = radians(axis_off_deg) * tan(slope)
    return distance_yd * FEET_A_YARD * INCHES_A_FOOT * tan(angle) * sin(cant)
