"""Take back everything since a moment: reverse entries, in the press where they need it."""

from bowcore.stages.replace.take_back import reverse_since
from shop.casework.state import job_state
from shop.casework.submissions import Submission
from shop.schema.jobs.models import Job
from shop.stages.replace.actions.cycle import change_otherwise


def take_back(job_id: int, submission: Submission, since: int) -> None:
    """Undo every change from a place in the job's order on, as a change of its own.

    Raises
    ------
    Refused
        Nothing to undo, a part was replaced since, or the press may not be opened.
    """
    state = job_state(Job.objects.get(pk=job_id))
    steps = reverse_since(state.facts.changes, since)
    change_otherwise(state, submission, steps, "taken back")
