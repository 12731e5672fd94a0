"""The string at the nock: its angles at full draw, the free play that they ask for, where the nock starts.

Derived in docs/derivations/fit.md. Angles are between a half of the string and the upright. [rad]
"""

from dataclasses import dataclass
from math import atan2, degrees, tan

import numpy as np

from bowcore.bow.layout import LOWER, UPPER
from bowcore.bow.machine import XN, YN, Floats, State, geometry
from bowcore.bow.twin import Twin


@dataclass(frozen=True)
class StringAngles:
    """How far each half of the string is from upright at full draw. [rad]"""

    upper: float
    lower: float

    @property
    def included_deg(self) -> float:
        """Between the two halves. [deg]"""
        return 180.0 - degrees(self.upper + self.lower)


def string_angles(twin: Twin) -> StringAngles:
    """Of a bow at full draw."""
    upper, lower = halves(twin, twin.full_draw)
    return StringAngles(atan2(upper[0, 0], -upper[0, 1]), atan2(lower[0, 0], lower[0, 1]))


def halves(twin: Twin, state: State) -> tuple[Floats, Floats]:
    """Directions of the upper and the lower half, from the cam toward the nock, (n, 2) each, of length 1."""
    machine = twin.machine.repeat(state.size)
    pull = geometry(machine, state).gradient
    return pull[:, UPPER, XN : YN + 1], pull[:, LOWER, XN : YN + 1]


def gap_needed_in(angles: StringAngles, served_in: float, tie_in: float) -> float:
    """Free play that nock and ties want at rest, so that they do not pinch at full draw. [in]

    Parameters
    ----------
    angles : StringAngles
        At full draw.
    served_in : float
        Diameter of the string with its serving. [in]
    tie_in : float
        Diameter of the thread that the ties are made of. [in]
    """
    reach = (served_in + tie_in) / 2
    return reach * (tan(angles.upper / 2) + tan(angles.lower / 2))


NOCK_TO_REST_IN = 7.0
"""From the nock to the rest: our figure; the bow's own answer replaces it."""
USUAL_ARROW_IN = 28.5
TEAR_DOUBT = 0.6
"""How far a bow may differ from what geometry says of its tear, as a share: our figure; trials replace it."""


NOCK_AGAINST_REST = 3.0
"""1/16 in at the nock is worth about 3/16 in at the rest (common practice, no published source)."""


def tear_up_in(nock_up_in: float, rest_up_in: float, arrow_in: float = USUAL_ARROW_IN) -> float:
    """How much higher the nock's hole comes on paper after a move, by geometry alone. [in]

    The arrow leaves tilted by the height over the distance from nock to rest, and tears paper over its whole
    length.

    Parameters
    ----------
    nock_up_in : float
        How far the nock was raised. [in]
    rest_up_in : float
        How far the rest was raised. [in]
    arrow_in : float
        Length of the arrow. [in]
    """
    return (nock_up_in - rest_up_in / NOCK_AGAINST_REST) * arrow_in / NOCK_TO_REST_IN


@dataclass(frozen=True)
class NockStart:
    """Where the nock starts so that it stays level with the rest through the draw.

    `above_rest_in` is the height of the nock's centre above the arrow's place on the rest, square to the
    string; `travel_in` how far the nock leaves that level, highest less lowest; `drift_in` where it is at
    full draw against the start.
    """

    above_rest_in: float
    travel_in: float
    drift_in: float


def nock_start(twin: Twin, samples: int = 24) -> NockStart:
    """By the nock's path of the twin: as much of it above the rest as below."""
    xs = np.linspace(twin.brace_height_in, float(twin.full_draw.nock_x[0]), samples)
    height = twin.at(xs).q[:, YN]
    mean = float(np.trapezoid(height, xs) / (xs[-1] - xs[0]))
    return NockStart(
        float(height[0]) - mean,
        float(height.max() - height.min()),
        float(height[-1] - height[0]),
    )
