"""Who may do what. An apprentice works; some acts need a manager."""

from enum import StrEnum

from bowcore.errors import Refused


class StaffRole(StrEnum):
    """A person's role in the shop."""

    APPRENTICE = "apprentice"
    TECHNICIAN = "technician"
    MANAGER = "manager"


_EVERYONE = frozenset(StaffRole)
_SKILLED = frozenset({StaffRole.TECHNICIAN, StaffRole.MANAGER})
_MANAGER = frozenset({StaffRole.MANAGER})

MAY = {
    "check_in": _EVERYONE,
    "inspect": _EVERYONE,
    "read": _EVERYONE,
    "open_press": _EVERYONE,
    "change": _EVERYONE,
    "let_down": _EVERYONE,
    "ask_signature": _EVERYONE,
    "log_done": _SKILLED,
    "lift_hold": _SKILLED,
    "hand_over": _SKILLED,
    "leave_it": _SKILLED,
    "cancel": _SKILLED,
    "override": _MANAGER,
    "set_shop": _MANAGER,
    "set_people": _MANAGER,
    "move_bow": _MANAGER,
    "move_records": _MANAGER,
    "see_log": _MANAGER,
    "set_book": _SKILLED,
    "order_set": _SKILLED,
    "receive_set": _SKILLED,
    "set_tool": _SKILLED,
    "fit_curve": _SKILLED,
}
"""Act -> roles that may do it."""


def may(role: StaffRole, act: str) -> bool:
    """Whether a role may do an act."""
    return role in MAY[act]


def require(role: StaffRole, act: str) -> None:
    """Refuse an act to those who may not do it.

    Raises
    ------
    Refused
        Says who may.
    """
    if not may(role, act):
        who = " or ".join(sorted(r.value for r in MAY[act]))
        raise Refused(f"That needs a {who}.")


def needs_second_eyes(role: StaffRole, shop_wants_it: bool) -> bool:
    """Whether a gate confirmed by this person needs a second person."""
    return shop_wants_it and role is StaffRole.APPRENTICE
