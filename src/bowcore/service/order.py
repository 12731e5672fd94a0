"""In which order parts are replaced, by school and by how the cables run.

Cables before the string: a cable is short, so that a twist is a larger share of it, and the string
is set last. Where one cable lies over another it comes off first and goes on last.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from bowcore.mechanics.specification import BowSpec, Family, PartSpec


class ReplaceSchool(StrEnum):
    """How good technicians differ in replacing a set."""

    ONE_BY_ONE = "one at a time, let down between"
    ONE_PRESS = "one at a time, in one press"
    STRIP = "strip all"


WHY = {
    ReplaceSchool.ONE_BY_ONE: "Marks, axle to axle and brace after each part tell which new one is "
    "long or short.",
    ReplaceSchool.ONE_PRESS: "Routing is copied from what is still on; one press cycle, but the "
    "parts are not told apart.",
    ReplaceSchool.STRIP: "Quickest; the twin has to find out afterwards which part is off.",
}
"""The reason of each school."""


@dataclass(frozen=True)
class PartStep:
    """One part's turn: which, from where to where, how it goes on."""

    part: PartSpec
    runs: str
    how: tuple[str, ...]
    reads_after: tuple[str, ...]


def order_of(spec: BowSpec, roles: Sequence[str]) -> list[str]:
    """The parts in the order in which they are replaced: outer cable first, string last."""
    first = ("cable_b", "cable_a", "string") if spec.family is Family.HYBRID else (
        "cable_a", "cable_b", "string",
    )  # fmt: skip
    return [role for role in first if role in roles]


def part_steps(spec: BowSpec, roles: Sequence[str], school: ReplaceSchool) -> list[PartStep]:
    """What is done for each part, in order.

    Parameters
    ----------
    spec : BowSpec
        The book.
    roles : sequence of str
        Parts to be replaced.
    school : ReplaceSchool
        Decides whether anything is read between.

    Returns
    -------
    list of PartStep
        Cables first, string last.
    """
    reads: tuple[str, ...] = ()
    if school is ReplaceSchool.ONE_BY_ONE:
        mark = ("stop_gap",) if spec.family is Family.SINGLE else ()
        reads = ("axle_to_axle", "brace_height", *mark)
    return [
        PartStep(part, part.ends, _how(part), reads)
        for part in map(spec.part, order_of(spec, roles))
    ]


def may_share_press(school: ReplaceSchool) -> bool:
    """Whether more than one part is put on in one press cycle."""
    return school is not ReplaceSchool.ONE_BY_ONE


def _how(part: PartSpec) -> tuple[str, ...]:
    if part.role == "string":
        return (
            "The end with the split for the peep is the top.",
            "Loops stay clipped together until they go on: two twists lost are nothing, six are.",
            "Peep, silencers and weights go over before the old string is cut.",
        )
    return (
        "The long served end goes to the take-up side, the short one to the other.",
        "Loops stay clipped together until they go on, twists kept.",
        "It runs on the same side of its neighbours as the old one did: look at the routing.",
    )
