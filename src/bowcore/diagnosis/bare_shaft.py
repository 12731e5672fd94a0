"""Bare shafts among fletched ones: whether they land together, and what it means if they do not."""

from dataclasses import dataclass
from enum import StrEnum
from math import hypot

from bowcore.diagnosis.lines import CLEAR_SIGMAS
from bowcore.diagnosis.shots import Group, shots_to_tell

MEETS_IN = 1.0
"""Bare meets fletched within an inch at 20 yards (common practice)."""
AT_YD = 20.0


class Together(StrEnum):
    """How bare and fletched lie."""

    MEET = "meet"
    APART = "apart"
    UNDECIDED = "undecided"


@dataclass(frozen=True)
class BareShaft:
    """Bare less fletched [in], its doubt, the verdict, and how many more of each would decide it."""

    x_in: float
    y_in: float
    sigma_x: float
    sigma_y: float
    verdict: Together
    more_shots: int = 0


def bare_against_fletched(bare: Group, fletched: Group, distance_yd: float) -> BareShaft:
    """Compare two groups.

    Parameters
    ----------
    bare : Group
        Shot among the fletched ones, nothing changed between them.
    fletched : Group
        At the same distance.
    distance_yd : float
        What is allowed grows with it: an inch at 20 yards.

    Returns
    -------
    BareShaft
        Apart where the difference is beyond what is allowed and beyond two of its errors; undecided where it
        is one of both only.
    """
    x, y = bare.x_in - fletched.x_in, bare.y_in - fletched.y_in
    sigma_x = hypot(bare.sigma_x, fletched.sigma_x)
    sigma_y = hypot(bare.sigma_y, fletched.sigma_y)
    off, allowed = hypot(x, y), MEETS_IN * distance_yd / AT_YD
    doubt = CLEAR_SIGMAS * max(sigma_x, sigma_y)
    if off + doubt <= allowed or (off <= allowed and min(bare.shots, fletched.shots) > 2):
        return BareShaft(x, y, sigma_x, sigma_y, Together.MEET)
    if off - doubt > 0 and off > allowed:
        return BareShaft(x, y, sigma_x, sigma_y, Together.APART)
    scatter = max(sigma_x, sigma_y) * min(bare.shots, fletched.shots) ** 0.5
    wanted = shots_to_tell(max(off, allowed), scatter)
    more = max(wanted - min(bare.shots, fletched.shots), 1)
    return BareShaft(x, y, sigma_x, sigma_y, Together.UNDECIDED, more)
