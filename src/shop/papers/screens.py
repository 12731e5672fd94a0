"""The hand-over screen: every number against its target, and what is still open."""

from django.http import HttpRequest

from bowcore.errors import BowcoreError
from bowcore.workflow.hand_over import blockers, left_as_they_are, overridable, recheck_shots
from bowcore.workflow.roles import may
from bowcore.workflow.steps.hand_over import HandOverStep
from shop.jobs.screens import Context, step_screen
from shop.jobs.state import JobState
from shop.measurements.leaving import leaving
from shop.measurements.rows import reading_row


@step_screen(HandOverStep.key)
def hand_over_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """What goes out, and what blocks it."""
    found = [] if state.facts.handed_over else blockers(state.judged, state.bands)
    manager = may(request.user.staff_role, "override")  # type: ignore[union-attr]
    return "papers/hand_over.html", {
        "rows": [reading_row(state, name) for name in state.needed],
        "blockers": found,
        "stays": left_as_they_are(state.judged, state.bands),
        **leaving(state),
        "settled": "" if found else _settled(state),
        "may_override": bool(found) and manager and overridable(state.facts),
    }


def _settled(state: JobState) -> str:
    """How sure it is that the bow stays as it is, and when to look again; "" where nothing was turned
    or it cannot be computed."""
    if state.facts.handed_over or not state.facts.changes:
        return ""
    try:
        words = state.advice.say_settled()
    except BowcoreError:
        return ""
    return f"{words} Recheck after {recheck_shots(state.facts)} shots."
