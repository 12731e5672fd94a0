"""The hand-over screen: every number against its target, and what is still open."""

from django.http import HttpRequest
from django.urls import reverse

from bowcore.errors import BowcoreError
from bowcore.stages.back_to_spec.step import may_have_moved
from bowcore.stages.hand_over.blockers import (
    Blocker,
    blockers,
    left_as_they_are,
    overridable,
    recheck_shots,
    stands_on_the_sheet,
)
from bowcore.stages.hand_over.step import HandOverStep
from bowcore.work_order.holds import SIGNATURE
from bowcore.work_order.roles import may
from shop.casework.readings.leaving import leaving
from shop.casework.readings.rows import reading_row
from shop.casework.screens import Context, job_address, step_screen
from shop.casework.state import JobState


@step_screen(HandOverStep.key)
def hand_over_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """What goes out, and what blocks it."""
    found = [] if state.facts.handed_over else blockers(state.judged, state.bands)
    role = request.user.staff_role  # type: ignore[union-attr]
    return "hand_over/hand_over.html", {
        "rows": [reading_row(state, name) for name in stands_on_the_sheet(state.facts)],
        "blockers": found,
        "mend_at": _mend_at(state, found[0]) if found else "",
        "stays": left_as_they_are(state.judged, state.bands),
        **leaving(state),
        "may_leave": may(role, "leave_it"),
        "settled": "" if found else _settled(state),
        "moved": _may_have_moved(state),
        "may_hand_over": may(role, "hand_over"),
        "waits_for_signature": any(hold.kind == SIGNATURE for hold in state.holds),
        "may_override": bool(found) and may(role, "override") and overridable(state.facts),
    }


def _mend_at(state: JobState, first: Blocker) -> str:
    """The address where the first open point is mended."""
    if first.thing:
        return f"{reverse('on_the_bow', args=[state.job.pk])}?thing={first.thing}"
    at = f"?at={first.at}" if first.at else ""
    return f"{job_address(state.job.pk, first.step)}{at}"


def _may_have_moved(state: JobState) -> list[str]:
    """What the changes of a small job may have moved and nobody reads again, by how much where that can be
    computed."""
    names = may_have_moved(state.facts)
    if not names:
        return []
    response = state.prior.response() if state.prior else None
    turned = {one.key: state.facts.net_steps(one.key) for one in state.adjusters}
    found = []
    for name in names:
        what = state.facts.named(name)
        by = response.moved(name, turned) if response else None
        size = f" by about {what.say_size(by)} {'more' if by > 0 else 'less'}" if by else ""
        found.append(f"{what.name}{size if by and what.shows(by) else ''}")
    return found


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
