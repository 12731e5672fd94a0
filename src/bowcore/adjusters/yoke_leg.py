"""One leg of a split yoke: it shortens its cable by half, and tilts the cam at its axle.

A shorter right leg brings a shaft back that ran off to the right (common practice).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Trial, TurnableBow, say_half_twists
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.bow.lean import LEAN_AT, LEG, YOKE_TENSION_LBF, Lean, degrees_per_leg_step
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.quantities.changes import Change

MOST_PER_LEG = 4
"""A leg takes up to two twists (common practice)."""
LEG_SIDES = ("left", "right")


@dataclass(frozen=True)
class YokeLeg(Adjuster):
    """The left or the right leg of a cable's yoke."""

    kind: ClassVar[str] = "yoke_leg"
    step_word: ClassVar[str] = "half a twist"
    order: ClassVar[int] = 1
    twisted: ClassVar[bool] = True

    @property
    def change(self) -> Change:
        return Change.YOKE_LEG

    @property
    def leans(self) -> str:
        return LEAN_AT[self.axle]

    @property
    def _sign(self) -> int:
        """A step in the left leg sends the shaft's end to the right."""
        return 1 if self.side == "left" else -1

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        step_in = LEG.shortening_in(1)
        return [
            cls(
                f"{part.role}.{side}",
                f"{part.label}, {side} leg",
                part.role,
                part.yoke_axle,
                side,
                step_in,
            )
            for part in map(spec.part, spec.yokes)
            for side in LEG_SIDES
        ]

    def trial(self) -> Trial:
        tilt_in = Lean(degrees_per_leg_step(YOKE_TENSION_LBF, LEG)).off_in()
        return Trial(
            Changes({self.part: TRIAL_IN}),
            self.length_step_in / 2 / TRIAL_IN,
            {self.leans: self._sign * tilt_in},
        )

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.pull(self.part, LEG.shortening_in(count) / 2)
        bow.tilt_by_leg(self.leans, self._sign * count)

    def say(self, count: int) -> str:
        return say_half_twists(count)

    def usual_totals(self, most: int) -> tuple[int, int]:
        return -MOST_PER_LEG, MOST_PER_LEG

    @classmethod
    def remarks(cls, steps: Sequence[tuple[Adjuster, int]]) -> list[str]:
        """Together they are a cable, opposite they are lean alone, one is both at once."""
        by_part: dict[str, dict[str, int]] = {}
        for leg, count in steps:
            by_part.setdefault(leg.part, {})[leg.side] = count
        found = []
        for part in sorted(by_part):
            left, right = (by_part[part].get(side, 0) for side in LEG_SIDES)
            if left == -right:
                found.append("Legs turned opposite ways by the same amount move only the lean.")
            elif left == right:
                found.append(
                    "Both legs turned the same way make the cable shorter or longer; "
                    "the lean stays."
                )
            else:
                found.append(
                    "Legs turned by different amounts move lean and timing; the plan counts both."
                )
        return found

    @classmethod
    def gate_point(cls, spec: BowSpec, in_use: bool) -> str:
        return "Both yoke legs are seated and even" if spec.has_yoke else ""
