"""Writes how a simulated tool behaves."""

from bowcore.errors import BadInput
from shop.devices.models import BenchTool


def set_tool(key: str, state: str) -> None:
    """Make a simulated tool well, unplugged, frozen or absurd.

    Raises
    ------
    BadInput
        No such state.
    """
    states = dict(BenchTool.STATES)
    if state not in states:
        raise BadInput("How does the tool behave?", "state", ", ".join(states))
    BenchTool.objects.filter(key=key).update(state=state)
