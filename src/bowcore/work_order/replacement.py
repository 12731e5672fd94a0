"""In which order parts are replaced, by policy and by how the cables run.

Cables before the string: a cable is short, so that a twist is a larger share of it, and the string
is set last. Where one cable lies over another it comes off first and goes on last.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from bowcore.bow.specification import (
    CABLE_A,
    CABLE_B,
    HARNESSES,
    STRING,
    BowSpec,
    Family,
    PartSpec,
)
from bowcore.quantities.inches import say_length


class ReplacementPolicy(StrEnum):
    """How good technicians differ in replacing a set."""

    ONE_BY_ONE = "one at a time, let down between"
    ONE_PRESS = "one at a time, in one press"
    STRIP = "strip all"


REPLACEMENT_REASONS = {
    ReplacementPolicy.ONE_BY_ONE: "Marks, axle to axle and brace after each part show which new one "
    "is long or short.",
    ReplacementPolicy.ONE_PRESS: "Routing is copied from what is still on; one press cycle, but the "
    "parts are not judged one by one.",
    ReplacementPolicy.STRIP: "Quickest, but which part is off is only estimated afterwards.",
}
"""The reason of each policy."""


AXLE_OUT = (
    "The axle has to come out for this part: only with every string and cable slack and off that cam. "
    "Write down which spacer sits on which side first. If the maker keeps axles to authorised service, "
    "leave it to them."
)


@dataclass(frozen=True)
class PartStep:
    """One part's turn: which, from where to where, how it goes on."""

    part: PartSpec
    runs: str
    how: tuple[str, ...]
    reads_after: tuple[str, ...]


def replacement_order(spec: BowSpec, roles: Sequence[str]) -> list[str]:
    """The parts in the order in which they are replaced: outer cable first, string last, and a yoke
    harness before the cable that hangs on it."""
    cables = (CABLE_B, CABLE_A) if spec.family is Family.HYBRID else (CABLE_A, CABLE_B)
    with_harness = {cable: harness for harness, cable in HARNESSES.items()}
    every = [role for cable in cables for role in (with_harness[cable], cable)]
    return [role for role in (*every, STRING) if role in roles]


def part_steps(spec: BowSpec, roles: Sequence[str], policy: ReplacementPolicy) -> list[PartStep]:
    """What is done for each part, in order.

    Parameters
    ----------
    spec : BowSpec
        The book.
    roles : sequence of str
        Parts to be replaced.
    policy : ReplacementPolicy
        Decides whether anything is read between.

    Returns
    -------
    list of PartStep
        Cables first, string last.
    """
    reads: tuple[str, ...] = ()
    if policy is ReplacementPolicy.ONE_BY_ONE:
        mark = ("stop_gap",) if spec.family is Family.SINGLE else ()
        reads = ("axle_to_axle", "brace_height", *mark)
    return [
        PartStep(part, part.ends, _how(part, spec.family), reads)
        for part in map(spec.part, replacement_order(spec, roles))
    ]


def may_share_press(policy: ReplacementPolicy) -> bool:
    """Whether more than one part is put on in one press cycle."""
    return policy is not ReplacementPolicy.ONE_BY_ONE


def _how(part: PartSpec, family: Family) -> tuple[str, ...]:
    return (*((AXLE_OUT,) if part.axle_out else ()), *_how_it_goes_on(part, family))


def _how_it_goes_on(part: PartSpec, family: Family) -> tuple[str, ...]:
    if part.is_harness:
        return (
            "The harness goes on before its cable: both legs on their sides of the axle, alike in length.",
            "Its connector is closed, and the cable's loop sits in its groove.",
        )
    if part.is_string:
        return (
            "The end with the split for the peep is the top.",
            "Loops stay clipped together until they go on. Losing up to one twist is harmless, losing four "
            "or more is not.",
            "Peep, silencers and weights go over before the old string is cut.",
        )
    if family is Family.BINARY:
        served = "The long served end goes to the take-up side, the short one to the let-out side."
    else:
        served = "The end with more serving is the top."
    return (
        served,
        "Loops stay clipped together until they go on, twists kept.",
        "It runs on the same side of its neighbours as the old one did: look at the routing.",
    )


class OldPart(StrEnum):
    """What becomes of a part that comes off. Only a person says that it is a spare: sound and shot in."""

    WITH_THE_BOW = "taken off"
    SPARE = "spare"
    SCRAP = "scrap"


OLD_PART_WORDS = {
    OldPart.WITH_THE_BOW: "Goes back with the bow", OldPart.SPARE: "A spare: sound and shot in",
    OldPart.SCRAP: "Scrap",
}  # fmt: skip


def usual_for_old(damaged: bool) -> OldPart:
    """What becomes of it where nobody says otherwise: what was found damaged is scrap."""
    return OldPart.SCRAP if damaged else OldPart.WITH_THE_BOW


PLAUSIBLE_SHARE = 0.03
"""A part that is off its published length by more than this share is asked about: it may be another one."""


def length_doubted(label: str, length_in: float, published_in: float) -> str:
    """Why a new part's length asks for a second look, in a sentence; "" when it is plausible. [in]"""
    off = length_in - published_in
    if abs(off) <= PLAUSIBLE_SHARE * published_in:
        return ""
    way = "longer" if off > 0 else "shorter"
    return (
        f"{label} {say_length(length_in)}: that is {say_length(abs(off))} {way} than published. Measure it "
        "again, or keep it if you are sure."
    )
