"""A string or a cable: half twists in make it shorter."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Trial, TurnableBow, say_half_twists
from bowcore.mechanics.specification import STRING, BowSpec
from bowcore.mechanics.twin import Changes
from bowcore.quantities.changes import Change

TRIAL_IN = 0.004
"""Shortening tried on each side for a central difference. [in]"""


@dataclass(frozen=True)
class StringOrCable(Adjuster):
    """A whole string or cable, turned at its end."""

    kind: ClassVar[str] = "string_or_cable"
    step_word: ClassVar[str] = "half a twist"
    twisted: ClassVar[bool] = True

    @property
    def change(self) -> Change:
        return Change.STRING if self.part == STRING else Change.CABLE

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        found: list[Adjuster] = []
        for part in spec.parts:
            step_in = part.bundle(twisted.get(part.role, 0)).shortening_in(1)
            found.append(cls(part.role, part.label, part.role, length_step_in=step_in))
        return found

    def trial(self) -> Trial:
        return Trial(Changes({self.part: TRIAL_IN}), self.length_step_in / TRIAL_IN)

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.twist(self.part, count)

    def say(self, count: int) -> str:
        return say_half_twists(count)
