"""Turning the peep without changing any length: half a twist in at the bottom of the string, half out at
its top."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.accessories.peep import DEGREES_A_MINUTE, turned_deg
from bowcore.adjusters.adjuster import Adjuster, Trial, TurnableBow
from bowcore.bow.lay import Lay
from bowcore.bow.specification import STRING, BowSpec
from bowcore.bow.twin import Changes
from bowcore.quantities.changes import Change

PEEP_PAIR = "peep_pair"
MOST_PAIRS = 3


@dataclass(frozen=True)
class PeepPair(Adjuster):
    """Pairs of half twists: in at the bottom end, out at the top end; negative the other way round.

    `lay` is how the string's threads run: it decides which way the peep turns.
    """

    lay: Lay = Lay.Z

    kind: ClassVar[str] = "peep_pair"
    step_word: ClassVar[str] = "half a twist in at the bottom, half out at the top"
    order: ClassVar[int] = 7
    minutes: ClassVar[float] = 4.0

    @property
    def change(self) -> Change:
        return Change.PEEP

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        return [cls.of(Lay.Z)]

    @classmethod
    def of(cls, lay: Lay) -> "PeepPair":
        """On a string of that lay."""
        return cls(PEEP_PAIR, "String's two ends", part=STRING, lay=lay)

    @property
    def clockwise_min(self) -> float:
        """How far a pair turns the peep, clockwise seen from above, in minutes of the clock."""
        return turned_deg(0.5, 1, -1, self.lay) / DEGREES_A_MINUTE

    def trial(self) -> Trial:
        return Trial(Changes(), 1.0, {"peep_turn": -self.clockwise_min})

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.turn_peep(count * self.clockwise_min)

    def say(self, count: int) -> str:
        number = {1: "half a twist", 2: "one twist", 3: "one and a half twists"}[min(abs(count), 3)]
        first, second = ("bottom", "top") if count > 0 else ("top", "bottom")
        return f"{number} in at the {first}, as much out at the {second}"

    def usual_totals(self, most: int) -> tuple[int, int]:
        return -MOST_PAIRS, MOST_PAIRS
