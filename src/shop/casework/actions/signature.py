"""What an apprentice may not decide waits for the signature of somebody who may."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.work_order.holds import SIGNATURE
from shop.casework.checks import require_act
from shop.casework.state import job_state
from shop.casework.submissions import EventDraft, Submission, on_job
from shop.schema.jobs.models import Hold


def ask_signature(job_id: int, what: str, submission: Submission) -> Hold:
    """Put the bow aside until somebody who may has decided.

    Raises
    ------
    Refused
        It waits for a signature already, or the job is closed.
    """
    with on_job(job_id, "ask_signature", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "ask_signature", state)
        if any(hold.kind == SIGNATURE for hold in state.holds):
            raise Refused("It waits for a signature already.")
        reason = what.strip()[:200] or "to be looked at and signed"
        event.summary = f"asked for a signature: {reason}"
        return Hold.objects.create(
            job=event.job, kind=SIGNATURE, reason=reason, placed_by=submission.by
        )


def sign(event: EventDraft) -> None:
    """Whoever decides has signed: the bow waits for it no longer."""
    waiting = event.job.holds.filter(kind=SIGNATURE, lifted_at=None)
    waiting.update(lifted_by=event.by, lifted_at=timezone.now(), lifted_because="decided")
