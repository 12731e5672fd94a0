"""New threads are drawn in: counted, because what they still grow depends on it."""

from bowcore.errors import Refused
from bowcore.quantities.changes import Change
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.press.models import Adjustment


@job_act("change", right="change")
def draw_in(event: EventDraft, draws: int) -> Adjustment:
    """Log draws or shots on new threads; 0 when the shop goes on without.

    Raises
    ------
    Refused
        The press is open, the bow is not to be drawn, or nothing new is on it.
    """
    state = event.state
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
