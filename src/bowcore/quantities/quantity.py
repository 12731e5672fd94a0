"""What a quantity is: everything the rest of the program asks of it is in one object."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction
from math import hypot, sqrt

from bowcore.quantities.changes import Change
from bowcore.quantities.inches import SAID_TO_HALF, as_mixed, say_bare, say_length
from bowcore.quantities.precision import Precision
from bowcore.quantities.tools import Tool
from bowcore.quantities.units import LengthUnit, length_unit
from bowcore.quantities.weights import say_weight

MIDWAY = 32
"""A sixteenth is read to half of itself, "just over" and "just shy" (common practice)."""
CLOCK = "min"
"""Minutes of a clock's face: how turns of a peep are said."""
SIGNED_PARTS = 64
"""Parts of an inch that a size with a direction is said in."""
TENTHS_OF_MM = 254
"""Of an inch: what a metric shop sees."""
LEAST_SHOWN = 0.05
"""Of a weight or a speed: half of the last digit that a tool shows."""


@dataclass(frozen=True)
class ReferencePoint:
    """One of the two points between which a quantity is measured."""

    key: str
    name: str


@dataclass(frozen=True)
class Direction:
    """One direction of a quantity that has two: chosen first, then only a size is entered.

    `says` puts the size into words; `hotkey` chooses it from the keyboard.
    """

    key: str
    name: str
    hotkey: str
    sign: int
    says: str

    @property
    def around(self) -> tuple[str, str]:
        """The words before and after the size; nothing after where no size is said."""
        before, _, after = self.says.partition("{}")
        return before, after


class Asked(StrEnum):
    """When a quantity belongs to the baseline."""

    ALWAYS = "always"
    CARRY_OVER = "carry over"
    """Where everything is put back as it was."""
    WELCOME = "welcome"
    """Worth having; nothing waits for it."""
    NEVER = "never"
    """Read only when the technician or another reading asks for it."""


class Fit(StrEnum):
    """Whether a quantity belongs to the fit, and whether with the customer's arrow on the string."""

    NO = ""
    BY_ITSELF = "by itself"
    WITH_ARROW = "with the arrow"


class Role(StrEnum):
    """What a quantity is among others of its sort."""

    OTHER = ""
    LEAN = "lean"
    TIMING_AT_REST = "timing at rest"


@dataclass(frozen=True)
class TwoReadings:
    """A quantity that is a difference of two readings: the first less the second, each within `limits`.

    Both are written down as they are read; nobody subtracts in the head.
    """

    first: str
    second: str
    limits: tuple[float, float]


@dataclass(frozen=True)
class Usual:
    """What is usual on a bow: `middle`, how far bows differ from it, and in which divisions.

    The simulated bow takes from here what its twin does not compute. Values are invented.
    """

    middle: float
    reach: float
    division: int


