"""Lift a hold, with the reason why it no longer applies."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.work_order.holds import ARROWS, HOLDS
from bowcore.work_order.roles import require
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft


@job_act("lift_hold", right="read")
def lift_hold(event: EventDraft, hold_id: int, because: str) -> None:
    """Mark a hold as lifted.

    Raises
    ------
    Refused
        No reason, no such active hold, or an apprentice: who lifts a wait for the arrows only.
    """
    hold = event.job.holds.filter(pk=hold_id, lifted_at=None).first()
    if hold is None or hold.kind != ARROWS:
        require(event.by.staff_role, "lift_hold")
    if hold is None:
        raise Refused("That hold has been lifted already.")
    if not because.strip():
        raise Refused("Write down why it can be lifted.")
    hold.lifted_by, hold.lifted_at = event.by, timezone.now()
    hold.lifted_because = because.strip()[:200]
    hold.save()
    event.summary = f"lifted the hold '{HOLDS[hold.kind].name.lower()}': {hold.lifted_because}"
