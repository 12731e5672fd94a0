"""Cable spacers: hourglass pieces between the two halves of a cable, which shorten it a little.

A kit has only so many ways to go in. Each is a total in ten-thousandths of an inch of the cable's
length, because a spacer's pull goes with the square of its size.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations_with_replacement
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Position, Trial, TurnableBow
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.bow.bundle import spacer_shortening_in
from bowcore.bow.specification import BowSpec, PartSpec
from bowcore.bow.twin import Changes
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length

SPACER_STEP_IN = 0.0001
SPACER_EFFORT = 8
"""A spacer is for the last bit: it waits while up to so many half twists would do (common practice)."""
SPACER_DOUBT = 0.3  # plausible geometry, not validated


@dataclass(frozen=True)
class Spacer(Adjuster):
    """The spacers of one cable. A bundle with an odd number of strands has no halves, so no spacer."""

    kind: ClassVar[str] = "spacer"
    step_word: ClassVar[str] = "0.0001 in of spacer"
    order: ClassVar[int] = 3

    @property
    def change(self) -> Change:
        return Change.SPACER

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        if not spec.spacers_in:
            return []
        return [
            cls(
                f"{part.role}.spacer",
                f"{part.label}, spacer",
                part.role,
                length_step_in=SPACER_STEP_IN,
                doubt=SPACER_DOUBT,
                positions=spacer_positions(spec.spacers_in, half_split_in(part)),
            )
            for part in spec.cables
            if part.strands % 2 == 0
        ]

    def trial(self) -> Trial:
        return Trial(Changes({self.part: TRIAL_IN}), SPACER_STEP_IN / TRIAL_IN)

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.pull(self.part, count * SPACER_STEP_IN)

    def say(self, count: int) -> str:
        way = "shorter" if count > 0 else "longer"
        return f"{abs(count) * SPACER_STEP_IN:.4g} in {way}"

    @classmethod
    def gate_point(cls, spec: BowSpec, in_use: bool) -> str:
        return "Every spacer is still between its halves: the press may free it" if in_use else ""


def half_split_in(part: PartSpec) -> float:
    """From a spacer to where the halves meet again: half the length of one twist. [in]"""
    return max(0.5 / max(part.twists_per_in, 0.2), 0.5)


def spacer_positions(sizes_in: Sequence[float], split_in: float) -> tuple[Position, ...]:
    """Every way that spacers can sit in one cable, shortest pull first: none, one, or any two.

    A kit of four sizes, two of each, has 14 steps (common practice).

    Parameters
    ----------
    sizes_in : sequence of float
        Diameters in the drawer. [in]
    split_in : float
        From the spacer to where the halves meet again. [in]

    Returns
    -------
    tuple of Position
        Empty without a kit.
    """
    if not sizes_in:
        return ()
    pulls = {s: round(spacer_shortening_in(s, split_in) / SPACER_STEP_IN) for s in sizes_in}
    ways = [(), *((s,) for s in pulls), *combinations_with_replacement(sorted(pulls), 2)]
    found: dict[int, Position] = {}
    for way in ways:
        total, effort = sum(pulls[size] for size in way), len(way) * SPACER_EFFORT
        if total not in found or effort < found[total].effort:
            found[total] = Position(total, _say_spacers(way), effort)
    return tuple(found[total] for total in sorted(found))


def _say_spacers(sizes_in: Sequence[float]) -> str:
    """`one 1/8 in spacer`, `two 1/8 in spacers`, `a 1/16 in and a 1/8 in spacer`."""
    if not sizes_in:
        return "no spacer"
    words = [say_length(size) for size in sizes_in]
    if len(words) == 1:
        return f"one {words[0]} spacer"
    first, second = words
    return f"two {first} spacers" if first == second else f"a {first} and a {second} spacer"


def how_to_place(part: PartSpec) -> tuple[str, ...]:
    """How a spacer goes between the halves of a cable (common practice)."""
    half, twist = part.strands // 2, say_length(2 * half_split_in(part), 8)
    return (
        f"Part its {part.strands} strands into {half} and {half}; count them on both sides.",
        f"Keep away from every serving, and at least one twist ({twist} on this cable) from "
        "another spacer. The smallest size first.",
        "It may fall out when the press takes the load off: the next gate asks for it.",
    )
