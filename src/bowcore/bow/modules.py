"""Draw modules and stop holes as a book lists them: each with the draw length it gives."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.errors import BadInput, Unreadable
from bowcore.quantities.inches import parse_inches, say_bare, say_length
from bowcore.quantities.units import LengthUnit

NEAR_IN = 1 / 8
"""A module gives its draw length within this; common practice."""
_ONE = re.compile(r"^(\S+)\s+(.+?)(?:\s+to\s+(.+))?$")


@dataclass(frozen=True)
class Module:
    """A module or a hole, and the shortest and longest draw it can be set to. [in]"""

    name: str
    low_in: float
    high_in: float

    def off_in(self, draw_in: float) -> float:
        """How far a draw length is from what it gives. [in]"""
        return max(self.low_in - draw_in, draw_in - self.high_in, 0.0)

    def words(self) -> str:
        """`C, 28 1/2 in`, or with its range."""
        low, high = say_bare(self.low_in, 8), say_length(self.high_in, 8)
        alike = self.low_in == self.high_in
        return f"{self.name}, {high}" if alike else f"{self.name}, {low} to {high}"


def read_modules(text: str) -> tuple[Module, ...]:
    """Modules as a person lists them: `A 26, B 27 1/2, S 26 to 28`; none for an empty line.

    Raises
    ------
    BadInput
        One of them has no draw length.
    """
    return tuple(_module(part.strip()) for part in text.split(",") if part.strip())


def module_for(modules: Sequence[Module], draw_in: float) -> Module | None:
    """The module that gives a draw length most nearly; None if none comes near it."""
    nearest = min(modules, key=lambda one: one.off_in(draw_in), default=None)
    return nearest if nearest and nearest.off_in(draw_in) <= NEAR_IN else None


def _module(text: str) -> Module:
    found = _ONE.match(text)
    try:
        if found is None:
            raise Unreadable(text, "no draw length.")
        name, low, high = found.groups()
        ends = [
            float(parse_inches(end, plain=LengthUnit.INCHES).value) for end in (low, high or low)
        ]
    except Unreadable:
        raise BadInput(
            f"“{text}” is not a module: write its letter or hole, then its draw length.",
            "modules",
            "A 26, B 27 1/2, S 26 to 28",
        ) from None
    if not 15 <= ends[0] <= ends[1] <= 36:
        raise BadInput(f"“{text}” is not a draw length that a bow has.", "modules", "15 to 36 in")
    return Module(name, ends[0], ends[1])
