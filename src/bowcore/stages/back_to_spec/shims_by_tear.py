"""Shims chosen by a sideways tear in paper, as the trade does it where a cam has no yoke.

The cam is pushed toward the tear: the thick spacer goes to the far side. The top cam first, then the
bottom one, the thin kit before the thick one, one exchange and a look each time (common practice, no
published source).
"""

from collections.abc import Iterable
from dataclasses import dataclass

from bowcore.adjusters.adjuster import Adjuster, Position
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.steps import Steps
from bowcore.evidence.facts import Facts
from bowcore.quantities.catalogue import TEAR_SIDE, quantity


@dataclass(frozen=True)
class TearMove:
    """One exchange of shims that a tear asks for, and what is said about it."""

    steps: Steps
    words: str


def shims_by_tear(facts: Facts, adjusters: Iterable[Adjuster]) -> TearMove | None:
    """The next exchange of shims for the tear that was read last; None where nothing is to be exchanged.

    Parameters
    ----------
    facts : Facts
        With a fresh sideways tear; positive is the nock to the right.
    adjusters : iterable of Adjuster
        Of the bow.
    """
    now, what = facts.current(TEAR_SIDE), quantity(TEAR_SIDE)
    if now is None or not now.fresh or now.summary is None:
        return None
    tear = now.summary.value
    shims = [one for one in adjusters if isinstance(one, Shim) and one.start(facts) is not None]
    if abs(tear) <= what.tolerance or not shims:
        return None
    for shim in _least_moved(shims, facts):
        found = _further(shim, facts, to_left=tear < 0)
        if found is not None:
            return TearMove(
                Steps({shim.key: found.total - shim.total(facts)}), _say(shim, found, tear)
            )
    return None


def _least_moved(shims: list[Shim], facts: Facts) -> list[Shim]:
    """Top cam first; a cam that has been moved already waits for the other."""
    return sorted(shims, key=lambda one: abs(facts.net_steps(one.key)))


def _further(shim: Shim, facts: Facts, to_left: bool) -> Position | None:
    """The next pair that puts the cam further to that side, from the thinnest kit that has one."""
    total = shim.total(facts)
    beyond = [p for p in shim.positions if (p.total > total if to_left else p.total < total)]
    return min(beyond, key=lambda p: (p.effort, abs(p.total - total)), default=None)


def _say(shim: Shim, found: Position, tear: float) -> str:
    side = "left" if tear < 0 else "right"
    size = quantity(TEAR_SIDE).say_size(tear)
    return (
        f"The paper tears {size}, nock {side}. By the tear the {shim.axle} cam is pushed toward it, to the "
        f"{side}: {found.words}. Then shoot it again. First make sure of grip, contact and spine."
    )
