"""A number is left outside its band on purpose: the customer likes it, or nothing better can be had."""

from bowcore.errors import Refused
from bowcore.quantities.catalogue import quantity
from shop.audit.submissions import Submission, on_job
from shop.jobs.checks import require_act
from shop.jobs.state import job_state
from shop.measurements.models import LeftOnPurpose


def leave_it(job_id: int, key: str, reason: str, submission: Submission) -> LeftOnPurpose:
    """Leave a number as it is, with the reason; no reason takes that back.

    Raises
    ------
    BadInput
        There is no such quantity.
    Refused
        It has no band or was not read, nothing was left that could be taken back, or the person may not.
    """
    what = quantity(key)
    with on_job(job_id, "leave_it", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "leave_it", state)
        now, words = state.facts.current(key), reason.strip()[:200]
        if words and (key not in state.bands or now is None or now.summary is None):
            raise Refused(f"{what.name} has to be read before it can be left as it is.")
        if not words and key not in state.left:
            raise Refused("Write down why it stays as it is.")
        event.summary = (
            f"left {what.name.lower()} on purpose: {words}"
            if words
            else f"{what.name} is to be brought inside after all"
        )
        return LeftOnPurpose.objects.create(**event.fact, quantity=key, reason=words)
