"""Hand over: the sheet goes with the bow."""

from typing import ClassVar

from bowcore.stages.step import Situation, Step


class HandOverStep(Step):
    """The last step."""

    key: ClassVar[str] = "hand_over"
    name: ClassVar[str] = "Hand over"
    why: ClassVar[str] = "The sheet goes with the bow."
    minutes: ClassVar[int] = 10
    acts: ClassVar[tuple[str, ...]] = ("hand_over",)

    def done(self, now: Situation) -> bool:
        return now.facts.handed_over

    def next_act(self, now: Situation) -> str:
        return "Handed over" if now.facts.handed_over else "Hand it over"
