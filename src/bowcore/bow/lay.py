"""The lay of a string's or cable's threads, and which way "in" turns because of it.

Seen from the side, threads run like the bar of a Z or like the middle of an S. Those of a Z wind
tighter when an end is turned counter-clockwise, seen by someone who looks at that end: geometry of a
helix, checked in tests/core/test_take_back.py. People mean opposite things by "left" and "right" here,
so that neither word is used.
"""

from collections.abc import Mapping
from enum import StrEnum


class Lay(StrEnum):
    """How the threads run, seen from the side."""

    Z = "z"
    S = "s"


LIKE = {Lay.Z: "like the bar of a Z", Lay.S: "like the middle of an S"}
_IN = {Lay.Z: "counter-clockwise", Lay.S: "clockwise"}
NOT_LOOKED_AT = (
    f"Look at the threads first. If they run {LIKE[Lay.Z]}, in is {_IN[Lay.Z]}; "
    f"{LIKE[Lay.S]}, {_IN[Lay.S]}; looking at the end you turn."
)


def lay_of(text: str) -> Lay | None:
    """What was written down; None for anything else."""
    return Lay(text) if text in set(Lay) else None


def say_turning(lays: Mapping[str, Lay | None]) -> str:
    """Which way "in" turns on every part that is turned.

    Parameters
    ----------
    lays : mapping of str to Lay or None
        By the part's name; None where nobody has looked.
    """
    if not lays:
        return ""
    if None in lays.values():
        return NOT_LOOKED_AT
    kinds = {lay for lay in lays.values() if lay}
    if len(kinds) == 1:
        lay = kinds.pop()
        return f"The threads run {LIKE[lay]}: in is {_IN[lay]}, looking at the end you turn."
    each = "; ".join(f"{name} {_IN[lay]}" for name, lay in lays.items() if lay)
    return f"The threads do not all run the same way. In is, looking at the end you turn: {each}."


def mixed(lays: Mapping[str, Lay | None]) -> str:
    """A caution where parts of one bow do not all run the same way; "" where they do."""
    known = {name: lay for name, lay in lays.items() if lay}
    if len(set(known.values())) < 2:
        return ""
    each = ", ".join(f"{name.lower()} {LIKE[lay]}" for name, lay in known.items())
    return f"This bow mixes lays: {each}. In turns the other way on some of them."
