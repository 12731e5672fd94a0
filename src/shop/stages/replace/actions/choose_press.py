"""This job is pressed in another press than the shop's usual one."""

from bowcore.stages.replace.press_plan import PressKind
from shop.casework.checks import require_act, require_press_closed
from shop.casework.state import job_state
from shop.casework.submissions import Submission, on_job


def choose_press(job_id: int, kind: str, submission: Submission) -> None:
    """Press this job in another kind of press.

    Raises
    ------
    Refused
        The press is open, or the job is closed.
    """
    with on_job(job_id, "choose_press", submission) as event:
        state = job_state(event.job)
        require_act(submission.by, "change", state)
        require_press_closed(state, "choose another press")
        event.job.press = PressKind(kind).value
        event.summary = f"uses the {event.job.press} press on this job"
