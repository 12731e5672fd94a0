"""Where a bow stands in the shop: what is done with it next, in the order in which it is looked at."""

from enum import StrEnum

from bowcore.stages.course import Course, Progress
from bowcore.stages.hand_over.step import HandOverStep
from bowcore.work_order.holds import SIGNATURE

WAITS_FOR = ("customer", SIGNATURE)
"""Holds that stop nothing by themselves, and for which the bow waits all the same."""


class Standing(StrEnum):
    """In the order of the rack."""

    UNDER_LOAD = "under load"
    READY = "ready to work"
    TO_FETCH = "ready for pick-up"
    WAITING = "waiting"


def standing(course: Course) -> Standing:
    """A bow in an open press comes first; one that waits for something comes last."""
    facts = course.situation.facts
    if facts.press is not None:
        return Standing.UNDER_LOAD
    held = any(state.progress is Progress.HELD for state in course.steps)
    liftable = any(key in facts.liftable for key in facts.holds)
    if (held and not liftable) or any(key in WAITS_FOR for key in facts.holds):
        return Standing.WAITING
    at = course.next.step
    return Standing.TO_FETCH if at == HandOverStep.key else Standing.READY
