"""Log a change that is not turned in steps: module, peep, loop, rest, arrow, shots."""

from bowcore.stages.back_to_spec.other_changes import checked_note, other_change
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.press.models import Adjustment


@job_act("change", right="change")
def note_change(event: EventDraft, kind: str, note: str) -> Adjustment:
    """Append a ledger entry; what it makes stale is asked for again.

    Raises
    ------
    BadInput
        No such change, or nothing written about it.
    Refused
        The press is open, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "change anything else")
    text = checked_note(kind, note)
    event.summary = f"changed: {other_change(kind).name.lower()}, {text}"
    return Adjustment.objects.create(**event.fact, change=kind, note=text)
