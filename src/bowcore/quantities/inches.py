"""Lengths as people at a bench say and read them: `33 1/16`, `6 1/2+`, `just shy of 7`, `840 mm`.

Where no unit is written, a plain number is in the unit in use; a fraction is always of an inch."""

import re
from dataclasses import dataclass
from fractions import Fraction

from bowcore.errors import Unreadable, short_enough
from bowcore.quantities.units import MM_PER_INCH, MM_PER_INCH_EXACT, LengthUnit, length_unit

SIXTEENTH = Fraction(1, 16)
FINEST = 64
SAID_TO_HALF = 32
"""What is read to a 32nd of an inch or coarser is said to half a millimetre, the rest to a tenth."""
_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_OVER = re.compile(r"^(?:just|a hair|a touch)\s+(?:over|past|above)\s+")
_UNDER = re.compile(r"^(?:just\s+(?:shy\s+of|under|short\s+of|below)|shy\s+of|a\s+hair\s+under)\s+")
_UNITS = re.compile(r'\s*(mm|cm|in|inch|inches|"|″|”)$')
_NUMBER = re.compile(r"^(\d+)(?:\.(\d+))?$|^\.(\d+)$")
_FRACTION = re.compile(r"^(?:(\d+)[\s-]+)?(\d+)\s*/\s*(\d+)$")


@dataclass(frozen=True)
class LengthEntry:
    """One length as it was said.

    `value` [in] includes the quarter division that "+" or "just shy" stands for;
    `wording` is "", "over" or "under"; `unit` is the one that was typed.
    """

    value: Fraction
    raw: str
    wording: str = ""
    unit: str = "in"


def parse_inches(
    text: str, division: Fraction = SIXTEENTH, plain: LengthUnit | None = None
) -> LengthEntry:
    """Read a length the way technicians write it.

    Parameters
    ----------
    text : str
        `33 1/16`, `33-1/16`, `33.06`, `33,06`, `6 1/2+`, `just shy of 7`, `840 mm`, `84 cm`.
    division : Fraction
        The tool's division; "+" and "-" mean a quarter of it over or under. [in]
    plain : LengthUnit, optional
        What a number without a unit is in; the unit in use if absent.

    Returns
    -------
    LengthEntry
        The exact value in inches with the raw text beside it.

    Raises
    ------
    Unreadable
        Says which part was not understood.

    Source: common practice, no published source (how a tape is read aloud).
    """
    raw = short_enough(text)
    body, wording = _take_wording(_plain(raw))
    if body.startswith("-"):
        raise Unreadable(raw, "a length cannot be negative; write it as 31 1/4.")
    body, unit = _take_unit(body)
    if not unit:
        unit = "in" if "/" in body else (plain or length_unit()).sign
        raw = raw if unit == "in" else f"{raw} {unit}"
    value = _number(body, raw)
    if unit != "in":
        value = value / MM_PER_INCH_EXACT * (10 if unit == "cm" else 1)
    nudge = {"over": division / 4, "under": -division / 4, "": Fraction(0)}[wording]
    if value + nudge < 0:
        raise Unreadable(raw, "that is less than nothing.")
    return LengthEntry(value + nudge, raw, wording, unit)


def _plain(raw: str) -> str:
    text = raw.lower().replace("⁄", "/").replace("–", "-").replace("−", "-")
    for sign, plain in _VULGAR.items():
        text = text.replace(sign, f" {plain}")
    return re.sub(r"\s+", " ", text).strip()


def _take_wording(text: str) -> tuple[str, str]:
    """Split off "+", "-" at the end or "just over", "just shy of" at the start."""
    for pattern, wording in ((_OVER, "over"), (_UNDER, "under")):
        if pattern.match(text):
            return pattern.sub("", text), wording
    for sign, wording in (("+", "over"), ("-", "under")):
        for tail in (sign, f"{sign} in", f'{sign}"', f"{sign} mm"):
            if text.endswith(tail) and len(text) > len(tail):
                return (text[: -len(tail)] + tail[1:]).strip(), wording
    return text, ""


