"""Hand over: refused while anything is open, unless a manager says why not."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.stages.hand_over.blockers import blockers, overridable
from bowcore.work_order.roles import require
from shop.casework.actions.signature import sign
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.papers.models import HandOver


class NotReady(Refused):
    """The bow may not go back; `open_points` says why, one sentence each."""

    code = "not-ready"

    def __init__(self, open_points: list[str]):
        super().__init__("Not yet. " + " ".join(open_points))
        self.open_points = open_points


@job_act("hand_over", right="hand_over")
def hand_over(event: EventDraft, override: str, not_done: str) -> HandOver:
    """Close the job.

    Parameters
    ----------
    job_id : int
        The job.
    override : str
        A manager's reason for handing over in spite of open points; printed on the sheet.
    not_done : str
        What was asked for or noticed and not done, in free words.
    submission : Submission
        Who, key, version seen.

    Raises
    ------
    NotReady
        With the list of open points.
    Refused
        The person may not, or the open points cannot be overridden.
    """
    state = event.state
    found = [one.words for one in blockers(state.judged, state.bands)]
    reason = override.strip()
    if found:
        if not reason:
            raise NotReady(found)
        require(event.by.staff_role, "override")
        if not overridable(state.facts):
            raise Refused("Nobody hands over a bow in the press or on a safety hold.")
    sign(event)
    event.job.handed_over_at = timezone.now()
    event.summary = "handed it over" + (f" in spite of open points: {reason}" if found else "")
    return HandOver.objects.create(
        **event.fact,
        open_points=found,
        override=reason if found else "",
        not_done=not_done.strip(),
    )
