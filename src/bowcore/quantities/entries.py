"""From what was typed to a value of a quantity, and the keypad that saves the typing."""

from dataclasses import dataclass
from fractions import Fraction
from math import floor, sqrt

from bowcore.errors import BadInput, Incomplete
from bowcore.quantities.inches import LengthEntry, as_mixed, parse_inches, say_bare, say_length
from bowcore.quantities.quantity import CLOCK, Quantity
from bowcore.quantities.units import MM_PER_INCH, LengthUnit, length_unit
from bowcore.quantities.weights import WeightEntry, parse_weight


@dataclass(frozen=True)
class Entry:
    """A typed reading: exact value in the quantity's unit, raw text, and its uncertainty."""

    value: Fraction
    raw: str
    sigma: float


def read_entry(quantity: Quantity, text: str, direction: str = "") -> Entry:
    """Understand one typed reading of a quantity.

    Parameters
    ----------
    quantity : Quantity
        What was measured.
    text : str
        As typed.
    direction : str
        For a quantity with two directions, the key of one: "top" for the stop that touched first.

    Returns
    -------
    Entry
        Whether it is plausible is another question (`evidence/entry_check.py`).

    Raises
    ------
    Unreadable
        The text is not a length or weight, or the direction is missing.
    """
    if quantity.directions:
        return _signed_entry(quantity, text, direction)
    if quantity.unit == "in":
        length = parse_inches(text, quantity.tool.division)
        widen = 1.2 if length.wording else 1.0
        return Entry(length.value, length.raw, quantity.precision.sigma * widen)
    weight = parse_weight(text)
    return Entry(weight.value, weight.raw, quantity.precision.sigma)


def read_both(quantity: Quantity, first: str, second: str) -> Entry:
    """Understand the two readings of a quantity that is their difference, each as it was read.

    Returns
    -------
    Entry
        The first less the second; it is as unsure as both together.

    Raises
    ------
    Unreadable
        One of them is missing, no length, or nothing that is read there.
    BadInput
        The quantity is a single reading.
    """
    if quantity.two is None:
        raise BadInput(f"{quantity.name} is one reading.", "other")
    one = _of_two(quantity, quantity.two.first, first)
    other = _of_two(quantity, quantity.two.second, second)
    names = quantity.two.first.lower(), quantity.two.second.lower()
    raw = f"{names[0]} {one.raw}, {names[1]} {other.raw}"
    return Entry(one.value - other.value, raw, quantity.precision.sigma * sqrt(2))


def _of_two(quantity: Quantity, name: str, text: str) -> LengthEntry:
    assert quantity.two is not None
    if not text.strip():
        raise BadInput(f"What does it read at the {name.lower()}?", name.lower())
    length = parse_inches(text, quantity.tool.division)
    low, high = quantity.two.limits
    if not low <= length.value <= high:
        raise BadInput(
            f"At the {name.lower()} it reads {say_bare(low)} to {say_length(high)}.", name.lower()
        )
    return length


def _signed_entry(quantity: Quantity, text: str, direction: str) -> Entry:
    chosen = next((one for one in quantity.directions if one.key == direction), None)
    if chosen is None:
        names = [one.name.lower() for one in quantity.directions]
        raise Incomplete(f"{quantity.which} Choose {', '.join(names[:-1])} or {names[-1]}.")
    typed = text or "0" if chosen.sign == 0 else text
    length: LengthEntry | WeightEntry
    if quantity.unit == "in":
        length = parse_inches(typed, quantity.tool.division)
    else:
        length = parse_weight(typed)
    if not chosen.sign and length.value:
        raise Incomplete(f"“{chosen.name}” needs no measurement: clear it, or choose another.")
    if chosen.sign and not length.value:
        neutral = next(one.name for one in quantity.directions if not one.sign)
        raise Incomplete(f"How far? If it is 0, choose “{neutral}”.")
    raw = f"{chosen.name.lower()}, {length.raw or '0'}"
    return Entry(chosen.sign * length.value, raw, quantity.precision.sigma)


@dataclass(frozen=True)
class Keypad:
    """Keys for entering a reading by touch: whole numbers near the expected one, divisions."""

    wholes: tuple[str, ...]
    parts: tuple[str, ...]
    tails: tuple[str, ...]


def keypad_for(quantity: Quantity, expected: float | None = None) -> Keypad:
    """The keys of a quantity's tool, around the value that is expected.

    Parameters
    ----------
    quantity : Quantity
        What is being read.
    expected : float or None
        Where the wholes should be centred, in the quantity's unit.

    Returns
    -------
    Keypad
        `wholes` replaces the whole number, `parts` the fraction or tenth, `tails` the wording.
    """
    if quantity.unit == CLOCK:
        return Keypad((), tuple(str(n) for n in range(16)), ())
    metric = quantity.unit == "in" and length_unit() is LengthUnit.MILLIMETRES
    if metric:
        return _metric_keypad(quantity, expected)
    if quantity.directions and quantity.two is None:
        bottom = max(quantity.tool.denominator, 16)
        reach = min(int(quantity.limits[1] * bottom) + 1, 16)
        return Keypad((), tuple(str(as_mixed(Fraction(n, bottom))) for n in range(reach)), ())
    if quantity.two:
        expected = sum(quantity.two.limits) / 2
    middle = floor(expected if expected is not None else sum(quantity.limits) / 2)
    count = 8 if quantity.unit == "in" else 10
    first = max(middle - count // 2 + 1, 0)
    wholes = tuple(str(n) for n in range(first, first + count))
    if quantity.unit == "in":
        bottom = min(quantity.tool.denominator, 16) if quantity.two else quantity.tool.denominator
        parts = tuple(str(as_mixed(Fraction(n, bottom))) for n in range(1, bottom))
        return Keypad(wholes, parts, ("+", "-"))
    return Keypad(wholes, tuple(f".{n}" for n in range(10)), ())


def _metric_keypad(quantity: Quantity, expected: float | None) -> Keypad:
    """Millimetres around the expected length; small sizes in halves."""
    if quantity.directions and quantity.two is None:
        reach = min(int(2 * MM_PER_INCH * quantity.limits[1]) + 1, 24)
        return Keypad((), tuple(f"{n / 2:g}" for n in range(reach)), ())
    ends = quantity.two.limits if quantity.two else quantity.limits
    middle = sum(ends) / 2 if quantity.two or expected is None else expected
    first = max(round(middle * MM_PER_INCH) - 7, 0)
    return Keypad(tuple(str(n) for n in range(first, first + 16)), (".5",), ("+", "-"))
