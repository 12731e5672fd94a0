"""Paper: shot through paper until two holes alike are clean, or what is left is the archer's own scatter."""

from typing import ClassVar

from bowcore.evidence.facts import Facts
from bowcore.stages.shooting_in.shooting_in import shooting_act
from bowcore.stages.step import Situation, Step
from bowcore.work_order.services import SHOOT_IN


class PaperStep(Step):
    """Only where it was asked for."""

    key: ClassVar[str] = "paper"
    name: ClassVar[str] = "Paper"
    why: ClassVar[str] = "Shooting shows errors that measuring does not."
    minutes: ClassVar[int] = 20
    acts: ClassVar[tuple[str, ...]] = ("draw", "shoot")

    def applies(self, facts: Facts) -> bool:
        return SHOOT_IN in facts.services

    def done(self, now: Situation) -> bool:
        return shooting_act(now.facts, now.bands).done

    def next_act(self, now: Situation) -> str:
        return shooting_act(now.facts, now.bands).do.rstrip(".")

    def note(self, now: Situation) -> str:
        shots = len(now.facts.shots)
        return f"{shots} shot{'s' if shots > 1 else ''}" if shots else ""
