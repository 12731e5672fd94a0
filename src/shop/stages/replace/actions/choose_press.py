"""This job is pressed in another press than the shop's usual one."""

from bowcore.stages.replace.press_plan import PressKind
from shop.casework.checks import require_press_closed
from shop.casework.job_act import job_act
from shop.casework.submissions import EventDraft


@job_act("choose_press", right="change")
def choose_press(event: EventDraft, kind: str) -> None:
    """Press this job in another kind of press.

    Raises
    ------
    Refused
        The press is open, or the job is closed.
    """
    state = event.state
    require_press_closed(state, "choose another press")
    event.job.press = PressKind(kind).value
    event.summary = f"uses the {event.job.press} press on this job"
