"""Centre shot: from the riser's face, from the string's plane, or front against back; the arrow's angle.

All offsets are lateral, as seen from behind the bow; "out" is away from the riser's face.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import atan2, degrees, radians, tan

from bowcore.errors import BadInput
from bowcore.quantities.inches import say_length

USUAL_CENTRE_SHOT_IN = 13 / 16
"""From the riser's face to the arrow's centre, where no book says otherwise; 3/4 is as common (common
practice)."""
FAR_OFF_IN = 1 / 8
"""A rest that has to go farther than this from where it should be says that something else is wrong."""
LEAST_SPAN_IN = 4.0


class CentreMethod(StrEnum):
    """Where the lateral start comes from (common practice)."""

    BOOK = "book"
    GAUGE = "gauge"
    LASER = "laser"
    EYE = "eye"


CENTRE_METHODS = {
    CentreMethod.BOOK: "The book's figure from the riser's face",
    CentreMethod.GAUGE: "Front and back alike by a gauge on the riser's flat",
    CentreMethod.LASER: "A laser on the string, then along the shaft",
    CentreMethod.EYE: "Eyeballed on the string, then shot",
}


@dataclass(frozen=True)
class ArrowLine:
    """Where the arrow lies sideways: out from the riser's face at two places along it. [in]

    `front` is toward the point, `back` toward the string, `apart` the distance between them.
    """

    front: float
    back: float
    apart: float

    def __post_init__(self) -> None:
        """Refuse a span that shows no angle.

        Raises
        ------
        BadInput
            The two places are too near each other.
        """
        if self.apart < LEAST_SPAN_IN:
            raise BadInput(
                f"Read front and back at least {LEAST_SPAN_IN:g} in apart, or the gauge decides.",
                "apart", f"{LEAST_SPAN_IN:g} in or more",
            )  # fmt: skip

    @property
    def angle_deg(self) -> float:
        """How far the point lies out. [deg]"""
        return degrees(atan2(self.front - self.back, self.apart))

    def at(self, ahead_of_back_in: float) -> float:
        """Offset from the riser's face at a place along the arrow. [in]"""
        return self.back + (self.front - self.back) * ahead_of_back_in / self.apart


def angle_of_offset_deg(off_plane_in: float, nock_to_rest_in: float) -> float:
    """The arrow's angle where the rest is so far off the string's plane. [deg]"""
    return degrees(atan2(off_plane_in, nock_to_rest_in))


def offset_of_angle_in(angle_deg: float, nock_to_rest_in: float) -> float:
    """How far off the string's plane the rest is at an angle of the arrow. [in]"""
    return nock_to_rest_in * tan(radians(angle_deg))


@dataclass(frozen=True)
class BehindCentre:
    """Something other than the rest that may push the arrow off centre, and the number that says so."""

    name: str
    why: str


def points_back_at(off_in: float, leans: Sequence[tuple[str, float, float]]) -> list[BehindCentre]:
    """What a rest far off centre points back at, the likeliest first; empty while it is near.

    Parameters
    ----------
    off_in : float
        Centre shot less where it should be. [in]
    leans : sequence of (name, reading, tolerance)
        Each cam's lean that has been read, in the shaft's inches.
    """
    if abs(off_in) <= FAR_OFF_IN:
        return []
    way = "farther out" if off_in > 0 else "farther in"
    far = f"The rest is {say_length(abs(off_in))} {way} than it should be."
    found = [
        BehindCentre(
            name,
            f"{far} {name} runs {say_length(abs(value))} off: balance yoke legs or shims first.",
        )
        for name, value, tolerance in sorted(leans, key=lambda one: -abs(one[1]))
        if abs(value) > tolerance
    ]
    if found:
        return found
    return [
        BehindCentre("Lean", f"{far} Read the lean of each cam before the rest goes any farther.")
    ]


BLADES = ((340.0, 0.008), (405.0, 0.010), (float("inf"), 0.012))
"""Up to which arrow mass [gr] which blade thickness [in]: .008 at 300 grains, .010 at 400, .012 above (common
practice)."""


def blade_in(mass_gr: float) -> float:
    """Thickness of a fixed blade for an arrow. [in]"""
    return next(thickness for most, thickness in BLADES if mass_gr <= most)
