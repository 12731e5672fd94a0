"""Baseline: everything that is read and written down before anything is loosened."""

from typing import ClassVar

from bowcore.evidence.facts import Facts
from bowcore.stages.step import Situation, Step
from bowcore.work_order.needs import mark, marks_needed, readings_needed


def baseline_missing(facts: Facts) -> tuple[str, ...]:
    """Baseline quantities not read often enough nor marked as unreadable, in order of work.

    What was passed over once and is read later after all is not asked for again here.
    """
    found = [(name, facts.baseline(name)) for name in readings_needed(facts.setup)]
    return tuple(
        name for name, now in found if now is None or not (now.enough or facts.passed_over(name))
    )


def marks_missing(facts: Facts) -> tuple[str, ...]:
    """Marks that this path needs before the press and that nobody has written down."""
    return tuple(key for key in marks_needed(facts.setup) if key not in facts.marks)


class BaselineStep(Step):
    """Goes on at rest unless the bow must not be touched."""

    key: ClassVar[str] = "baseline"
    name: ClassVar[str] = "Baseline"
    why: ClassVar[str] = (
        "To put the bow back as it was, its baseline counts more than published specs."
    )
    minutes: ClassVar[int] = 15
    acts: ClassVar[tuple[str, ...]] = ("press",)

    def applies(self, facts: Facts) -> bool:
        """Where anything is read or written down before."""
        return bool(readings_needed(facts.setup) or marks_needed(facts.setup))

    def done(self, now: Situation) -> bool:
        missing = now.unread or now.unmarked
        return now.facts.inspected and (not missing or bool(now.facts.changes))

    def note(self, now: Situation) -> str:
        missing = len(now.unread) + len(now.unmarked)
        if not missing or now.facts.changes:
            return ""
        setup = now.facts.setup
        asked = len(readings_needed(setup)) + len(marks_needed(setup))
        return f"{asked - missing} of {asked} on record"

    def next_act(self, now: Situation) -> str:
        facts = now.facts
        open_now = [n for n in now.unread if facts.may_be_drawn or not facts.named(n).drawn]
        if open_now:
            return f"Read {facts.named(open_now[0]).name.lower()}"
        if not now.unmarked:
            return "Leave out what is read at full draw"
        return f"Write down: {mark(now.unmarked[0]).name.lower()}"
