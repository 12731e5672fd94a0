"""Is a typed number plausible? It is asked about against the other takes, the last reading, the book
and what any bow shows; whoever read it may keep it."""

import re
from collections.abc import Iterator, Mapping

from bowcore.errors import Unreadable
from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band
from bowcore.quantities.inches import parse_inches, say_bare, say_inches
from bowcore.quantities.quantity import CLOCK, Quantity

TAKES_APART = 10.0
"""Takes of one moment that are so many standard deviations apart are not of the same thing."""
FAR_OFF = 10.0
"""So many tolerances from the last reading or the book is further than work on a bow moves it."""
_RUN_TOGETHER = re.compile(r"^\s*(\d+)(\d)/(\d+)\s*$")


def why_doubted(
    what: Quantity,
    value: float,
    text: str,
    facts: Facts,
    bands: Mapping[str, Band],
    start: str = "",
) -> str:
    """Why a number asks for a second look, in one sentence; "" when it is plausible.

    Parameters
    ----------
    what : Quantity
        What was read, as it is called on this bow.
    value : float
        In its unit.
    text : str
        As typed: a space that was left out is seen in it.
    facts : Facts
        What was read before.
    bands : mapping of str to Band
        What the book or the baseline says.
    start : str
        The point that it was read from, where it has several.
    """
    reason = next(_reasons(what, value, facts, bands, start), "")
    return f"{reason}{_meant(what, text)}" if reason else ""


def impossible(what: Quantity, value: float, text: str = "", start: str = "") -> str:
    """That this cannot be, in a sentence: further outside the limits than half their range; "" otherwise.

    It is a slip of the finger, and is not kept however sure somebody is.
    """
    low, high = what.limits_between(start)
    reach = (high - low) / 2
    if low - reach <= value <= high + reach:
        return ""
    return f"{outside_limits(what, value, start)}{_meant(what, text)} Nothing was saved."


def outside_limits(what: Quantity, value: float, start: str = "") -> str:
    """That no bow shows this, in a sentence; "" if some do."""
    low, high = what.limits_between(start)
    if low <= value <= high:
        return ""
    if what.directions:
        return f"{what.name}: {what.say(value)}. The limit is {what.say_size(high)}."
    ends = [say_bare(x, 16) if what.unit == "in" else f"{x:g}" for x in (low, high)]
    return f"{what.name} of {what.say(value)} {what.sign} is outside {ends[0]} to {ends[1]} {what.sign}."


def _reasons(
    what: Quantity, value: float, facts: Facts, bands: Mapping[str, Band], start: str
) -> Iterator[str]:
    shown = what.say(value) if what.directions else f"{what.say(value)} {what.sign}"
    if outside := outside_limits(what, value, start):
        yield outside
    now = facts.current(what.key)
    before = now.summary if now else None
    apart = max(TAKES_APART * what.precision.sigma, 2 * what.tolerance)
    fresh = now is not None and now.fresh
    if before and fresh and not what.take_names and abs(value - before.value) > apart:
        yield f"{what.name} {shown}: the take before it was {what.say(before.value)}."
    turned = (
        what.unit == CLOCK
    )  # half a twist is half a turn: no reading is too far from the last one
    moved = before is not None and not fresh and not turned
    if moved and before and abs(value - before.value) > FAR_OFF * what.tolerance:
        yield f"{what.name} {shown}: before the last change it was {what.say(before.value)}."
    band = bands.get(what.key)
    off = abs(value - band.target) if band else 0.0
    if before is None and band and not what.directions and off > FAR_OFF * what.tolerance:
        yield f"{what.name} {shown}: by the {band.source} it is {what.say(band.target)}."


def _meant(what: Quantity, text: str) -> str:
    """`331/8` where `33 1/8` was meant."""
    found = _RUN_TOGETHER.match(text)
    if found is None or what.unit != "in":
        return ""
    whole, top, bottom = found.groups()
    try:
        meant = parse_inches(f"{whole} {top}/{bottom}").value
    except Unreadable:  # 33 9/8 is nothing that anybody writes
        return ""
    low, high = what.limits
    return f" Did you mean {say_inches(meant, 64)} in?" if low <= meant <= high else ""
