"""New threads are drawn in: counted, because what they still grow depends on it."""

from bowcore.errors import Refused
from bowcore.quantities.changes import Change
from shop.casework.checks import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.press.models import Adjustment


def draw_in(job_id: int, draws: int, submission: Submission) -> Adjustment:
    """Log draws or shots on new threads; 0 when the shop goes on without.

    Raises
    ------
    Refused
        The press is open, the bow is not to be drawn, or nothing new is on it.
    """
    with on_job(job_id, "change", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "draw the bow")
        require_bolts_back(state)
        require_not_held(state, "draw")
        if not state.facts.replaced:
            raise Refused("There are no new threads on this bow.")
        words = f"{draws} times" if draws else "skipped"
        event.summary = f"drew the new threads in: {words}"
        return Adjustment.objects.create(
            **event.fact, change=Change.SHOTS.value, steps=draws, note=words
        )
