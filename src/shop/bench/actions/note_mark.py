"""Write a mark down: bolts, module, lay, routing. The newest of a kind counts."""

from bowcore.service.needs import checked_mark, mark
from shop.bench.actions.rules import require_act
from shop.measurements.models import Noted
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


def note_mark(job_id: int, key: str, value: str, stamp: Stamp) -> Noted:
    """Append what was written down.

    Raises
    ------
    BadInput
        Nothing said, not one of the choices, or a bolt past the maker's limit.
    Refused
        The job is closed.
    """
    with on_job(job_id, "note", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "read", view)
        kept = checked_mark(key, value, view.most_turns)
        what = mark(key)
        act.said = f"noted {what.name.lower()}: {dict(what.choices).get(kept, kept)}"
        return Noted.objects.create(**act.fact, mark=key, value=kept)
