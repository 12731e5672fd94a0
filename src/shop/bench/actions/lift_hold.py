"""Lift a hold, with the reason why it no longer stands."""

from django.utils import timezone

from bowcore.errors import Refused
from bowcore.service.inspection import HOLDS
from shop.bench.actions.rules import require_act
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of


def lift_hold(job_id: int, hold_id: int, because: str, stamp: Stamp) -> None:
    """Mark a hold as lifted.

    Raises
    ------
    Refused
        No reason, no such active hold, or an apprentice.
    """
    with on_job(job_id, "lift_hold", stamp) as act:
        require_act(stamp.by, "lift_hold", view_of(act.job))
        hold = act.job.holds.filter(pk=hold_id, lifted_at=None).first()
        if hold is None:
            raise Refused("That hold is not there any more.")
        if not because.strip():
            raise Refused("Say why it can be lifted.")
        hold.lifted_by, hold.lifted_at = stamp.by, timezone.now()
        hold.lifted_because = because.strip()[:200]
        hold.save()
        act.said = f"lifted the hold '{HOLDS[hold.kind].name.lower()}': {hold.lifted_because}"
