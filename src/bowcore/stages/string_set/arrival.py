"""A set has come: is it what was ordered, and what will it need on the bow?

Lengths are compared loop to loop under load. A part that would need more than four twists to come
to length is sent back before it is ever on a bow (common practice, no published source).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from bowcore.bow.specification import PartSpec
from bowcore.errors import BadInput
from bowcore.quantities.inches import say_length
from bowcore.stages.replace.tug import LengthVerdict, judge_length

LENGTH_TOLERANCE_IN = 1 / 16
STRING_LOAD_LBF = 100
"""Strings and cables are measured under about so much load (common practice)."""


class LengthKnown(StrEnum):
    """How the length of a part is known: the three are kept apart."""

    MEASURED = "measured"
    LABELLED = "as labelled"
    COMPARED = "beside the old one"

    @property
    def counts_as_measured(self) -> bool:
        """What a label says is the maker's word: it neither confirms nor contradicts a reading."""
        return self is not LengthKnown.LABELLED


class ArrivalVerdict(StrEnum):
    """What becomes of a component."""

    GOOD = "put it on"
    WATCH = "put it on, and watch"
    BACK = "send it back"


@dataclass(frozen=True)
class Arrived:
    """A component as it came. `served_in` are the served lengths at its two ends and in the middle.

    `contact_in` is how far from the near end the rest cord's clamp or the string stop touches it, 0
    where nothing does. [in]
    """

    role: str
    length_in: float
    strands: int
    served_in: tuple[float, ...] = ()
    clipped: bool = True


@dataclass(frozen=True)
class Contact:
    """Something that must meet a served zone: the rest cord's clamp, a draw stop, a string stop."""

    name: str
    role: str
    from_end_in: float
    half_width_in: float = 0.25


@dataclass(frozen=True)
class JudgedComponent:
    """One component: the verdict, and every reason for it."""

    role: str
    verdict: ArrivalVerdict
    reasons: tuple[str, ...]


def judge_component(part: PartSpec, came: Arrived, old_in: float | None = None) -> JudgedComponent:
    """Judge one component against the book and the old one.

    Parameters
    ----------
    part : PartSpec
        What the book says.
    came : Arrived
        What lies on the bench.
    old_in : float or None
        Length of the part that comes off, measured the same way; outranks the book.

    Returns
    -------
    JudgedComponent
        Good, to be watched, or to be sent back.

    Raises
    ------
    BadInput
        A length or count that is impossible for a string.
    """
    if not 5 <= came.length_in <= 130:
        raise BadInput(
            f"{part.label}: {came.length_in:g} in is not a length.", "length_in", "5 to 130"
        )
    if not 4 <= came.strands <= 60:
        raise BadInput(f"{part.label}: how many strands?", "strands", "4 to 60")
    aim = old_in if old_in is not None else part.length_in
    of_what = "the old one" if old_in is not None else "the book"
    off = came.length_in - aim
    verdict, reasons = ArrivalVerdict.GOOD, []
    if abs(off) > LENGTH_TOLERANCE_IN:
        twists = judge_length(
            part, LengthVerdict.LONG if off > 0 else LengthVerdict.SHORT, abs(off)
        )
        verdict = ArrivalVerdict.BACK if twists.wrong_part else ArrivalVerdict.WATCH
        reasons.append(f"{twists.words} Measured against {of_what}, {say_length(aim)}.")
    if came.strands != part.strands:
        verdict = max(verdict, ArrivalVerdict.WATCH, key=_grave)
        more = came.strands > part.strands
        does = "slower, and a twist does more" if more else "less strong: ask the maker"
        reasons.append(f"{came.strands} strands, the book says {part.strands}: {does}.")
    if not came.clipped:
        verdict = max(verdict, ArrivalVerdict.WATCH, key=_grave)
        reasons.append(
            "Its loops came loose: twists may have been lost. Measure it again, twisted."
        )
    return JudgedComponent(
        came.role, verdict, tuple(reasons) or (f"As {of_what}, to a sixteenth.",)
    )


def judge_contacts(came: Arrived, contacts: Sequence[Contact]) -> list[str]:
    """What will not find its serving on the new part, foreseen before it is on.

    The served zones run from each end inwards; `served_in` gives top and bottom.
    """
    found = []
    for contact in contacts:
        if contact.role != came.role or not came.served_in:
            continue
        from_top = contact.from_end_in
        from_bottom = came.length_in - contact.from_end_in
        top, bottom = came.served_in[0], came.served_in[-1]
        if from_top + contact.half_width_in > top and from_bottom + contact.half_width_in > bottom:
            found.append(
                f"{contact.name} meets bare strands: it sits {say_length(from_top, 8)} from the "
                f"top end, the serving ends at {say_length(top, 8)}. Serve it longer, or move it."
            )
    return found


def with_remarks(judged_: JudgedComponent, remarks: Sequence[str]) -> JudgedComponent:
    """The same component when more is to be said of it: it is to be watched."""
    if not remarks:
        return judged_
    verdict = max(judged_.verdict, ArrivalVerdict.WATCH, key=_grave)
    return JudgedComponent(judged_.role, verdict, (*judged_.reasons, *remarks))


def set_verdict(parts: Sequence[JudgedComponent]) -> ArrivalVerdict:
    """The verdict on a whole set: that of its worst part."""
    return max((part.verdict for part in parts), key=_grave, default=ArrivalVerdict.GOOD)


def _grave(verdict: ArrivalVerdict) -> int:
    return list(ArrivalVerdict).index(verdict)