def _take_unit(text: str) -> tuple[str, str]:
    found = _UNITS.search(text)
    if not found:
        return text, ""
    unit = found.group(1)
    return text[: found.start()].strip(), unit if unit in ("mm", "cm") else "in"


def _number(body: str, raw: str) -> Fraction:
    if not body:
        raise Unreadable(raw, "no number in it; write it as 31 1/4.")
    decimal = body.replace(",", ".")
    if _NUMBER.match(decimal):
        return Fraction(decimal)
    found = _FRACTION.match(body)
    if not found:
        raise Unreadable(raw, "write it as 33 1/16, 33.06 or 840 mm.")
    whole, top, bottom = (int(part or 0) for part in found.groups())
    return whole + _proper_fraction(top, bottom, raw, mixed=found.group(1) is not None)


def _proper_fraction(top: int, bottom: int, raw: str, mixed: bool) -> Fraction:
    if bottom == 0:
        raise Unreadable(raw, f"{top}/0 has a zero below the line; write it as 31 1/2.")
    if bottom > FINEST or bottom & (bottom - 1):
        raise Unreadable(raw, f"a rule has no {bottom}ths; use halves down to 64ths.")
    if mixed and top >= bottom:
        raise Unreadable(raw, f"{top}/{bottom} is a whole inch or more.")
    return Fraction(top, bottom)


@dataclass(frozen=True)
class Mixed:
    """A length split for display: sign, whole inches and a fraction in lowest terms."""

    negative: bool
    whole: int
    top: int
    bottom: int

    @property
    def zero(self) -> bool:
        """Too small to show."""
        return not self.whole and not self.top

    def __str__(self) -> str:
        sign = "-" if self.negative else ""
        if not self.top:
            return f"{sign}{self.whole}"
        part = f"{self.top}/{self.bottom}"
        return f"{sign}{self.whole} {part}" if self.whole else f"{sign}{part}"


def as_mixed(value_in: float | Fraction, denominator: int = FINEST) -> Mixed:
    """Round to the nearest 1/denominator and split.

    Parameters
    ----------
    value_in : float or Fraction
        The length. [in]
    denominator : int
        2, 4, 8, 16, 32 or 64.

    Returns
    -------
    Mixed
        Sign, whole inches, numerator and denominator in lowest terms.
    """
    steps = round(Fraction(value_in).limit_denominator(10**6) * denominator)
    whole, rest = divmod(abs(steps), denominator)
    part = Fraction(rest, denominator)
    return Mixed(steps < 0, whole, part.numerator if rest else 0, part.denominator if rest else 1)


def say_inches(value_in: float | Fraction, denominator: int = FINEST) -> str:
    """A number of inches, twists or turns as plain text, `33 1/16`, whatever unit is in use."""
    return str(as_mixed(value_in, denominator))


def say_bare(value_in: float | Fraction, denominator: int = FINEST) -> str:
    """A length in the unit in use, without it: `33 1/16`, or `840.5` millimetres."""
    if length_unit() is LengthUnit.INCHES:
        return say_inches(value_in, denominator)
    step = 10 if denominator > SAID_TO_HALF else 2
    millimetres = round(float(value_in) * float(MM_PER_INCH_EXACT) * step) / step
    return f"{millimetres:g}" if millimetres else "0"


def decimal_length(value_in: float) -> str:
    """A length as a tool with a display shows it, in the unit in use, without it: `0.946`, `24.03`."""
    if length_unit() is LengthUnit.INCHES:
        return f"{value_in:.3f}"
    return f"{value_in * MM_PER_INCH:.2f}"


def say_length(value_in: float | Fraction, denominator: int = FINEST) -> str:
    """A length with its unit: `33 1/16 in`, or `840.5 mm`."""
    return f"{say_bare(value_in, denominator)} {length_unit().sign}"
