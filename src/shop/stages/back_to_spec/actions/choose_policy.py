"""This job is tuned by another policy than the shop's."""

from collections.abc import Mapping

from bowcore.deciding.policies import policy_choice
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft


@job_act("choose_policy", right="change")
def choose_policy(event: EventDraft, chosen: Mapping[str, bool]) -> None:
    """Let this job differ from the shop in some of its choices.

    Raises
    ------
    BadInput
        No such choice.
    Refused
        The press is open, or the job is closed.
    """
    state = event.state
    for key in chosen:
        policy_choice(key)
    require_press_closed(state, "choose another policy")
    mine = event.job.policy | dict(chosen)
    event.job.policy = {k: v for k, v in mine.items() if v != state.usual_policy[k]}
    words = [policy_choice(key).words(value) for key, value in event.job.policy.items()]
    event.summary = "on this job: " + (", ".join(words) if words else "as the shop does")
