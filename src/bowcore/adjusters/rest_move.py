"""The arrow rest: moved sideways, up or down, forward or back by its knobs, without a press."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.accessories.at_the_nock import NOCK_TO_REST_IN
from bowcore.adjusters.adjuster import Adjuster, Needs, Trial, TurnableBow
from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.errors import BadInput
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length

REST_STEP_IN = 1 / 32
"""Knobs of a rest move by light taps of so much (common practice)."""
MOST_REST_STEPS = 12
GAUGED_APART_IN = 10.0
"""How far apart front and back are read."""
REST_OUT, REST_UP, REST_BACK = "rest_out", "rest_up", "rest_back"
_NAMES = (
    (REST_OUT, "Rest, sideways", "away from the riser", "toward the riser"),
    (REST_UP, "Rest, height", "up", "down"),
    (REST_BACK, "Rest, fore and aft", "back", "forward"),
)
_MOVES = {
    REST_OUT: {
        "centre_shot": REST_STEP_IN,
        "front_back": REST_STEP_IN * GAUGED_APART_IN / NOCK_TO_REST_IN,
    },
    REST_UP: {"arrow_level": -REST_STEP_IN},
    REST_BACK: {},
}
"""What a step moves by itself: geometry; what it does to a tear the bow shows."""


@dataclass(frozen=True)
class RestMove(Adjuster):
    """One direction of the rest, in taps of 1/32 in."""

    more: str = ""
    less: str = ""

    kind: ClassVar[str] = "rest_move"
    step_word: ClassVar[str] = "a tap of 1/32 in"
    order: ClassVar[int] = 6
    needs: ClassVar[Needs] = Needs.NOTHING
    minutes: ClassVar[float] = 1.0

    @property
    def change(self) -> Change:
        return Change.REST

    @property
    def place(self) -> str:
        return "rest"

    @classmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> list[Adjuster]:
        return [
            cls(key, label, doubt=0.1, more=more, less=less) for key, label, more, less in _NAMES
        ]

    def trial(self) -> Trial:
        return Trial(Changes(), 1.0, _MOVES[self.key])

    def turn_on(self, bow: TurnableBow, count: int) -> None:
        bow.move_rest(self.key, count * REST_STEP_IN)

    def say(self, count: int) -> str:
        return f"{say_length(abs(count) * REST_STEP_IN)} {self.more if count > 0 else self.less}"

    def usual_totals(self, most: int) -> tuple[int, int]:
        return -MOST_REST_STEPS, MOST_REST_STEPS

    def require_possible(self, now: object, count: int) -> None:
        """Refuse more than a rest goes at once.

        Raises
        ------
        BadInput
            It would go farther than its knobs do.
        """
        if abs(count) > MOST_REST_STEPS:
            far = say_length(MOST_REST_STEPS * REST_STEP_IN)
            raise BadInput(f"{self.label}: not more than {far} at once.", self.key, far)
