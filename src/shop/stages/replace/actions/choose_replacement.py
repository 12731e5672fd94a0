"""This job's parts are replaced in another way than the shop's usual one."""

from bowcore.work_order.replacement import ReplacementPolicy
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft


@job_act("choose_replacement", right="change")
def choose_replacement(event: EventDraft, policy: str) -> None:
    """Replace this job's parts by another policy.

    Raises
    ------
    Refused
        The press is open, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "choose another way")
    event.job.replacement = ReplacementPolicy(policy).value
    event.summary = f"replaces {event.job.replacement} on this job"
