"""Set and parts: ordered, here, measured. The job goes on without it as far as it can."""

from typing import ClassVar

from bowcore.evidence.facts import Facts
from bowcore.stages.step import Situation, Step
from bowcore.work_order.services import parts_to_replace


class StringSetStep(Step):
    """Only where something was asked for, declined or not: what was declined may be wanted again."""

    key: ClassVar[str] = "string_set"
    name: ClassVar[str] = "Set and parts"
    why: ClassVar[str] = "A part that is the wrong length is found before it is on the bow."
    minutes: ClassVar[int] = 5
    blocking: ClassVar[bool] = False

    def applies(self, facts: Facts) -> bool:
        return bool(parts_to_replace(facts.services))

    def done(self, now: Situation) -> bool:
        return not now.facts.to_order

    def note(self, now: Situation) -> str:
        under_way = now.facts.set_state not in ("", "here")
        return "" if self.done(now) else (now.facts.set_state if under_way else "not ordered")

    def next_act(self, now: Situation) -> str:
        return "Order what is not here"
