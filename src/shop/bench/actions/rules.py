"""Checks that several acts share."""

from bowcore.errors import Refused
from bowcore.service.inspection import stopped_by
from bowcore.service.roles import require
from shop.accounts.models import Member
from shop.tuning.selectors import View


def require_open(view: View) -> None:
    """A job that was handed over takes no more facts."""
    if view.facts.handed_over:
        raise Refused("This job is handed over. Check the bow in again for more work.")


def require_act(member: Member, act: str, view: View) -> None:
    """The person may do it, and the job is still open."""
    require(member.standing, act)
    require_open(view)


def require_not_held(view: View, act: str) -> None:
    """No active hold stops this act ("draw", "press")."""
    hold = stopped_by(view.facts.holds, act)
    if hold is not None:
        raise Refused(f"{hold.name}. {hold.caution}")


def require_bolts_back(view: View) -> None:
    """Limb bolts that went out for the press are in again."""
    if view.facts.bolts_away:
        top, bottom = (f"{turns:g}" for turns in view.facts.bolts_away)
        raise Refused(f"The limb bolts are still out: top {top}, bottom {bottom}. In again first.")


def require_press_closed(view: View, what: str) -> None:
    if view.facts.press is not None:
        raise Refused(f"The press is open. Let it down through the gate first, then {what}.")
