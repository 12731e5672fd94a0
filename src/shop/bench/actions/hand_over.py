"""Hand over: refused while anything is open, unless a manager says why not."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.service.handover import blockers, overridable
from bowcore.service.roles import require
from shop.bench.actions.rules import require_act
from shop.papers.models import HandOver
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


class NotReady(Refused):
    """The bow may not go back; `open_points` says why, one sentence each."""

    code = "not-ready"

    def __init__(self, open_points: list[str]):
        super().__init__("Not yet. " + " ".join(open_points))
        self.open_points = open_points


def hand_over(job_id: int, override: str, not_done: str, stamp: Stamp) -> HandOver:
    """Close the job.

    Parameters
    ----------
    job_id : int
        The job.
    override : str
        A manager's reason for handing over in spite of open points; printed on the sheet.
    not_done : str
        What was asked for or noticed and not done, in free words.
    stamp : Stamp
        Who, key, version seen.

    Raises
    ------
    NotReady
        With the list of open points.
    Refused
        The person may not, or the open points cannot be overridden.
    """
    with on_job(job_id, "hand_over", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "hand_over", view)
        found = blockers(view.facts, view.bands)
        reason = override.strip()
        if found:
            if not reason:
                raise NotReady(found)
            require(stamp.by.standing, "override")
            if not overridable(view.facts):
                raise Refused(
                    "A bow in the press or on a safety hold is not handed over by anyone."
                )
        act.job.handed_over_at = timezone.now()
        act.said = "handed it over" + (f" in spite of open points: {reason}" if found else "")
        return HandOver.objects.create(
            **act.fact, open_points=found, override=reason if found else "",
            not_done=not_done.strip(),
        )  # fmt: skip
