"""Forces as a bow scale shows them: `54.1`, `54.1 lb`, `24.5 kg`."""

import re
from dataclasses import dataclass
from fractions import Fraction

from bowcore.errors import Unreadable, short_enough
from bowcore.quantities.units import KG_PER_LB_EXACT

_WEIGHT = re.compile(r"^(\d+(?:[.,]\d+)?|[.,]\d+)\s*(lb|lbs|lbf|#|pounds?|kg|kilos?)?$")


@dataclass(frozen=True)
class WeightEntry:
    """One force as it was typed; `value` in lbf, exact."""

    value: Fraction
    raw: str
    unit: str = "lbf"


def parse_weight(text: str) -> WeightEntry:
    """Read a scale's figure.

    Parameters
    ----------
    text : str
        A decimal number, in pounds unless it says kg.

    Returns
    -------
    WeightEntry
        The exact force in lbf with the raw text beside it.

    Raises
    ------
    Unreadable
        Not a positive decimal number with a known unit.
    """
    raw = short_enough(text)
    found = _WEIGHT.match(raw.lower())
    if not found:
        raise Unreadable(raw, "write pounds as 54.1, or kilograms as 24.5 kg.")
    value = Fraction(found.group(1).replace(",", "."))
    if (found.group(2) or "lb").startswith("k"):
        return WeightEntry(value / KG_PER_LB_EXACT, raw, "kg")
    return WeightEntry(value, raw)


def say_weight(value_lbf: float) -> str:
    """A force to the scale's tenth, `54.1`."""
    return f"{value_lbf:.1f}"
