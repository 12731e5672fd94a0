"""Set how a simulated tool behaves."""

from bowcore.errors import BadInput
from bowcore.quantities.tools import DEVICES
from bowcore.work_order.roles import require
from shop.casework.submissions import Submission, without_job
from shop.simulated.models import ToolBehaviour


def set_tool(key: str, state: str, submission: Submission) -> None:
    """Make a simulated tool well, unplugged, frozen or absurd.

    Raises
    ------
    BadInput
        No such tool or state.
    Refused
        The person may not.
    """
    require(submission.by.staff_role, "set_tool")
    states = dict(ToolBehaviour.STATES)
    if state not in states:
        raise BadInput("How does the tool behave?", "state", ", ".join(states))
    if key not in DEVICES:
        raise BadInput("There is no such tool.", "key", ", ".join(DEVICES))
    with without_job("set_tool", submission) as event:
        event.summary = f"set the {DEVICES[key].name} to {state}"
        ToolBehaviour.objects.update_or_create(key=key, defaults={"state": state})
