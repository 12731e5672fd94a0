"""What is beside every screen of a job: its steps as a scale, and the bow's vital facts."""

from typing import Any

from bowcore.stages.course import Progress, StepState
from shop.casework.state import JobState

_STYLE = {
    Progress.DONE: "done", Progress.NOW: "now", Progress.TODO: "todo", Progress.AGAIN: "again",
    Progress.HELD: "held",
}  # fmt: skip


def rail(state: JobState) -> list[tuple[int, StepState, str]]:
    """Number, state and style of every step."""
    return [(n, s, _STYLE[s.progress]) for n, s in enumerate(state.course.steps, 1)]


def strip(state: JobState) -> dict[str, Any]:
    """The right-hand strip: what was turned, what is up to date, what came with the bow."""
    facts, job = state.facts, state.job
    fresh = [name for name in state.needed if (now := facts.current(name)) and now.fresh]
    came_with = (("Arrows", job.arrows, job.arrow_here), ("Release", job.release, job.release_here))
    return {
        "turned": [
            (one.label, one.say_total(one.total(facts)))
            for one in state.adjusters
            if facts.net_steps(one.key)
        ],
        "fresh": [facts.named(name).name for name in fresh],
        "to_read": [facts.named(name).name for name in state.course.to_read]
        if facts.changes
        else [],
        "axle_to_axle": state.bands["axle_to_axle"],
        "came_with": [(name, words, here) for name, words, here in came_with if words or here],
    }
