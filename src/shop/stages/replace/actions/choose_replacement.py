"""This job's parts are replaced in another way than the shop's usual one."""

from bowcore.work_order.replacement import ReplacementPolicy
from shop.casework.checks import require_act, require_press_closed
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job


def choose_replacement(job_id: int, policy: str, submission: Submission) -> None:
    """Replace this job's parts by another policy.

    Raises
    ------
    Refused
        The press is open, or the job is closed.
    """
    with on_job(job_id, "choose_replacement", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "choose another way")
        event.job.replacement = ReplacementPolicy(policy).value
        event.summary = f"replaces {event.job.replacement} on this job"
