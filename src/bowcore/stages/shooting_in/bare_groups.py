"""Bare shafts of a job: against fletched ones, and as the tear that goes with them."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.evidence.facts import Facts
from bowcore.evidence.shots import Group, ShaftKind, Shot, ShotTest, group_of, pooled_scatter
from bowcore.evidence.shots_between import LEAST_ALIKE, between_changes, boundaries, own_among
from bowcore.learning.one_rate import Rate
from bowcore.stages.shooting_in.bare_shaft import (
    AT_YD,
    BareAndTear,
    BareShaft,
    as_tear,
    bare_against_fletched,
    bare_per_tear,
)

SCATTER_AT_20_YD_IN = 1.0
"""Standard deviation of one shot, one way, at 20 yards, before these have shown theirs: our figure."""


@dataclass(frozen=True)
class BareGroups:
    """Bare shafts against fletched ones at the farthest distance where both were shot."""

    off: BareShaft
    distance_yd: float
    shots: int


def bare_of(shots: Sequence[Shot], kind: ShaftKind = ShaftKind.BARE) -> BareGroups | None:
    """Shots of one kind against fletched ones, nothing changed between them; None where either is missing.

    Parameters
    ----------
    shots : sequence of Shot
        Of whatever tests.
    kind : ShaftKind
        Bare, or with a broadhead.
    """
    tests = {ShaftKind.BARE: ShotTest.BARE_SHAFT, ShaftKind.BROADHEAD: ShotTest.BROADHEAD}
    good = [one for one in shots if one.test is tests[kind] and one.good]
    for yards in sorted({one.distance_yd for one in good}, reverse=True):
        both = [
            [s for s in good if s.distance_yd == yards and s.kind is one]
            for one in (kind, ShaftKind.FLETCHED)
        ]
        if all(both):
            scatter = pooled_scatter(both, usual_at(yards))
            other, fletched = (group_of(one, scatter) for one in both)
            return BareGroups(bare_against_fletched(other, fletched, yards), yards, len(both[0]))
    return None


def bare_rate(facts: Facts) -> Rate:
    """Where a bare shaft lands at 20 yards for an inch of tear, by what this bow has shown of both."""
    paper = [one for one in facts.shots if one.test is ShotTest.PAPER]
    seen = []
    for at, shots in enumerate(between_changes(facts, facts.shots)):
        torn = [one for one in own_among(between_changes(facts, paper)[at], paper) if one.good]
        bare = bare_of(shots)
        if len(torn) >= LEAST_ALIKE and bare is not None:
            seen.append(BareAndTear(group_of(torn), bare.off, bare.distance_yd))
    return bare_per_tear(seen)


def _bare_tear(shots: Sequence[Shot], rate: Rate) -> Group | None:
    found = bare_of(shots)
    if found is None or found.shots < LEAST_ALIKE:
        return None
    return as_tear(found.off, found.distance_yd, rate, found.shots)


def bare_before_and_after(facts: Facts, seq: int) -> tuple[Group, Group] | None:
    """The same by bare shafts, as the tears that go with them."""
    groups, place = between_changes(facts, facts.shots), boundaries(facts).index(seq)
    rate = bare_rate(facts)
    found = [_bare_tear(groups[at], rate) for at in (place, place + 1)]
    before, after = found
    return None if before is None or after is None else (before, after)


def usual_at(distance_yd: float) -> float:
    """Scatter of one shot at a distance, before these have shown theirs. [in]"""
    return SCATTER_AT_20_YD_IN * distance_yd / AT_YD
