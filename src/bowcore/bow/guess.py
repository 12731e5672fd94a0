"""A bow whose model is not in the book: what five numbers and its family let one expect.

The shares are what the invented models of the demo book show; common practice, no published source.
A guessed bow is doubted more widely than one with published numbers, and the first readings and turns
outrank every guess.
"""

from bowcore.bow.specification import CABLE_A, CABLE_B, STRING, Family, PartSpec

GUESSED_SPREAD = 1.6
"""How much wider a guessed bow may differ from its priors than one with published numbers."""
USUAL_LET_OFF = {Family.TWIN: 0.65, Family.SINGLE: 0.75}
LET_OFF = 0.80
STRANDS, CABLE_TWISTS, STRING_TWISTS = 24, 0.6, 0.4
_STRING_SHARE = {Family.SINGLE: 2.775}
_TO_LET_OUT = {
    CABLE_A: ("Top take-up cable", "top cam's take-up track to bottom cam's let-out track", 1.11),
    CABLE_B: (
        "Bottom take-up cable",
        "bottom cam's take-up track to top cam's let-out track",
        1.11,
    ),
}
_TO_AXLE = {
    CABLE_A: ("Top cam's cable", "top cam's take-up track to the yoke at the bottom axle", 1.06),
    CABLE_B: ("Bottom cam's cable", "bottom cam's take-up track to the yoke at the top axle", 1.06),
}
_BUSS = ("Buss cable", "bottom cam's take-up track to the yoke at the top axle", 1.05)
_CABLES: dict[Family, dict[str, tuple[str, str, float]]] = {
    Family.BINARY: _TO_LET_OUT,
    Family.TWIN: _TO_AXLE,
    Family.HYBRID: {
        CABLE_A: ("Control cable", "top cam's take-up track to bottom cam's let-out track", 1.09),
        CABLE_B: _BUSS,
    },
    Family.SINGLE: {CABLE_B: (*_BUSS[:2], 1.105)},
}


def guessed_let_off(family: Family) -> float:
    """What is usual for a family."""
    return USUAL_LET_OFF.get(family, LET_OFF)


def guessed_parts(family: Family, axle_to_axle_in: float) -> tuple[PartSpec, ...]:
    """Strings and cables of a family, their lengths guessed from axle to axle, to half an inch."""
    cables = [
        PartSpec(role, label, ends, _half_inch(share * axle_to_axle_in), STRANDS, CABLE_TWISTS)
        for role, (label, ends, share) in _CABLES[family].items()
    ]
    length = _half_inch(_STRING_SHARE.get(family, 1.78) * axle_to_axle_in)
    return (*cables, PartSpec(STRING, "String", "string track to string track", length, STRANDS,
                              STRING_TWISTS))  # fmt: skip


def _half_inch(inches: float) -> float:
    return round(2 * inches) / 2
