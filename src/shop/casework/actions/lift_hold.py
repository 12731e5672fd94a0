"""Lift a hold, with the reason why it no longer applies."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.work_order.holds import ARROWS, HOLDS
from shop.casework.checks import require_act
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job


def lift_hold(job_id: int, hold_id: int, because: str, submission: Submission) -> None:
    """Mark a hold as lifted.

    Raises
    ------
    Refused
        No reason, no such active hold, or an apprentice: who lifts a wait for the arrows only.
    """
    with on_job(job_id, "lift_hold", submission) as event:
        hold = event.job.holds.filter(pk=hold_id, lifted_at=None).first()
        waits_only = hold is not None and hold.kind == ARROWS
        act = "read" if waits_only else "lift_hold"
        require_act(submission.by, act, job_state(event.job))
        if hold is None:
            raise Refused("That hold has been lifted already.")
        if not because.strip():
            raise Refused("Write down why it can be lifted.")
        hold.lifted_by, hold.lifted_at = submission.by, timezone.now()
        hold.lifted_because = because.strip()[:200]
        hold.save()
        event.summary = f"lifted the hold '{HOLDS[hold.kind].name.lower()}': {hold.lifted_because}"
