"""Bare shafts among fletched ones: whether they land together, and what it means if they do not."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from math import hypot

import numpy as np

from bowcore.evidence.shots import Group, shots_to_tell
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate
from bowcore.measurement.lines import CLEAR_SIGMAS

MEETS_IN = 1.0
"""Bare meets fletched within an inch at 20 yards (common practice)."""
AT_YD = 20.0

BARE_PER_TEAR = Rate(-12.0, 7.2)
"""A bare shaft lands so much to the other side of fletched ones at 20 yards for an inch of tear, nock left
being impact right: the side is common practice, the figure ours."""


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


@dataclass(frozen=True)
class BareAndTear:
    """Both ways of seeing one thing, nothing changed between them: a tear [in], and bare less fletched at a
    distance [in, yd]."""

    tear: Group
    bare: BareShaft
    distance_yd: float


def bare_per_tear(seen: Iterable[BareAndTear]) -> Rate:
    """Where a bare shaft lands at 20 yards for an inch of tear, learned where this bow showed both."""
    shown = []
    for one in seen:
        near = AT_YD / one.distance_yd
        for tear, off, sigma, tear_sigma in (
            (one.tear.x_in, one.bare.x_in, one.bare.sigma_x, one.tear.sigma_x),
            (one.tear.y_in, one.bare.y_in, one.bare.sigma_y, one.tear.sigma_y),
        ):
            doubt = hypot(sigma * near, BARE_PER_TEAR.mean * tear_sigma)
            shown.append(ShownStep(tear, off * near, doubt))
    return learned_rate(BARE_PER_TEAR, shown)


def as_tear(bare: BareShaft, distance_yd: float, rate: Rate, shots: int) -> Group:
    """The tear that would put bare shafts where they are. [in]

    Parameters
    ----------
    bare : BareShaft
        Bare less fletched.
    distance_yd : float
        From where they were shot.
    rate : Rate
        Inches at 20 yards for an inch of tear.
    shots : int
        How many bare ones.
    """
    near, share = AT_YD / distance_yd / rate.mean, rate.sigma / abs(rate.mean)
    x, y = bare.x_in * near, bare.y_in * near
    sigmas = [
        hypot(sigma * near, tear * share) for sigma, tear in ((bare.sigma_x, x), (bare.sigma_y, y))
    ]
    return Group(x, y, shots, np.diag(np.array(sigmas) ** 2) * shots)
