"""Taking steps back: the reverse of everything that was done since a moment, as a plan of its own."""

from collections.abc import Sequence

from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.errors import Refused
from bowcore.evidence.facts import LedgerEntry


def reverse_since(changes: Sequence[LedgerEntry], since: int) -> Steps:
    """Steps that undo every change from a place in the job's order on.

    Parameters
    ----------
    changes : sequence of LedgerEntry
        The ledger.
    since : int
        Place of the first change to be undone.

    Returns
    -------
    Steps
        Those that cancel already are left out.

    Raises
    ------
    Refused
        Nothing was done since, or a part was replaced: an old part is not brought back by twisting.
    """
    later = [change for change in changes if change.seq >= since]
    if any(change.replaced for change in later):
        raise Refused("A part was replaced since then; twisting does not bring the old one back.")
    undone = NO_STEPS
    for change in (one for one in later if one.adjuster):
        undone = undone + Steps({change.adjuster: -change.steps})
    if not undone:
        raise Refused("Nothing is left to be taken back since then.")
    return undone


def possible_reverse(changes: Sequence[LedgerEntry], since: int) -> Steps:
    """What `reverse_since` answers, or no steps where nothing can be taken back."""
    try:
        return reverse_since(changes, since)
    except Refused:
        return NO_STEPS
