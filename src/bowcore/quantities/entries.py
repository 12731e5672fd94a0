"""From what was typed to a value of a quantity, and the keypad that saves the typing."""

from dataclasses import dataclass
from fractions import Fraction
from math import floor

from bowcore.errors import Unreadable
from bowcore.quantities.catalogue import Quantity
from bowcore.quantities.inches import as_mixed, parse_inches
from bowcore.quantities.weights import parse_weight

FIRST_STOPS = {"top": -1, "bottom": 1, "both": 0}
"""Sign of the gap by the stop that touches first: the other one is left open."""


@dataclass(frozen=True)
class Entry:
    """A typed reading: exact value in the quantity's unit, raw text, and its uncertainty."""

    value: Fraction
    raw: str
    sigma: float
    odd: str = ""
    """Why the value is surprising and asks for a second look; empty when it is not."""


def read_entry(quantity: Quantity, text: str, first_stop: str = "") -> Entry:
    """Understand one typed reading of a quantity.

    Parameters
    ----------
    quantity : Quantity
        What was measured.
    text : str
        As typed.
    first_stop : str
        For the stop gap: "top", "bottom" or "both", the stop that touched first.

    Returns
    -------
    Entry
        With `odd` set when the value lies outside what any bow shows.

    Raises
    ------
    Unreadable
        The text is not a length or weight, or the first stop is missing.
    """
    if quantity.key == "stop_gap":
        return _gap_entry(quantity, text, first_stop)
    if quantity.unit == "in":
        said = parse_inches(text, quantity.tool.division)
        widen = 1.2 if said.wording else 1.0
        return _entry(quantity, said.value, said.raw, quantity.tool.sigma * widen)
    weight = parse_weight(text)
    return _entry(quantity, weight.value, weight.raw, quantity.tool.sigma)


def _gap_entry(quantity: Quantity, text: str, first_stop: str) -> Entry:
    if first_stop not in FIRST_STOPS:
        raise Unreadable(text.strip(), "say which stop touches first: top, bottom or both.")
    if first_stop == "both":
        said = parse_inches(text or "0", quantity.tool.division)
        if said.value:
            raise Unreadable(said.raw, "if both touch together, nothing is left open.")
    else:
        said = parse_inches(text, quantity.tool.division)
        if not said.value:
            raise Unreadable(said.raw, "nothing left open means both touch together.")
    raw = f"{first_stop} first, {said.raw or '0'}"
    return _entry(quantity, FIRST_STOPS[first_stop] * said.value, raw, quantity.tool.sigma)


def _entry(quantity: Quantity, value: Fraction, raw: str, sigma: float) -> Entry:
    low, high = quantity.sane
    odd = ""
    if not low <= value <= high:
        odd = f"{quantity.name} of {quantity.say(value)} {quantity.unit} is outside {low:g} to {high:g}."
    return Entry(value, raw, sigma, odd)


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
    if quantity.key == "stop_gap":
        steps = range(16)
        parts = tuple(str(as_mixed(Fraction(n, 64))) for n in steps)
        return Keypad((), parts, ())
    middle = floor(expected if expected is not None else sum(quantity.sane) / 2)
    count = 8 if quantity.unit == "in" else 10
    first = max(middle - count // 2 + 1, 0)
    wholes = tuple(str(n) for n in range(first, first + count))
    if quantity.unit == "in":
        bottom = quantity.tool.denominator
        parts = tuple(str(as_mixed(Fraction(n, bottom))) for n in range(1, bottom))
        return Keypad(wholes, parts, ("+", "-"))
    return Keypad(wholes, tuple(f".{n}" for n in range(10)), ())
