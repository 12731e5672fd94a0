"""Tools of the bench: what they divide into, and how sure one reading of them is."""

from dataclasses import dataclass
from fractions import Fraction
from math import sqrt

from bowcore.quantities.inches import SAID_TO_HALF, say_length
from bowcore.quantities.precision import Precision
from bowcore.quantities.units import LengthUnit, length_unit


@dataclass(frozen=True)
class Tool:
    """A measuring tool.

    `division` is in the tool's unit; `scatter` is the standard deviation between two careful
    readings by one person, beyond the division itself (common practice, no published source).
    """

    key: str
    name: str
    unit: str
    division: Fraction
    scatter: float

    @property
    def denominator(self) -> int:
        return self.division.denominator

    @property
    def smallest(self) -> str:
        """Its division with the unit: `0.1 lbf`, `1/16 in`; in millimetres, what it is read to."""
        if self.unit == "in" and length_unit() is LengthUnit.MILLIMETRES:
            return "1/2 mm" if self.denominator <= SAID_TO_HALF else "1/10 mm"
        if self.unit == "in":
            return say_length(self.division)
        return f"{float(self.division):g} {self.unit}"

    @property
    def precision(self) -> Precision:
        """Of one reading: uniform within a division, plus scatter."""
        return Precision(self.scatter, float(self.division) / sqrt(12))


TAPE = Tool("tape", "tape", "in", Fraction(1, 16), 0.02)
SQUARE = Tool("square", "bow square", "in", Fraction(1, 16), 0.02)
RULE = Tool("rule", "rule or feeler", "in", Fraction(1, 64), 0.004)
DRAW_BOARD = Tool("draw_board", "draw board", "in", Fraction(1, 8), 0.03)
MARKER = Tool("marker", "marker line", "in", Fraction(1, 32), 0.01)
SCALE = Tool("scale", "bow scale", "lbf", Fraction(1, 10), 0.35)
SHAFT = Tool("shaft", "straight shaft", "in", Fraction(1, 16), 0.03)
CHRONOGRAPH = Tool("chronograph", "chronograph", "fps", Fraction(1), 0.7)
CALIPER = Tool("caliper", "caliper", "in", Fraction(1, 1000), 0.006)
DRAW_BOARD_SENSOR = Tool("board_sensor", "draw board sensor", "in", Fraction(1, 1000), 0.004)
PAPER = Tool("paper", "rule on the paper", "in", Fraction(1, 16), 0.06)
CLOCK_FACE = Tool("clock", "eye, as on a clock's face", "min", Fraction(1), 1.0)
FEELER = Tool("feeler", "feeler or thread", "in", Fraction(1, 64), 0.004)
EYE = Tool("eye", "eye and hand", "", Fraction(1), 0.0)

TOOLS = {
    tool.key: tool
    for tool in (
        TAPE,
        SQUARE,
        RULE,
        DRAW_BOARD,
        MARKER,
        SCALE,
        SHAFT,
        CHRONOGRAPH,
        CALIPER,
        PAPER,
        DRAW_BOARD_SENSOR,
        EYE,
        CLOCK_FACE,
        FEELER,
    )
}

DEVICES = {
    "scale": SCALE,
    "draw_board": DRAW_BOARD_SENSOR,
    "caliper": CALIPER,
    "chronograph": CHRONOGRAPH,
}
"""Tools that may be plugged in and read by themselves, by the key that a quantity names."""
