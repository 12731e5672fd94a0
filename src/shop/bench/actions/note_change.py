"""Log a change that is not turned in steps: module, peep, loop, rest, arrow, shots."""

from bowcore.service.other_changes import checked_note, other_change
from shop.bench.actions.rules import require_act, require_press_closed
from shop.ledger.models import Adjustment
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


def note_change(job_id: int, kind: str, note: str, stamp: Stamp) -> Adjustment:
    """Append a ledger entry; what it makes stale is asked for again.

    Raises
    ------
    BadInput
        No such change, or nothing said about it.
    Refused
        The press is open, or the job is closed.
    """
    with on_job(job_id, "change", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        require_press_closed(view, "change anything else")
        said = checked_note(kind, note)
        act.said = f"changed: {other_change(kind).name.lower()}, {said}"
        return Adjustment.objects.create(**act.fact, change=kind, role=kind, note=said)
