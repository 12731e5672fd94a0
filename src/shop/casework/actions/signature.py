"""What an apprentice may not decide waits for the signature of somebody who may."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.work_order.holds import SIGNATURE
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft
from shop.schema.jobs.models import Hold


@job_act("ask_signature", right="ask_signature")
def ask_signature(event: EventDraft, what: str) -> Hold:
    """Put the bow aside until somebody who may has decided.

    Raises
    ------
    Refused
        It waits for a signature already, or the job is closed.
    """
    state = event.state
    if any(hold.kind == SIGNATURE for hold in state.holds):
        raise Refused("It waits for a signature already.")
    reason = what.strip()[:200] or "to be looked at and signed"
    event.summary = f"asked for a signature: {reason}"
    return Hold.objects.create(job=event.job, kind=SIGNATURE, reason=reason, placed_by=event.by)


def sign(event: EventDraft) -> None:
    """Whoever decides has signed: the bow waits for it no longer."""
    waiting = event.job.holds.filter(kind=SIGNATURE, lifted_at=None)
    waiting.update(lifted_by=event.by, lifted_at=timezone.now(), lifted_because="decided")
