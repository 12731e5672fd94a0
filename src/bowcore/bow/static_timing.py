"""Timing read at rest, turned into an estimate of the gap at full draw. The drawn reading wins.

Three methods: (a) cam marks against limb or cable, (b) cam tip to its cable, (c) a cable centred in
a sight hole; each compares top with bottom. All need both limb bolts bottomed.
"""

from dataclasses import dataclass
from math import hypot, isfinite

from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.specification import Family
from bowcore.bow.twin import Changes, Twin
from bowcore.errors import BadInput, Refused

METHODS = {  # radius at which the cam's turn is seen [in], reading scatter [in]; common practice
    "marks": (1.5, 1 / 64),
    "tip": (1.8, 1 / 64),
    "sight_hole": (1.2, 1 / 32),
}
MODEL_DOUBT = 0.3  # guard load and servings, which the plane model does not have


@dataclass(frozen=True)
class GapEstimate:
    """The gap at full draw, signed as always, and how it was found."""

    gap_in: float
    sigma_in: float
    source: str


def gap_from_rest(
    twin: Twin, method: str, difference_in: float, bolts_bottomed: bool
) -> GapEstimate:
    """Estimate the drawn gap of a bow from a difference between its cams at rest.

    As `gap_from_ratio`, with the ratio taken from the twin.

    Raises
    ------
    Refused
        The bow has one cam only, or the bolts are not bottomed.
    """
    if twin.family is Family.SINGLE:
        raise Refused("A single cam has no second one to compare with; read its mark.")
    return gap_from_ratio(gap_per_turn(twin), method, difference_in, bolts_bottomed)


def gap_from_ratio(
    ratio: float, method: str, difference_in: float, bolts_bottomed: bool
) -> GapEstimate:
    """Estimate the drawn gap from a difference between the cams at rest.

    Parameters
    ----------
    ratio : float
        Gap per radian that the top cam is behind, from `gap_per_turn`. [in/rad]
    method : str
        "marks", "tip" or "sight_hole".
    difference_in : float
        Top less bottom, positive when the top cam is turned further back (later). [in]
    bolts_bottomed : bool
        Both limb bolts, as the methods need it.

    Returns
    -------
    GapEstimate
        With an uncertainty that says how little to trust it.

    Raises
    ------
    Refused
        The bolts are not bottomed.
    BadInput
        Unknown method or not a number.
    """
    if method not in METHODS:
        raise BadInput(f"'{method}' is not a way to read timing.", "method", ", ".join(METHODS))
    if not isfinite(difference_in) or abs(difference_in) > 2:
        raise BadInput("That is not a difference between two cams.", "difference_in", "-2 to 2 in")
    if not bolts_bottomed:
        raise Refused("Bottom both limb bolts first: marks at rest mean nothing otherwise.")
    radius, scatter = METHODS[method]
    gap = ratio * difference_in / radius
    return GapEstimate(
        gap, hypot(MODEL_DOUBT * gap, ratio * scatter / radius), f"at rest, {method}"
    )


def gap_per_turn(twin: Twin) -> float:
    """Gap at full draw per radian that the top cam is behind the bottom one at rest. [in/rad]"""
    trial = twin.changed(Changes({"cable_a": 0.01}))
    behind = trial.rest.alpha[0, BOTTOM] - trial.rest.alpha[0, TOP]
    return float(trial.stop_gap_in / behind)


def settle(drawn: GapEstimate | None, at_rest: GapEstimate | None) -> GapEstimate:
    """Which of the two to believe: the drawn reading, whenever there is one.

    Raises
    ------
    BadInput
        Neither is there.
    """
    chosen = drawn or at_rest
    if chosen is None:
        raise BadInput("No timing was read.", "timing")
    return chosen
