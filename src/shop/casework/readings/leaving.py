"""What the screens show of numbers that stay outside their bands on purpose."""

from bowcore.stages.hand_over.blockers import outside_line
from shop.casework.state import JobState


def leaving(state: JobState) -> dict[str, list[tuple[str, str]]]:
    """What is outside now and may be left, and what is left already, each with its words."""
    outside = [(n, outside_line(n, state.judged, state.bands)) for n in state.course.every_outside]
    left = [
        (name, f"{state.facts.named(name).name}: left on purpose, {reason}.")
        for name, reason in state.left.items()
    ]
    return {"outside": outside, "left": left}
