"""Write a mark down: bolts, module, lay, routing. The newest of a kind counts."""

from bowcore.errors import Refused
from bowcore.work_order.needs import checked_mark, mark
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.inspection.models import Photo
from shop.schema.measurements.models import MarkEntry
from shop.schema.measurements.selectors import marks_of_last_visit


@job_act("note", right="read")
def write_mark(event: EventDraft, key: str, value: str) -> MarkEntry:
    """Append what was written down.

    Raises
    ------
    BadInput
        Nothing written, not one of the choices, or a bolt past the maker's limit.
    Refused
        The job is closed.
    """
    state = event.state
    photographed = Photo.objects.filter(job=event.job, about=key).exists()
    kept = checked_mark(key, value, state.most_turns, photographed)
    what = mark(key)
    event.summary = f"noted {what.name.lower()}: {dict(what.choices).get(kept, kept)}"
    return MarkEntry.objects.create(**event.fact, mark=key, value=kept)


@job_act("note", right="read")
def marks_as_last_time(event: EventDraft) -> list[MarkEntry]:
    """Write down every mark that is still asked for as it was at the bow's last visit, looked at and
    found the same.

    Raises
    ------
    Refused
        Nothing is left that was written down before, or the job is closed.
    """
    state = event.state
    before = marks_of_last_visit(event.job)
    same = [key for key in state.course.unmarked if key in before]
    if not same:
        raise Refused("Nothing was written down at its last visit that is still asked for.")
    names = ", ".join(mark(key).name.lower() for key in same)
    event.summary = f"looked at, as last time: {names}"[:300]
    return [MarkEntry.objects.create(**event.fact, mark=k, value=before[k]) for k in same]
