"""Who may do what. An apprentice works; some acts need a manager."""

from enum import StrEnum

from bowcore.errors import Refused


class Role(StrEnum):
    """A person's standing in the shop."""

    APPRENTICE = "apprentice"
    TECHNICIAN = "technician"
    MANAGER = "manager"


_EVERYONE = frozenset(Role)
_SKILLED = frozenset({Role.TECHNICIAN, Role.MANAGER})
_MANAGER = frozenset({Role.MANAGER})

MAY = {
    "check_in": _EVERYONE,
    "look_over": _EVERYONE,
    "read": _EVERYONE,
    "open_press": _EVERYONE,
    "change": _EVERYONE,
    "let_down": _EVERYONE,
    "lift_hold": _SKILLED,
    "hand_over": _SKILLED,
    "override": _MANAGER,
    "set_shop": _MANAGER,
    "set_book": _SKILLED,
    "order_set": _SKILLED,
}
"""Act -> roles that may do it."""


def require(role: Role, act: str) -> None:
    """Refuse an act to those who may not do it.

    Raises
    ------
    Refused
        Says who may.
    """
    allowed = MAY[act]
    if role not in allowed:
        who = " or ".join(sorted(r.value for r in allowed))
        raise Refused(f"That needs a {who}.")


def needs_second_eyes(role: Role, shop_wants_it: bool) -> bool:
    """Whether a gate confirmed by this person needs a second person."""
    return shop_wants_it and role is Role.APPRENTICE
