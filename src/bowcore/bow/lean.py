"""Cam lean: from a laid shaft or laser to an angle, and what a yoke leg or a shim does to it.

The cam tilts under the moment of ropes that pull beside its middle; a yoke's two legs pull it
upright or over. Signs are sound (common practice); the size is uncertain threefold until a first
trial has shown it, because nobody publishes how stiff a limb is in twist. Not validated.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan, degrees, isfinite, radians, tan

from bowcore.bow.bundle import Bundle
from bowcore.errors import BadInput

HALF_AXLE_IN = 0.8  # half the distance between the yoke's two legs at the axle
LEG_LENGTH_IN = 5.0
GUARD_DISTANCE_IN = 13.0  # from the yoke's junction to the cable guard
TILT_STIFFNESS = 2600.0  # lbf in/rad of limb and axle; estimate, learned from the first trial
YOKE_TENSION_LBF = 300.0  # of a yoked cable at full draw; its size is uncertain anyway
CAM_TENSION_LBF = 2 * YOKE_TENSION_LBF  # both cables on one cam at full draw
LEG = Bundle(5.0, 16, 3.0)  # one leg of a yoke: length, strands, twists; common practice
LEAN_AT = {"top": "lean", "bottom": "lean_bottom"}
"""The quantity that shows how the cam at each axle leans."""
SHAFT_IN = 24.0
WORST_FACTOR = 3.0  # the size of the response is known no better than this


@dataclass(frozen=True)
class Lean:
    """How far a cam leans, as the laid shaft shows it from behind the bow.

    Positive: the far end of a shaft pointing down from the top cam runs off to the right.
    `spread_deg` is half the difference of the two faces: a bent shaft or a worn cam shows here.
    """

    angle_deg: float
    spread_deg: float = 0.0

    def off_in(self, over_in: float = SHAFT_IN) -> float:
        """How far the shaft's end is off the string. [in]"""
        return over_in * tan(radians(self.angle_deg))


def lean_from_shaft(off_in: Sequence[float], over_in: float = SHAFT_IN) -> Lean:
    """Lean from a straight shaft laid on one face of the cam, or better on both.

    Parameters
    ----------
    off_in : sequence of float, length 1 or 2
        How far the shaft's far end is off the string on each face; right is positive. [in]
    over_in : float
        From the cam to that end. [in]

    Returns
    -------
    Lean
        Both faces averaged.

    Raises
    ------
    BadInput
        No reading, more than two faces, or an end that is off by more than the shaft is long.
    """
    if not 1 <= len(off_in) <= 2 or over_in <= 0:
        raise BadInput("Lay the shaft on one face or on both.", "off_in", "one or two numbers")
    if not all(isfinite(value) and abs(value) < over_in for value in off_in):
        raise BadInput("The shaft's end cannot be off by more than its length.", "off_in")
    angles = [degrees(atan(value / over_in)) for value in off_in]
    return Lean(sum(angles) / len(angles), (max(angles) - min(angles)) / 2)


def degrees_per_leg_step(
    tension_lbf: float, leg: Bundle, tilt_stiffness: float = TILT_STIFFNESS
) -> float:
    """How far half a twist in one yoke leg tilts the cam, without sign. [degrees]

    Parameters
    ----------
    tension_lbf : float
        Tension of the yoked cable at full draw. [lbf]
    leg : Bundle
        One leg of the yoke.
    tilt_stiffness : float
        Of limb and axle against tilting. [lbf in/rad]

    Returns
    -------
    float
        Bounded by the tilt that the leg's shortening alone would make.
    """
    shorter = leg.shortening_in(1)
    lever = LEG_LENGTH_IN * (1 + LEG_LENGTH_IN / GUARD_DISTANCE_IN)
    share = tension_lbf * lever / (tilt_stiffness + tension_lbf * lever)
    return degrees(share * shorter / (2 * HALF_AXLE_IN))


def degrees_per_shim(
    tension_lbf: float, thickness_in: float, tilt_stiffness: float = TILT_STIFFNESS
) -> float:
    """How far moving the cam sideways by one shim tilts it, without sign. [degrees]

    Parameters
    ----------
    tension_lbf : float
        Sum of the ropes' tensions on the cam. [lbf]
    thickness_in : float
        How far the cam moves along its axle. [in]
    tilt_stiffness : float
        Of limb and axle against tilting. [lbf in/rad]

    Returns
    -------
    float
        [degrees]
    """
    return degrees(tension_lbf * thickness_in / tilt_stiffness)
