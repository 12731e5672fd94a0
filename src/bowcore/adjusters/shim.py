"""Shims: the spacers left and right of a cam on its axle. They move the cam, and so tilt it.

The ropes pull the cam over toward the side to which it is moved, as a shorter yoke leg on that side
would: the far end of a shaft laid on it runs off to the other side.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import (
    Adjuster,
    BowNow,
    Needs,
    Position,
    Trial,
    TurnableBow,
    written_down,
)
from bowcore.bow.kits import ShimKit, read_pair
from bowcore.bow.lean import CAM_TENSION_LBF, LEAN_AT, Lean, degrees_per_shim
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.errors import Refused
from bowcore.quantities.changes import Change

SHIM_STEP_IN = 0.001
"""Of difference between right and left: the cam itself moves by half of it."""
SHIM_MARKS = {"top": "shims_top", "bottom": "shims_bottom"}
"""Where the pair that is in is written down, by axle."""


@dataclass(frozen=True)
class Shim(Adjuster):
    """The pair of spacers beside the cam at one axle."""

    kind: ClassVar[str] = "shim"
    step_word: ClassVar[str] = "0.001 in more right than left"
    order: ClassVar[int] = 0
    needs: ClassVar[Needs] = Needs.AXLE_OUT
    minutes: ClassVar[float] = 10.0
    cautions: ClassVar[tuple[str, ...]] = (
        "Take the axle out only with every string and cable slack and off its cam; its clips and "
        "set screws go back in before the gate. If the maker keeps axles to authorised service, "
        "leave them to it.",
    )

    @property
    def change(self) -> Change:
        return Change.SHIM

    @property
    def leans(self) -> str:
        return LEAN_AT[self.axle]

    @property
    def marks(self) -> tuple[str, ...]:
        return (SHIM_MARKS[self.axle],)

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        if not spec.shim_kits:
            return []
        positions = shim_positions(spec.shim_kits)
        return [
            cls(f"shim_{axle}", f"Shims, {axle} cam", axle=axle, positions=positions)
            for axle in SHIM_MARKS
        ]

    def trial(self) -> Trial:
        tilt_in = Lean(degrees_per_shim(CAM_TENSION_LBF, SHIM_STEP_IN / 2)).off_in()
        return Trial(Changes(), 1.0, {self.leans: tilt_in})

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.tilt_by_shim(self.leans, count)

    def say(self, count: int) -> str:
        way = "left" if count > 0 else "right"
        return f"cam {abs(count) * SHIM_STEP_IN / 2:.4g} in further {way}"

    def start(self, now: BowNow) -> int | None:
        written = written_down(now, SHIM_MARKS[self.axle])
        return None if written is None else shim_total(*read_pair(written))

    def totals_allowed(self, now: BowNow) -> tuple[int, int] | None:
        """Shims stay as they are while nobody has written down which are in."""
        return (self.total(now), self.total(now)) if self.start(now) is None else None

    def require_possible(self, now: BowNow, count: int) -> None:
        """What comes out of a kit can only go in as the kit has it, or back as the bow came in."""
        start = self.start(now)
        if start is None:
            raise Refused(f"{self.label}: write down which are in now first.")
        total = self.total(now) + count
        if total != start and self.position(total) is None:
            raise Refused(f"{self.label}: this bow's kits cannot be put in like that.")

    def where(self, now: BowNow) -> str:
        if self.start(now) is None:
            return "nobody has written down which are in"
        return f"now {self.say_total(self.total(now)) or 'as it came in'}"

    @classmethod
    def remarks(cls, steps: Sequence[tuple[Adjuster, int]]) -> list[str]:
        return ["Top cam first, then the bottom one; the thicker kit when the thin one runs out."]


def shim_total(left_in: float, right_in: float) -> int:
    """A pair of spacers as a total in steps: the more, the further the cam sits to the left."""
    return round((right_in - left_in) / SHIM_STEP_IN)


def shim_positions(kits: Sequence[ShimKit]) -> tuple[Position, ...]:
    """Every way that the kits can go in, from the cam furthest right to furthest left.

    The thicker kit is the later one and counts as more to handle: it waits until the first has run
    out (common practice).
    """
    found: dict[int, Position] = {}
    for effort, kit in enumerate(kits, 1):
        for left, right in kit.pairs:
            total = shim_total(left, right)
            found.setdefault(total, Position(total, kit.say_pair(left, right), effort))
    return tuple(found[total] for total in sorted(found))
