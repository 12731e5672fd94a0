"""The loop screwed along its serving by whole turns: a hair of nock height where no tie holds the nock."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.adjusters.adjuster import Adjuster, Needs, Trial, TurnableBow
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.errors import BadInput
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length

LOOP_TURN = "loop_turn"
TURN_IN = 0.02
"""One turn goes along by one wrap of a usual centre serving (common practice, no published source)."""
MOST_TURNS = 3
"""A hair of height; more is a new loop (common practice)."""


@dataclass(frozen=True)
class LoopTurn(Adjuster):
    """Whole turns of the loop, positive up the string; it faces as before."""

    kind: ClassVar[str] = "loop_turn"
    step_word: ClassVar[str] = "one turn up the serving"
    order: ClassVar[int] = 5
    needs: ClassVar[Needs] = Needs.NOTHING
    minutes: ClassVar[float] = 1.0

    @property
    def change(self) -> Change:
        return Change.LOOP_OR_TIES

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        return [cls(LOOP_TURN, "Loop", doubt=0.2, raises_in=TURN_IN)]

    def trial(self) -> Trial:
        up = dict.fromkeys(("nock_height", "arrow_level"), self.raises_in)
        down = dict.fromkeys(("nock_to_peep", "nock_to_kisser"), -self.raises_in)
        return Trial(Changes(), 1.0, up | down)

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.raise_nock(count * self.raises_in)

    def say(self, count: int) -> str:
        turns = {1: "one whole turn", 2: "two whole turns", 3: "three whole turns"}
        way = "up" if count > 0 else "down"
        far = say_length(abs(count) * self.raises_in, 64)
        return f"{turns[min(abs(count), MOST_TURNS)]} {way} the serving, about {far}"

    def usual_totals(self, most: int) -> tuple[int, int]:
        return -MOST_TURNS, MOST_TURNS

    def require_possible(self, now: object, count: int) -> None:
        """Refuse more than a hair.

        Raises
        ------
        BadInput
            So far a new loop is tied.
        """
        if abs(count) > MOST_TURNS:
            raise BadInput(
                f"Not more than {MOST_TURNS} turns: farther than that, tie a new loop.", self.key
            )
