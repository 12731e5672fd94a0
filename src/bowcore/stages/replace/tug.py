"""After a let-down with one new part: what it shows about that part's length.

The part itself is squeezed or pulled sideways by hand, which is as if it were a little shorter. A
cam's mark that then moves away from its place shows a part that is short already; one that moves
toward it shows a long one (common practice, no published source). How far a mark moves for an inch
of length is this bow's own, from its twin (`bow/mark_lever.py`).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from math import hypot, isfinite

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS
from bowcore.bow.specification import CABLE_A, Family, PartSpec
from bowcore.errors import BadInput
from bowcore.measurement.cam_mark import PAINT_LINE_IN, Tug
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches, say_length

LEVER_DOUBT = 0.15
"""How far a bow's own lever may be from its book's."""
TAPE_DOUBT_IN = 1 / 16
"""How well the length of a part is known that was measured on the bench, twists and all."""
CONTRADICTS = 3.0
"""Two signs that differ by so many standard deviations contradict each other."""
FAIR_LEVER = 0.8
"""In the middle of what twins of all families say; used only where a book cannot be computed."""


class LengthVerdict(StrEnum):
    """What a part's length turns out to be."""

    RIGHT = "right"
    SHORT = "short"
    LONG = "long"


SHOWN_BY = {
    Tug.TOWARD: LengthVerdict.LONG,
    Tug.AWAY: LengthVerdict.SHORT,
    Tug.STILL: LengthVerdict.RIGHT,
}
"""What each answer shows."""


@dataclass(frozen=True)
class PartVerdict:
    """One new part judged: how much it is off, give or take `doubt_in`; the half twists that bring it
    home; whether it is the wrong part. `short_in` is signed. [in]"""

    length: LengthVerdict
    off_in: float
    steps: int
    wrong_part: bool
    words: str
    doubt_in: float = 0.0

    @property
    def short_in(self) -> float:
        return -self.off_in if self.length is LengthVerdict.LONG else self.off_in


@dataclass(frozen=True)
class OtherSigns:
    """What else speaks for a new part's length.

    Attributes
    ----------
    measured_short_in : float or None
        Published length less the one measured on the bench; None if it was not measured. [in]
    moved : mapping of str to float
        How far each quantity moved from before the part went on. [its unit]
    per_inch : mapping of str to float
        How far an inch of this part, shorter, moves each by the twin. [its unit per in]
    """

    measured_short_in: float | None = None
    moved: Mapping[str, float] = field(default_factory=dict)
    per_inch: Mapping[str, float] = field(default_factory=dict)


def judged_mark(part: PartSpec, family: Family) -> str:
    """Which mark a part is judged by, in words: a cable by the cam that takes it up."""
    if family is Family.SINGLE:
        return "The cam's mark"
    if part.is_string:
        return "The mark of either cam"
    return f"The mark of the {'top' if part.role == CABLE_A else 'bottom'} cam, which takes it up"


def before_the_tug(on_a_yoke: bool, may_be_drawn: bool) -> tuple[str, ...]:
    """What is done before a new part's mark is judged, in order."""
    seat = "Draw gently a few times: the loops seat."
    balance = "Balance the cam's lean with the yoke first: a leaning cam shifts its mark."
    return (*([seat] if may_be_drawn else []), *([balance] if on_a_yoke else []))


def judge_by_mark(
    part: PartSpec, tug: Tug, off_mark_in: float, lever: float, turned: int = 0
) -> PartVerdict:
    """A new part, from a cam's mark and what it does when the part is squeezed.

    Parameters
    ----------
    part : PartSpec
        The string or cable.
    tug : Tug
        What the mark does.
    off_mark_in : float
        How far off its place the mark is, not signed. [in]
    lever : float
        How far the mark moves for an inch of this part's length. [in per in]
    turned : int
        Half twists put into it since it went on, signed.

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
    if tug is Tug.STILL and off_mark_in > PAINT_LINE_IN:
        raise BadInput("On the mark, but with a distance to it: which of the two?", "off_mark_in")
    unseen = PAINT_LINE_IN / lever
    if tug is Tug.STILL or off_mark_in <= PAINT_LINE_IN:
        words = f"{part.label}: its length is right, to {say_length(unseen, 16)}."
        return PartVerdict(LengthVerdict.RIGHT, 0.0, 0, False, words, unseen / 2)
    off = off_mark_in / lever
    return judge_length(part, SHOWN_BY[tug], off, hypot(unseen / 2, LEVER_DOUBT * off), turned)


def judge_length(
    part: PartSpec, length: LengthVerdict, off_in: float, doubt_in: float = 0.0, turned: int = 0
) -> PartVerdict:
    """A part that is long or short by about so much: the twists it takes, or sent back.

    A new part is left a touch short, because threads settle longer: what does not come out at a half
    twist is rounded that way.
    """
    step = part.bundle().shortening_in(1)
    short = length is LengthVerdict.SHORT
    count = max(int(off_in / step + (0.4 if short else 0.6)), 1)
    signed = -count if short else count
    wrong = abs(signed + turned) > MOST_HALF_TWISTS
    size = f"{say_length(off_in, 16)}" if off_in >= 1 / 32 else "a hair"
    words = f"{part.label}: about {size} {length}, "
    if wrong:
        words += f"more than {MOST_HALF_TWISTS // 2} twists: it is the wrong length. Send it back."
    else:
        twists = say_inches(count / 2, 2)
        words += f"about {twists} twist{'' if count in (1, 2) else 's'} {'out' if short else 'in'}."
    return PartVerdict(length, off_in, signed, wrong, words, doubt_in)


def contradictions(part: PartSpec, verdict: PartVerdict, signs: OtherSigns) -> tuple[str, ...]:
    """What else was read and does not go with a verdict, each in a sentence."""
    found = []
    measured = signs.measured_short_in
    if measured is not None:
        doubt = hypot(verdict.doubt_in, TAPE_DOUBT_IN)
        if abs(measured - verdict.short_in) > CONTRADICTS * doubt:
            found.append(f"Measured on the bench, it is {_say_short(measured)}.")
    for name, moved in signs.moved.items():
        quantity, slope = QUANTITIES[name], signs.per_inch.get(name, 0.0)
        expected = slope * verdict.short_in
        reading = 2**0.5 * quantity.precision.sigma
        doubt = hypot(reading, slope * verdict.doubt_in, 0.3 * expected)
        if abs(moved - expected) > CONTRADICTS * doubt:
            found.append(
                f"{quantity.name} has {_say_moved(name, moved)}; with a {part.label.lower()} that is "
                f"{_say_short(verdict.short_in)} it would have {_say_moved(name, expected)}."
            )
    return tuple(found)


def _say_short(short_in: float) -> str:
    if abs(short_in) < 1 / 32:
        return "right"
    return f"{say_length(abs(short_in), 16)} {'short' if short_in > 0 else 'long'}"


def _say_moved(name: str, moved: float) -> str:
    if abs(moved) < 1 / 64:
        return "stayed"
    size = QUANTITIES[name].say_size(abs(moved))
    return f"{'gone up' if moved > 0 else 'gone down'} by {size}"
