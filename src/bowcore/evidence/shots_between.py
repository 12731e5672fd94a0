"""Shots between the changes of a job: what was shot before a change, and what after it."""

from collections.abc import Sequence

from bowcore.evidence.facts import Facts
from bowcore.evidence.shots import Group, ShaftKind, Shot, group_of
from bowcore.quantities.changes import Change

LEAST_ALIKE = 2
MOVES_NO_TEAR = frozenset({Change.SHOTS, Change.PEEP})
"""Shots that settle threads, and a peep or kisser moved along the string."""


def since_last_change(facts: Facts) -> list[Shot]:
    """Every shot of whatever test since something was changed."""
    return between_changes(facts, facts.shots)[-1]


def last_change(facts: Facts) -> int:
    """When something was changed last that a shot may answer to; 0 where nothing was."""
    return max(boundaries(facts), default=0)


def boundaries(facts: Facts) -> list[int]:
    """When something was changed that a tear may answer to."""
    made = [one.seq for one in facts.changes if one.change not in MOVES_NO_TEAR]
    return sorted({*made, *(one.seq for one in facts.looked_at if one.mended)})


def between_changes(facts: Facts, shots: Sequence[Shot]) -> list[list[Shot]]:
    """Shots by the changes between them, the newest last; that may be empty."""
    ends = [*boundaries(facts), None]
    found, begin = [], 0
    for end in ends:
        found.append([s for s in shots if s.seq > begin and (end is None or s.seq <= end)])
        begin = end or begin
    return found


def own_shot(shots: Sequence[Shot]) -> Shot:
    """A shot of the archer whose bow it is, with the own arrow: the first one for which neither another
    archer nor another arrow was written down, else the first of all."""
    return next((one for one in shots if not one.shooter and not one.arrow), shots[0])


def own_among(group: Sequence[Shot], shots: Sequence[Shot]) -> list[Shot]:
    """Shots by the archer whose bow it is and with the own arrow, fletched."""
    if not shots:
        return []
    own = own_shot(shots)
    whose = (own.shooter, own.arrow)
    fletched = (one for one in group if one.kind is ShaftKind.FLETCHED)
    return [one for one in fletched if (one.shooter, one.arrow) == whose]


def before_and_after(facts: Facts, shots: Sequence[Shot], seq: int) -> tuple[Group, Group] | None:
    """The groups just before and just after a moment, where both have two good shots."""
    groups = between_changes(facts, shots)
    place = boundaries(facts).index(seq)
    both = [own_among(groups[at], shots) for at in (place, place + 1)]
    if any(sum(one.good for one in group) < LEAST_ALIKE for group in both):
        return None
    return group_of(both[0]), group_of(both[1])