@dataclass(frozen=True)
class Quantity:
    """A thing that is measured. Values are in `unit`.

    Attributes
    ----------
    limits : pair of float
        What no bow goes outside of; a value outside is asked about.
    tolerance : float
        How far off its target it may be.
    starts, ends : tuple of ReferencePoint
        The points between which it is measured; the technician chooses where there are several.
    drawn : bool
        The bow is drawn for it.
    takes : int
        How often it is read for one value.
    directions : tuple of Direction
        Those of a signed quantity, asked with the question `which`.
    take_names : tuple of str
        Names of takes that are not the same thing twice: the two faces of a cam.
    two : TwoReadings, optional
        It is the difference of two readings, which are entered as they are read.
    stale_after : frozenset of Change
        The changes after which it has to be read again.
    asked : Asked
        When it belongs to the baseline; the order of work is the order of the catalogue.
    needs : str
        The fitting or feature that a bow must have for it; "" for every bow.
    fit : Fit
        Whether it belongs to the fit, and waits for the arrow there.
    required : bool
        It must be fresh and inside its band before a bow goes back.
    put_back : bool
        Its baseline is its target.
    computed : bool
        The twin computes it.
    model_doubt : float
        Share of a computed answer that stays in doubt however alike plausible bows are.
    off_book : float
        How far a customer's bow may be off its book where its lengths and bolts are right; of the stop gap,
        in inches of timing cable (our figure).
    device : str
        Key of the tool on the bench that reads it by itself; "" if none does.
    picture : str
        Name of the small drawing that shows its two points.
    touch : float
        Standard deviation that the act of reading adds to the tool's, until repeats show it.
    one_cam : Quantity, optional
        What takes its place on a bow with a single cam.
    limits_from : mapping of str to pair of float
        Other limits, by the point from which it is read.
    """

    key: str
    name: str
    unit: str
    tool: Tool
    limits: tuple[float, float]
    tolerance: float
    starts: tuple[ReferencePoint, ...] = ()
    ends: tuple[ReferencePoint, ...] = ()
    how: str = ""
    drawn: bool = False
    takes: int = 1
    missed_later: str = ""
    low_word: str = "low"
    high_word: str = "high"
    which: str = ""
    directions: tuple[Direction, ...] = ()
    take_names: tuple[str, ...] = ()
    two: TwoReadings | None = None
    stale_after: frozenset[Change] = frozenset()
    asked: Asked = Asked.NEVER
    needs: str = ""
    role: Role = Role.OTHER
    fit: Fit = Fit.NO
    required: bool = False
    put_back: bool = False
    computed: bool = False
    model_doubt: float = 0.0
    off_book: float = 0.0
    device: str = ""
    picture: str = ""
    usual: Usual | None = None
    touch: float = 0.0
    one_cam: "Quantity | None" = None
    limits_from: Mapping[str, tuple[float, float]] = field(default_factory=dict)

    def limits_between(self, start: str) -> tuple[float, float]:
        """Its limits where it is read from a point that has its own; else the usual ones."""
        return self.limits_from.get(start, self.limits)

    def read_beside(self, other: "Quantity") -> bool:
        """Whether both are read with the bow as it is: at rest, drawn, or with the arrow on it."""
        with_arrow = {self.fit is Fit.WITH_ARROW, other.fit is Fit.WITH_ARROW}
        return self.drawn is other.drawn and len(with_arrow) == 1

    @property
    def sign(self) -> str:
        """The sign of the unit that its values are said in."""
        return length_unit().sign if self.unit == "in" else self.unit

    @property
    def precision(self) -> Precision:
        """Of one reading of it with its usual tool."""
        return self.precision_with(self.tool)

    def precision_with(self, tool: Tool) -> Precision:
        """Of one reading of it with a tool: its scatter, and that of the hand that holds it."""
        return Precision(hypot(tool.precision.scatter, self.touch), tool.precision.resolution)

    def agreed(self, takes: int, spread: float) -> bool:
        """Whether fewer takes than usual are enough: two that differ by no more than two of one thing
        usually do. Takes of unlike things never stand for one another."""
        usually = sqrt(2) * self.precision.sigma
        return not self.take_names and takes >= 2 and spread <= usually

    def say(self, value: float | Fraction) -> str:
        """The value as a person says it, without its unit."""
        if self.directions:
            return self.direction(float(value)).says.format(self._say_with_sign(abs(float(value))))
        if self.unit == "in":
            return say_bare(value, max(self.tool.denominator, 16))
        return say_weight(float(value))

    def direction(self, value: float) -> Direction:
        """The direction a value lies in; the neutral one if it is too small to read."""
        unread = abs(value) < 0.5 if self.unit == CLOCK else as_mixed(abs(value)).zero
        sign = 0 if unread else (1 if value > 0 else -1)
        return next(one for one in self.directions if one.sign == sign)

    def shows(self, change: float) -> bool:
        """Whether a change is large enough for its tool to show it."""
        if self.unit == "in":
            return not as_mixed(abs(change), self._finest).zero
        return abs(change) >= LEAST_SHOWN

    def as_shown(self, value: float) -> float:
        """The value as it is said, to the last division that a person sees."""
        if self.unit == "in" and length_unit() is LengthUnit.INCHES:
            parts: float = SIGNED_PARTS if self.directions else max(self.tool.denominator, 16)
            return round(value * parts) / parts
        if self.unit == "in":
            parts = TENTHS_OF_MM if self.tool.denominator > SAID_TO_HALF else TENTHS_OF_MM / 5
            return round(value * parts) / parts
        return round(value) if self.unit == CLOCK else round(value, 1)

    def say_size(self, size: float) -> str:
        """A difference, never signed, with its unit, no finer than its tool: 'under 1/16 in' when it is
        too small to read."""
        if self.unit == CLOCK:
            return f"{abs(size):.0f} {self.unit}"
        if self.unit != "in":
            return f"{abs(size):.1f} {self.unit}"
        if as_mixed(abs(size), self._finest).zero:
            return f"under {say_length(1 / self._finest, self._finest)}"
        return say_length(abs(size), self._finest)

    def _say_with_sign(self, size: float) -> str:
        """A size between the words of a direction: inches are said without their sign."""
        if self.unit != "in":
            return f"{size:.0f} {self.unit}"
        return say_bare(size) if length_unit() is LengthUnit.INCHES else say_length(size)

    @property
    def _finest(self) -> int:
        """Parts of an inch that differences are said in: a tape is read between its marks."""
        return max(self.tool.denominator, MIDWAY)
