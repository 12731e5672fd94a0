"""Paper: shot through paper until two holes alike are clean, or what is left is the archer's own scatter."""

from typing import ClassVar

from bowcore.diagnosis.next_act import ActKind
from bowcore.workflow.facts import Facts
from bowcore.workflow.services import SHOOT_IN
from bowcore.workflow.steps.step import Situation, Step
from bowcore.workflow.tuning import paper_act

SHOTS_DONE = (ActKind.DONE, ActKind.LEAVE)


class PaperStep(Step):
    """Only where it was asked for."""

    key: ClassVar[str] = "paper"
    name: ClassVar[str] = "Paper"
    why: ClassVar[str] = "A hole shows what no square and no board shows."
    minutes: ClassVar[int] = 20
    acts: ClassVar[tuple[str, ...]] = ("draw",)

    def applies(self, facts: Facts) -> bool:
        return SHOOT_IN in facts.services

    def done(self, now: Situation) -> bool:
        return paper_act(now.facts, now.bands).kind in SHOTS_DONE

    def next_act(self, now: Situation) -> str:
        return paper_act(now.facts, now.bands).do.rstrip(".")

    def note(self, now: Situation) -> str:
        shots = len(now.facts.shots)
        return f"{shots} shot{'s' if shots > 1 else ''}" if shots else ""
