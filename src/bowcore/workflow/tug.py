"""After a let-down with one new part: what it shows about that part's length.

The mark of a cam moves with the length of the part that holds it. Pulling the string a little by
hand (the tug test) turns the cams in the draw direction: a mark that then moves toward its place
is short of it, a mark that moves away is past it (common practice, no published source).
"""

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS
from bowcore.errors import BadInput
from bowcore.mechanics.specification import PartSpec
from bowcore.quantities.inches import say_inches

ON_MARK_IN = 1 / 64
MARK_PER_INCH = 1.0
"""How far a mark at the peg's radius moves for an inch of cable, about; a first guess."""


class Tug(StrEnum):
    """What the mark does when the string is pulled a little."""

    TOWARD = "toward"
    AWAY = "away"
    STILL = "on it"


class LengthVerdict(StrEnum):
    """What a part's length turns out to be."""

    RIGHT = "right"
    SHORT = "short"
    LONG = "long"


@dataclass(frozen=True)
class PartVerdict:
    """One new part judged: short or long by about so much, in how many half twists, or wrong."""

    length: LengthVerdict
    off_in: float
    steps: int
    wrong_part: bool
    words: str


def where_mark_is(tug: Tug) -> str:
    """Where the mark is, from what it does under a tug."""
    return {Tug.TOWARD: "short of the mark", Tug.AWAY: "past the mark", Tug.STILL: "on the mark"}[
        tug
    ]


def tug_means(tug: Tug) -> str:
    """What the tug shows of the cable's length, in words."""
    if tug is Tug.STILL:
        return "the length is right"
    short = "short" if tug is Tug.TOWARD else "long"
    return f"it is {where_mark_is(tug)}, the cable is {short}"


def judge_cable(part: PartSpec, tug: Tug, off_mark_in: float) -> PartVerdict:
    """A new cable, from the mark of the cam that takes it up.

    A cable that is too short holds its cam back: at rest the cam is turned less, its mark is
    short of its place, and a tug brings it toward it.

    Parameters
    ----------
    part : PartSpec
        The cable.
    tug : Tug
        What the mark does when the string is pulled a little.
    off_mark_in : float
        How far off its place the mark is, not signed. [in]

    Returns
    -------
    PartVerdict
        In words, with the half twists that would bring it back (positive is in).

    Raises
    ------
    BadInput
        The distance is impossible, or contradicts the tug.
    """
    if not isfinite(off_mark_in) or not 0 <= off_mark_in <= 2:
        raise BadInput("How far off the mark is it?", "off_mark_in", "0 to 2 in")
    if tug is Tug.STILL and off_mark_in > ON_MARK_IN:
        raise BadInput("On the mark, but with a distance to it: which of the two?", "off_mark_in")
    if tug is Tug.STILL or off_mark_in <= ON_MARK_IN:
        return PartVerdict(LengthVerdict.RIGHT, 0.0, 0, False, f"{part.label}: length is right.")
    length = LengthVerdict.SHORT if tug is Tug.TOWARD else LengthVerdict.LONG
    return judge_length(part, length, off_mark_in / MARK_PER_INCH)


def judge_length(part: PartSpec, length: LengthVerdict, off_in: float) -> PartVerdict:
    """A part that is long or short by about so much: the twists it takes, or sent back."""
    step = part.bundle().shortening_in(1)
    count = max(round(off_in / step), 1)
    wrong = count > MOST_HALF_TWISTS
    size = say_inches(off_in, 16) if off_in >= 1 / 32 else "a hair"
    words = f"{part.label}: about {size}{' in' if off_in >= 1 / 32 else ''} {length}, "
    if wrong:
        words += f"more than {MOST_HALF_TWISTS // 2} twists: it is the wrong length. Send it back."
    else:
        way = "out" if length is LengthVerdict.SHORT else "in"
        twists = say_inches(count / 2, 2)
        words += f"about {twists} twist{'' if count in (1, 2) else 's'} {way}."
    signed = -count if length is LengthVerdict.SHORT else count
    return PartVerdict(length, off_in, signed, wrong, words)
