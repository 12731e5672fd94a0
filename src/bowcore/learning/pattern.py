"""What the deviations point to, all read together: which part is long or short, and by about how much.

The twin is fitted to the readings; the lengths (and the limb bolts, which stand for limbs that are
not what the sticker says) that explain them best, with how sure each is, are the pattern.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from bowcore.bow.specification import CABLES, BowSpec
from bowcore.learning.first_stop_effect import AT_THE_FIRST_STOP
from bowcore.measurement.bands import BandSide, Verdict
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches, say_length

CAUSE_SIGMAS = 1.0
LIKELY_SIGMAS = 1.3
UNEXPLAINED_SIGMAS = 3.0
LEAST_IN, LEAST_TURNS = 1 / 32, 0.25
"""Less than this is not acted on."""
MOST_IN = 3 / 4
"""A string or cable farther off than that was made for another bow, or something was misread: our figure."""


@dataclass(frozen=True)
class Suspect:
    """One part: how much too short it seems (negative: too long), how sure, whether it stands out.

    Inches; for `limb_bolts` turns out.
    """

    key: str
    label: str
    off: float
    sigma: float
    stands_out: bool
    sentence: str


@dataclass(frozen=True)
class Pattern:
    """Every part with what it seems to be, the likeliest first, and the whole in words."""

    suspects: tuple[Suspect, ...]
    sentences: tuple[str, ...]

    @property
    def names_a_part(self) -> bool:
        return any(one.stands_out for one in self.suspects)


def pattern_of(
    spec: BowSpec,
    errors: Mapping[str, tuple[float, float]],
    residuals: Mapping[str, float] | None = None,
) -> Pattern:
    """Read the pattern.

    Parameters
    ----------
    spec : BowSpec
        The book.
    errors : mapping of str to (float, float)
        From `measured.fit_to_readings`: per part inches too short and their uncertainty, and turns of both
        limb bolts.
    residuals : mapping of str to float, optional
        From the same: what that leaves unexplained of each reading, in its unit.

    Returns
    -------
    Pattern
        Parts in order of how much they stand out. None does while a reading is left that no part explains:
        that one is read again first, or a slip of the tape becomes a string of the wrong length.
    """
    labels = spec.labels
    found = [_suspect(key, labels, *error) for key, error in errors.items()]
    found.sort(key=lambda one: -abs(one.off) / one.sigma)
    left_over = _left_over(residuals or {})
    if left_over:
        return Pattern(tuple(replace(one, stands_out=False) for one in found), tuple(left_over))
    sentences = [one.sentence for one in found if one.stands_out]
    return Pattern(tuple(found), tuple(sentences) or ("The readings do not point to any part.",))


def _left_over(residuals: Mapping[str, float]) -> list[str]:
    """What the parts together do not explain: something else is behind it, or a reading is off."""
    found = []  # the kink at the first stop is not in the fit: those two are left out
    for name, left in residuals.items():
        quantity = QUANTITIES[name]
        scatter = UNEXPLAINED_SIGMAS * quantity.precision.of_mean(quantity.takes)
        if name not in AT_THE_FIRST_STOP and abs(left) > max(scatter, quantity.tolerance):
            found.append(
                f"{quantity.say_size(left)} of {quantity.name.lower()} is not explained by any part: "
                "read it again, or look for what else is behind it."
            )
    return found


def _suspect(key: str, labels: Mapping[str, str], off: float, sigma: float) -> Suspect:
    bolts = key == "limb_bolts"
    least = LEAST_TURNS if bolts else LEAST_IN
    stands_out = abs(off) >= max(least, LIKELY_SIGMAS * sigma)
    label = "Limbs" if bolts else labels.get(key, key)
    if bolts:
        way = "out" if off > 0 else "in"
        turns = say_inches(abs(off), 4)
        plural = "s" if abs(off) > 1.125 else ""
        sentence = (
            f"The weight is as if both limb bolts were about {turns} turn{plural} further {way}."
        )
    else:
        size, margin = say_length(abs(off), 32), say_length(max(sigma, 1 / 64), 64)
        sentence = f"{label}: about {size} {'short' if off > 0 else 'long'}, give or take {margin}."
        if abs(off) > MOST_IN:
            sentence += (
                " No part is made so far off: read everything again, and check that it is the right "
                "part."
            )
    return Suspect(key, label, off, sigma, stands_out, sentence)


def weight_cause(pattern: Pattern, verdict: Verdict) -> str:
    """Why the weight is off its figure: cables or bolts, by all readings together.

    Short cables make a bow heavy and pull axle to axle in; bolts change the weight and leave lengths
    and timing where they were (common practice).

    Parameters
    ----------
    pattern : Pattern
        Of the readings that the weight was read with.
    verdict : Verdict
        The weight's.

    Returns
    -------
    str
        In words; "" for a weight that is inside.
    """
    if verdict.inside:
        return ""
    heavy = verdict.side is BandSide.HIGH
    sign = 1.0 if heavy else -1.0
    cables = [one for one in pattern.suspects if one.key in CABLES]
    cable = max(cables, key=lambda one: sign * one.off / one.sigma)
    bolts = next(one for one in pattern.suspects if one.key == "limb_bolts")
    by_cable, by_bolts = sign * cable.off / cable.sigma, -sign * bolts.off / bolts.sigma
    word, length = ("heavy", "short") if heavy else ("light", "long")
    if by_cable >= CAUSE_SIGMAS and by_cable >= by_bolts:
        return (
            f"It is {word}, and the lengths and the timing point to the {cable.label.lower()} being "
            f"{length}: put that right first, the weight comes with it."
        )
    if by_bolts >= CAUSE_SIGMAS:
        return (
            f"It is {word}, but lengths and timing are as they should be: that is bolts or limbs, not "
            "the cables. Equal turns in each bolt."
        )
    return f"It is {word}; the readings do not show yet whether it is the cables or the bolts."
