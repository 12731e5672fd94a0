"""How a tear answers to the spine of the arrow: learned on this bow, from arrows that were shot on it.

Which way it goes nobody can say beforehand; two arrows of unlike spine show it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np

from bowcore.evidence.tears import CLEAN_IN
from bowcore.stages.shooting_in.suspects import Axis

SPINE_RATE_SIGMA = 0.005
"""Inches of tear for a thousandth of spine, either way, before this bow has shown it: 1/4 in for a step of
50. Our figure."""
CLEAR_ANSWER = 2.0
"""A bow answers to spine where its rate is more than so many of its errors from nothing."""
BEYOND_SHOT = 1.0
"""No farther beyond the arrows that were shot than they are apart: our figure."""


@dataclass(frozen=True)
class ArrowTear:
    """The tear of one arrow in one axis. Spine in thousandths, the more the softer; the rest in inches."""

    spine: float
    tear_in: float
    sigma_in: float


@dataclass(frozen=True)
class SpineAnswer:
    """What this bow says of spine: inches of tear for a thousandth, and the spine that would tear least.

    `best` is None where the bow has not shown which way it answers, or where it would be too far from
    anything that was shot; `left_in` is what would be left of the tear with it, and `left_sigma` its doubt.
    """

    rate: float
    rate_sigma: float
    arrows: int
    best: float | None = None
    best_sigma: float = 0.0
    left_in: float = 0.0
    left_sigma: float = 0.0

    @property
    def answers(self) -> bool:
        """Whether the tear clearly changes with the spine."""
        return abs(self.rate) > CLEAR_ANSWER * self.rate_sigma


def spine_answer(seen: Sequence[ArrowTear]) -> SpineAnswer | None:
    """The line of tear against spine: least squares with a normal prior of its slope; None of one arrow.

    Parameters
    ----------
    seen : sequence of ArrowTear
        One for each arrow, nothing changed between them.

    Returns
    -------
    SpineAnswer or None
        Its best spine has a doubt by the delta method; it stays near what was shot.
    """
    spines = np.array([one.spine for one in seen])
    if len(seen) < 2 or np.ptp(spines) == 0:
        return None
    tears = np.array([one.tear_in for one in seen])
    weights = np.array([one.sigma_in for one in seen]) ** -2
    middle = float(weights @ spines / weights.sum())
    centre, off = float(weights @ tears / weights.sum()), spines - middle
    precision = float(weights @ off**2) + SPINE_RATE_SIGMA**-2
    rate, sigma = float(weights @ (off * tears)) / precision, sqrt(1 / precision)
    answer = SpineAnswer(rate, sigma, len(seen))
    if not answer.answers:
        return answer
    wanted = -centre / rate
    reach = BEYOND_SHOT * float(np.ptp(spines))
    best = float(np.clip(wanted, off.min() - reach, off.max() + reach))
    at_best = sqrt(1 / float(weights.sum()) + (best * sigma) ** 2)
    left = centre + rate * best
    if abs(left) > CLEAN_IN:
        return answer
    doubt = hypot(1 / sqrt(float(weights.sum())), wanted * sigma) / abs(rate)
    return SpineAnswer(rate, sigma, len(seen), middle + best, doubt, left, at_best)


BY_ANOTHER_ARROW = {Axis.UP: "spine_up", Axis.SIDE: "spine_side"}
"""Suspects whose test is shots of another arrow."""
OF_SPINE = frozenset(BY_ANOTHER_ARROW.values())


def say_spine(answer: SpineAnswer, own: float) -> str:
    """Which arrow to take instead of the archer's own, in a sentence; "" where nothing shows it."""
    if answer.best is None:
        return ""
    way = "stiffer" if answer.best < own else "softer"
    spine = f"spine about {answer.best:.0f} instead of {own:.0f}"
    return f"Another arrow, {way}: {spine}. Write it down under Arrow, then shoot two."
