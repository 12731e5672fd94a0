"""Check in: who, which bow, what for, when. A job exists only once this is done."""

from typing import ClassVar

from bowcore.stages.step import Situation, Step


class CheckInStep(Step):
    """At the counter."""

    key: ClassVar[str] = "check_in"
    name: ClassVar[str] = "Check in"
    why: ClassVar[str] = "Who, which bow, what for, when."
    minutes: ClassVar[int] = 5

    def done(self, now: Situation) -> bool:
        return True

    def next_act(self, now: Situation) -> str:
        return "Check it in"
