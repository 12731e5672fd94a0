"""Steps of adjusters as they are checked and logged."""

from collections.abc import Callable
from dataclasses import dataclass

from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft
from shop.schema.measurements.models import MarkEntry
from shop.schema.press.models import Adjustment, PressCycle


@dataclass
class BowBeingTurned:
    """The bow as it is while several adjusters are turned one after the other."""

    marks: dict[str, str]
    most_bolt_turns: float
    net_steps: Callable[[str], int]

    @classmethod
    def of(cls, state: JobState) -> "BowBeingTurned":
        """The bow of a job, before anything is turned."""
        return cls(dict(state.marks), state.most_turns, state.facts.net_steps)


def require_possible(state: JobState, steps: Steps) -> None:
    """Refuse steps that this bow does not have or that cannot be made on it.

    Raises
    ------
    BadInput
        This bow does not have the adjuster.
    Refused
        Nothing is turned, or an adjuster says why it cannot go there.
    """
    now = BowBeingTurned.of(state)
    for key, count in steps.items():
        adjuster = state.adjuster(key)
        adjuster.require_possible(now, count)
        now.marks |= adjuster.marks_after(now, count)
    if not steps:
        raise Refused("Say which part was turned, and by how much.")


def log_steps(
    event: EventDraft, state: JobState, press: PressCycle | None, steps: Steps
) -> list[Adjustment]:
    """Every step as a ledger entry; what comes out of a kit with how it is in now, in words."""
    rows, now = [], BowBeingTurned.of(state)
    for key, count in steps.items():
        adjuster = state.adjuster(key)
        now.marks |= adjuster.marks_after(now, count)
        position = adjuster.position(adjuster.total(state.facts) + count)
        rows.append(
            Adjustment.objects.create(
                **event.fact,
                press=press,
                change=adjuster.change.value,
                adjuster=key,
                role=adjuster.part,
                steps=count,
                note=position.words if position else "",
            )
        )
    for mark, value in now.marks.items():
        if value != state.marks.get(mark):
            MarkEntry.objects.create(**event.fact, mark=mark, value=value)
    return rows
