"""Work that is done by hand and not measured: a sight's axes, arrows cut, an accessory put on."""

from typing import ClassVar

from bowcore.evidence.facts import Facts
from bowcore.stages.step import Situation, Step
from bowcore.work_order.needs import mark, work_marks


def work_open(facts: Facts) -> tuple[str, ...]:
    """Marks of work that was asked for and is not written down as done."""
    return tuple(key for key in work_marks(facts.setup) if key not in facts.marks)


class WorkStep(Step):
    """Only where such work was asked for."""

    key: ClassVar[str] = "work"
    name: ClassVar[str] = "Work"
    why: ClassVar[str] = "What was done is written down: nobody can measure it afterwards."
    minutes: ClassVar[int] = 15

    def applies(self, facts: Facts) -> bool:
        return bool(work_marks(facts.setup))

    def done(self, now: Situation) -> bool:
        return not work_open(now.facts)

    def next_act(self, now: Situation) -> str:
        return f"{mark(work_open(now.facts)[0]).name}: do it, then write it down"
