"""The nock point on the string: tied higher or lower, without a press."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Needs, Trial, TurnableBow
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.errors import BadInput
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import Changes
from bowcore.quantities.changes import Change

MOST_NOCK_STEPS = 4


@dataclass(frozen=True)
class NockPoint(Adjuster):
    """The place of the nock on the string, in the steps that the book allows."""

    kind: ClassVar[str] = "nock_point"
    step_word: ClassVar[str] = "one step up"
    order: ClassVar[int] = 5
    needs: ClassVar[Needs] = Needs.NOTHING
    minutes: ClassVar[float] = 4.0

    @property
    def change(self) -> Change:
        return Change.LOOP_OR_TIES

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        if not spec.nock_step_in:
            return []
        return [cls("nock_point", "Nock point", raises_in=spec.nock_step_in)]

    def trial(self) -> Trial:
        return Trial(
            Changes(nock_up_in=TRIAL_IN), self.raises_in / TRIAL_IN, {"nock_height": self.raises_in}
        )

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        raise BadInput("The simulated bow has no nock point to move.", self.key)

    def say(self, count: int) -> str:
        way = "up" if count > 0 else "down"
        return f"{abs(count)} step{'s' if abs(count) > 1 else ''} {way}"

    def usual_totals(self, most: int) -> tuple[int, int]:
        return -MOST_NOCK_STEPS, MOST_NOCK_STEPS
