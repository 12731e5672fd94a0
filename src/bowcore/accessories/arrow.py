"""The arrow that a bow is set up for, and the least that it may weigh."""

from dataclasses import dataclass
from math import ceil

from bowcore.errors import BadInput

LEAST_GRAINS_PER_POUND = 5.0
"""Rule of thumb of trade and federations, from memory; a maker may ask for more."""
FLETCHING_FROM_NOCK_IN = 4.5
"""Where the front of the fletching is on a usual arrow (common practice, no published source)."""


STIFFEST, SOFTEST = 100.0, 2000.0
"""Classes of spine that shafts have (common practice, no published source). [thousandths]"""


@dataclass(frozen=True)
class Arrow:
    """One arrow. Lengths from the nock's groove [in], masses in grains; 0 where nobody has measured.

    `balance_in` is where it balances; `nock_in` the width of its nock along the string; `spine` its class in
    thousandths.
    """

    mass_gr: float
    length_in: float
    shaft_in: float
    nock_in: float = 0.0
    balance_in: float = 0.0
    spine: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what no arrow is.

        Raises
        ------
        BadInput
            A figure outside of what arrows are.
        """
        for name, value, least, most, unit in (
            ("mass", self.mass_gr, 100, 1500, "grains"), ("length", self.length_in, 15, 40, "in"),
            ("shaft", self.shaft_in, 0.1, 0.5, "in"),
        ):  # fmt: skip
            if not least <= value <= most:
                raise BadInput(
                    f"An arrow's {name} of {value:g} {unit}?", name, f"{least:g} to {most:g} {unit}"
                )

    @property
    def forward_of_centre(self) -> float | None:
        """Share of its length by which it balances ahead of its middle; None where it is not known.

        From the nock's groove, as the trade's standard has it (from memory).
        """
        if not self.balance_in:
            return None
        return (self.balance_in - self.length_in / 2) / self.length_in


def class_of_spine(text: str) -> float:
    """The class that is written on a shaft; 0 where it is not a plain number. [thousandths]"""
    try:
        found = float(text)
    except ValueError:
        return 0.0
    return found if STIFFEST <= found <= SOFTEST else 0.0


def least_mass_gr(peak_lbf: float, makers_gr_per_lbf: float = 0.0) -> float:
    """The least that an arrow for so much peak weight may weigh. [gr]

    Parameters
    ----------
    peak_lbf : float
        The bow's peak weight. [lbf]
    makers_gr_per_lbf : float
        What the maker asks for, where that is more than the rule of thumb.
    """
    return peak_lbf * max(LEAST_GRAINS_PER_POUND, makers_gr_per_lbf)


def too_light(mass_gr: float, peak_lbf: float, makers_gr_per_lbf: float = 0.0) -> str:
    """Why an arrow is not shot from a bow of so much peak weight, in a sentence; "" if it may be."""
    least = least_mass_gr(peak_lbf, makers_gr_per_lbf)
    if mass_gr >= least:
        return ""
    return (
        f"This arrow weighs {mass_gr:g} grains; at {peak_lbf:.1f} lbf the least is {ceil(least)}. "
        "Do not shoot it: a light arrow is nearly a dry fire. Use a heavier arrow, or less weight."
    )
