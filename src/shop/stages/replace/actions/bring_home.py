"""A new part that its mark showed to be off is brought home before the next one goes on."""

from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.casework.turning import say_done
from shop.schema.press.models import PressCycle
from shop.stages.replace.actions.cycle import open_press_for, require_pressable
from shop.stages.replace.ledger import require_possible


@job_act("open_press", right="open_press")
def bring_home(event: EventDraft) -> PressCycle:
    """Open the press for the twists that the newest part was found to be off.

    Raises
    ------
    Refused
        No part is waiting for that, or the press must not be opened now.
    """
    state = event.state
    require_pressable(state)
    found = state.facts.to_bring_home
    if found is None:
        raise Refused("No new part is waiting to be brought home.")
    steps = Steps({found.part: found.steps})
    require_possible(state, steps)
    return open_press_for(event, PressCycle.HOME, steps, say_done(state, steps))
