"""Log a change that is not turned in steps: module, peep, loop, rest, arrow, shots."""

from bowcore.stages.back_to_spec.other_changes import checked_note, other_change
from shop.casework.checks import require_act, require_press_closed
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job
from shop.schema.press.models import Adjustment


def note_change(job_id: int, kind: str, note: str, submission: Submission) -> Adjustment:
    """Append a ledger entry; what it makes stale is asked for again.

    Raises
    ------
    BadInput
        No such change, or nothing written about it.
    Refused
        The press is open, or the job is closed.
    """
    with on_job(job_id, "change", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "change anything else")
        text = checked_note(kind, note)
        event.summary = f"changed: {other_change(kind).name.lower()}, {text}"
        return Adjustment.objects.create(**event.fact, change=kind, note=text)
