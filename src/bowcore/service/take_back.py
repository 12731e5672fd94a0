"""Taking steps back: the reverse of everything that was done since a moment, as a plan of its own."""

from collections.abc import Sequence

from bowcore.errors import Refused
from bowcore.service.facts import Change


def take_back(changes: Sequence[Change], since: int) -> dict[str, int]:
    """Steps that undo every change from a place in the job's order on.

    Parameters
    ----------
    changes : sequence of Change
        The ledger.
    since : int
        Place of the first change to be undone.

    Returns
    -------
    dict of str to int
        Signed steps per adjuster; those that cancel already are left out.

    Raises
    ------
    Refused
        Nothing was done since, or a part was replaced: an old part is not brought back by twisting.
    """
    later = [change for change in changes if change.seq >= since]
    if any(change.replaced for change in later):
        raise Refused("A part was replaced since then; no twist brings the old one back.")
    total: dict[str, int] = {}
    for change in later:
        total[change.part] = total.get(change.part, 0) - change.half_twists
    undone = {key: steps for key, steps in total.items() if steps}
    if not undone:
        raise Refused("Nothing is left to be taken back since then.")
    return undone


def can_take_back(changes: Sequence[Change], since: int) -> bool:
    """Whether `take_back` has an answer."""
    try:
        return bool(take_back(changes, since))
    except Refused:
        return False
