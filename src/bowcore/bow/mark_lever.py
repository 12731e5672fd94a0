"""How far the mark on a cam's edge moves for an inch of a string's or cable's length, at rest."""

from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.specification import CABLE_A, CABLE_B, STRING, Family
from bowcore.bow.twin import Changes, Twin

LEVER_TRIAL_IN = 0.05


def mark_levers(twin: Twin) -> dict[str, float]:
    """By role of each string and cable.

    A cable is judged by the cam that takes it up, the string by both cams, a single cam bow by its one
    cam. The mark is taken to be as far from the axle as the stop's peg.

    Returns
    -------
    dict of str to float
        Without sign. [in of the mark per in of length]
    """
    found = {}
    for part in twin.spec.parts:
        trial = twin.changed(Changes({part.role: LEVER_TRIAL_IN}))
        turned = abs(trial.rest.alpha[0] - twin.rest.alpha[0]) / LEVER_TRIAL_IN
        found[part.role] = float(
            twin.spec.peg_radius_in * turned[sides_judged(part.role, twin.family)].mean()
        )
    return found


def sides_judged(role: str, family: Family) -> list[int]:
    """The cams whose marks a part is judged by."""
    if family is Family.SINGLE:
        return [BOTTOM]
    return {CABLE_A: [TOP], CABLE_B: [BOTTOM], STRING: [TOP, BOTTOM]}[role]
