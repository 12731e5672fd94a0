"""Inspection: look the bow over before anything else."""

from typing import ClassVar

from bowcore.stages.step import Situation, Step


class InspectionStep(Step):
    """Every place of the bow is looked at."""

    key: ClassVar[str] = "inspection"
    name: ClassVar[str] = "Inspection"
    why: ClassVar[str] = "Never draw a bow with a broken strand or a cracked limb."
    minutes: ClassVar[int] = 5

    def done(self, now: Situation) -> bool:
        return now.facts.inspected

    def next_act(self, now: Situation) -> str:
        return "Inspect it"
