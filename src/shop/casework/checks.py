"""Checks that several actions on a job share."""

from bowcore.errors import Refused
from bowcore.work_order.holds import stopped_by
from shop.casework.state import JobState


def require_open(state: JobState) -> None:
    """A job that was handed over or cancelled takes no more facts."""
    if state.job.cancelled_at is not None:
        raise Refused("This job is cancelled. Open it again first.")
    if state.facts.handed_over:
        raise Refused("This job is handed over. Check the bow in again for more work.")


def require_not_held(state: JobState, act: str) -> None:
    """No active hold stops this act ("draw", "press")."""
    hold = stopped_by(state.facts.holds, act)
    if hold is not None:
        raise Refused(f"{hold.name}. {hold.caution}")


def require_bolts_back(state: JobState) -> None:
    """Limb bolts that were backed off for the press are in again."""
    if state.facts.bolts_backed_off:
        top, bottom = (f"{turns:g}" for turns in state.facts.bolts_backed_off)
        raise Refused(
            f"The limb bolts are still backed off: top {top}, bottom {bottom}. Turn them in first."
        )


def require_press_closed(state: JobState, what: str) -> None:
    """The press is closed; `what` is what the person wanted to do."""
    if state.facts.press is not None:
        raise Refused(f"The press is open. Let it down through the gate first, then {what}.")
