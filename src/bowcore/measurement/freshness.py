"""What a change makes stale. A reading is true until something it depends on has moved."""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change


@dataclass(frozen=True)
class ChangeMade:
    """A change to a bow, at its place in the order of the job's facts."""

    seq: int
    change: Change


def stale_after(change: Change) -> tuple[str, ...]:
    """Quantities that must be read again after a kind of change, in the catalogue's order."""
    return tuple(one.key for one in QUANTITIES.values() if change in one.stale_after)


def stale_since(quantity: str, read_at: int, changes: Iterable[ChangeMade]) -> ChangeMade | None:
    """The first change after a reading that made it stale, or None while it is still true.

    Parameters
    ----------
    quantity : str
        Its key in the catalogue.
    read_at : int
        Place of the reading in the order of the job's facts.
    changes : iterable of ChangeMade
        What was changed on the bow.

    Returns
    -------
    ChangeMade or None
        The change to blame.
    """
    depends_on = QUANTITIES[quantity].stale_after
    later = [one for one in changes if one.seq > read_at and one.change in depends_on]
    return min(later, key=lambda one: one.seq, default=None)
