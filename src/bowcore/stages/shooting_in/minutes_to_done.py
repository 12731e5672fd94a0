"""What a test, a mending or a tap is worth: the minutes until the tear is gone that it leads one to expect.

A test costs its minutes and changes what is believed; a mending or a tap may end it. What comes after is
reckoned as if the suspects were mended one after another, the one that promises most for its minutes first:
that order is best where no more tests are made (Smith's rule for expected completion, a textbook result).
"""

import numpy as np

from bowcore.evidence.tears import CLEAN_IN
from bowcore.measurement.normal import normal_cdf
from bowcore.stages.shooting_in.suspects import (
    BY_KEY,
    Causes,
    Evidence,
    TearSuspect,
    suspects_of,
)

SHOOT_TWO_MINUTES = 2.0
SMALL_SUM_MINUTES = 10.0
"""Taps of nock point and rest for a tear that no single suspect makes: our figure."""
HIDING_MINUTES = 60.0
"""What it costs that a tap hides a cause: the bow comes back for it. Our figure."""


def minutes_to_done(causes: Causes) -> float:
    """Expected minutes if everything is mended in turn until the tear is gone. [min]"""
    chance = {one.key: causes.chance(one.key) for one in suspects_of(causes.axis)}
    takes = {key: _mended_in(BY_KEY[key], causes) for key in chance}
    order = sorted(chance, key=lambda key: chance[key] / takes[key], reverse=True)
    done_after = dict(zip(order, np.cumsum([takes[key] for key in order]), strict=True))
    last = [
        max((done_after[key] for key in one), default=SMALL_SUM_MINUTES) for one in causes.behind
    ]
    return float(causes.chances @ np.array(last))


def _mended_in(suspect: TearSuspect, causes: Causes) -> float:
    """With the shots after it, and with the test before it where nothing is mended unproven."""
    tested = suspect.moves or any(one.suspect == suspect.key for one in causes.findings)
    return suspect.mend_minutes + SHOOT_TWO_MINUTES + (0.0 if tested else suspect.test.minutes)


def after_a_test(causes: Causes, suspect: TearSuspect) -> float:
    """Expected minutes if a suspect is tested first. [min]"""
    return suspect.test.minutes + _afterwards(
        causes, [Evidence(suspect.key, found) for found in (True, False)]
    )


def after_mending(causes: Causes, suspect: TearSuspect, minutes: float) -> float:
    """Expected minutes if a suspect is mended first, in so many minutes; taken to be mended then. [min]"""
    is_left = np.array([one != {suspect.key} for one in causes.behind])
    behind = tuple(
        one - {suspect.key} for one, stays in zip(causes.behind, is_left, strict=True) if stays
    )
    chances = causes.chances[is_left]
    left = Causes(causes.axis, behind, chances / chances.sum(), causes.findings)
    return minutes + SHOOT_TWO_MINUTES + float(chances.sum()) * minutes_to_done(left)


def after_a_tap(
    causes: Causes, blamed: float, left_in: float, sigma_in: float, minutes: float, hides: bool
) -> float:
    """Expected minutes if the tear is tapped away first. [min]

    Parameters
    ----------
    causes : Causes
        What may be behind it.
    blamed : float
        Chance that the tap mends what is behind it.
    left_in : float
        What it leaves of the tear. [in]
    sigma_in : float
        The doubt of that. [in]
    minutes : float
        What it takes.
    hides : bool
        Whether a tap that mends nothing would hide a cause.
    """
    upper, lower = ((edge - left_in) / sigma_in for edge in (CLEAN_IN, -CLEAN_IN))
    clean = normal_cdf(upper) - normal_cdf(lower)
    hidden = HIDING_MINUTES * clean * (1 - blamed) if hides else 0.0
    return minutes + SHOOT_TWO_MINUTES + hidden + (1 - clean) * minutes_to_done(causes)


def _afterwards(causes: Causes, findings: list[Evidence]) -> float:
    return sum(causes.chance_of(one) * minutes_to_done(causes.after(one)) for one in findings)
