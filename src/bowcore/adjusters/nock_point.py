"""The nock point on the string: tied higher or lower, without a press."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Needs, Trial, TurnableBow
from bowcore.adjusters.string_or_cable import TRIAL_IN
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length

MOST_NOCK_IN = 1 / 4
"""Farther than that a new loop is tied (common practice)."""
USUAL_NOCK_STEP_IN = 1 / 32
"""A tie is moved by turning it along the serving, about so much at a time (common practice)."""


@dataclass(frozen=True)
class NockPoint(Adjuster):
    """The place of the nock on the string, in the steps that the book allows."""

    kind: ClassVar[str] = "nock_point"
    step_word: ClassVar[str] = "one step up"
    order: ClassVar[int] = 5
    needs: ClassVar[Needs] = Needs.NOTHING
    minutes: ClassVar[float] = 5.0
    """A tie is cut and tied anew (common practice)."""

    @property
    def change(self) -> Change:
        return Change.LOOP_OR_TIES

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        if not spec.nock_step_in:
            return []
        return [cls("nock_point", "Nock point", raises_in=spec.nock_step_in)]

    @classmethod
    def to_be_tied(cls, spec: BowSpec) -> "NockPoint":
        """The nock point as the fit moves it, by the book's step or by the usual one."""
        return cls("nock_point", "Nock point", raises_in=spec.nock_step_in or USUAL_NOCK_STEP_IN)

    def trial(self) -> Trial:
        up = dict.fromkeys(("nock_height", "arrow_level"), self.raises_in)
        down = dict.fromkeys(("nock_to_peep", "nock_to_kisser"), -self.raises_in)
        return Trial(Changes(nock_up_in=TRIAL_IN), self.raises_in / TRIAL_IN, up | down)

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.raise_nock(count * self.raises_in)

    def say(self, count: int) -> str:
        return f"{say_length(abs(count) * self.raises_in)} {'up' if count > 0 else 'down'}"

    def usual_totals(self, most: int) -> tuple[int, int]:
        steps = round(MOST_NOCK_IN / self.raises_in)
        return -steps, steps
