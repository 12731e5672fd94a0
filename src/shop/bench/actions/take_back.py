"""Take back everything since a moment: reverse entries, in the press where they need it."""

from bowcore.service.take_back import take_back as reverse
from shop.bench.actions.press import change_otherwise
from shop.jobs.models import Job
from shop.records.deeds import Stamp
from shop.tuning.selectors import view_of


def take_back(job_id: int, since: int, stamp: Stamp) -> None:
    """Undo every change from a place in the job's order on, as a change of its own.

    Raises
    ------
    Refused
        Nothing to undo, a part was replaced since, or the press may not be opened.
    """
    steps = reverse(view_of(Job.objects.get(pk=job_id)).facts.changes, since)
    change_otherwise(job_id, list(steps.items()), "taken back", stamp)
