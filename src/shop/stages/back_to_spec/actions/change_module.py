"""Another draw module or stop position is on: logged, and written down where it is now."""

from bowcore.errors import BadInput
from bowcore.quantities.changes import Change
from bowcore.stages.back_to_spec.module_act import module_now
from bowcore.work_order.needs import MODULE_MARKS
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.measurements.models import MarkEntry
from shop.schema.press.models import Adjustment


@job_act("change_module", right="change")
def change_module(event: EventDraft, sets_to: str) -> Adjustment:
    """Log the module that is on now, on every cam of this bow.

    Raises
    ------
    BadInput
        Nothing was written.
    Refused
        The press is open, a hold forbids it, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "change the module")
    require_bolts_back(state)
    require_not_held(state, "press")
    name = sets_to.strip()[:100]
    if not name:
        raise BadInput("Which module or hole is on now?", "sets_to")
    before = module_now(state.facts)
    note = f"from {before} to {name}" if before else f"to {name}"
    event.summary = f"changed: draw module or stop, {note}"[:300]
    for key in MODULE_MARKS[1:] if state.spec.one_cam else MODULE_MARKS:
        MarkEntry.objects.create(**event.fact, mark=key, value=name)
    return Adjustment.objects.create(
        **event.fact, change=Change.MODULE_OR_STOP.value, note=note[:200]
    )
