"""Where each new part of a job comes from, and that the press waits until it is here."""

from collections.abc import Collection, Iterable, Mapping
from enum import StrEnum

from bowcore.bow.specification import BowSpec
from bowcore.errors import BadInput, Refused


class Supply(StrEnum):
    """Where a new part comes from."""

    ORDER = "order it"
    OWN = "customer's own"
    SHELF = "from the shelf"
    DECLINED = "declined"

    @property
    def in_hand(self) -> bool:
        """Whether it is here at once."""
        return self in (Supply.OWN, Supply.SHELF)


def supply_of(text: str) -> Supply:
    """The supply of that name.

    Raises
    ------
    BadInput
        It does not exist; the error lists those that do.
    """
    try:
        return Supply(text)
    except ValueError:
        every = ", ".join(Supply)
        raise BadInput(f"A part cannot come from “{text[:40]}”.", "supply", every) from None


def declined(supply: Mapping[str, str]) -> set[str]:
    """Roles of the parts that the customer does not want after all."""
    return {role for role, found in supply.items() if found == Supply.DECLINED}


def not_in_hand(roles: Iterable[str], supply: Mapping[str, str]) -> tuple[str, ...]:
    """Of these parts, those that have to come with an order."""
    return tuple(r for r in roles if not Supply(supply.get(r, Supply.ORDER)).in_hand)


def require_here(
    spec: BowSpec, roles: Iterable[str], supply: Mapping[str, str], came: Collection[str]
) -> None:
    """Refuse to open the press for a part that nobody has.

    Parameters
    ----------
    spec : BowSpec
        The bow, for the names of its parts.
    roles : iterable of str
        What is to be put on.
    supply : mapping of str to str
        Where each comes from.
    came : collection of str
        Roles of what has come with an order, to length.

    Raises
    ------
    Refused
        Names what is not here.
    """
    missing = [role for role in not_in_hand(roles, supply) if role not in came]
    if missing:
        names = ", ".join(spec.part(role).label.lower() for role in missing)
        raise Refused(
            f"Not here yet: {names}. Order it, or say that it is the customer's own or from the shelf."
        )
