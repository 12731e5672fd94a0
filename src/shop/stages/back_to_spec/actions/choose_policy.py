"""This job is tuned by another policy than the shop's."""

from collections.abc import Mapping

from bowcore.deciding.policies import policy_choice
from shop.casework.checks import require_act, require_press_closed
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job


def choose_policy(job_id: int, chosen: Mapping[str, bool], submission: Submission) -> None:
    """Let this job differ from the shop in some of its choices.

    Raises
    ------
    BadInput
        No such choice.
    Refused
        The press is open, or the job is closed.
    """
    for key in chosen:
        policy_choice(key)
    with on_job(job_id, "choose_policy", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "choose another policy")
        mine = event.job.policy | dict(chosen)
        event.job.policy = {k: v for k, v in mine.items() if v != state.usual_policy[k]}
        words = [policy_choice(key).words(value) for key, value in event.job.policy.items()]
        event.summary = "on this job: " + (", ".join(words) if words else "as the shop does")
