"""Replace: off with the old part, on with the new one, and see what it shows."""

from typing import ClassVar

from bowcore.evidence.facts import Facts, OpenPress
from bowcore.stages.step import Situation, Step


class ReplaceStep(Step):
    """Only where something is to be replaced."""

    key: ClassVar[str] = "replace"
    name: ClassVar[str] = "Replace"
    why: ClassVar[str] = "Replacing one part at a time shows which one is long or short."
    minutes: ClassVar[int] = 25
    acts: ClassVar[tuple[str, ...]] = ("press", "replace")

    def applies(self, facts: Facts) -> bool:
        return bool(facts.to_replace)

    def done(self, now: Situation) -> bool:
        facts = now.facts
        pressing = facts.press is not None and self.stays_with(facts.press)
        return not (facts.still_to_replace or facts.unchecked or facts.to_bring_home or pressing)

    def stays_with(self, press: OpenPress) -> bool:
        return press.for_new_parts

    def next_act(self, now: Situation) -> str:
        if now.facts.unchecked:
            return "Check the new part"
        return "Correct the new part" if now.facts.to_bring_home else "Open the press and replace"
