"""Nock ties and loop: what is tied when, and how much cord a loop takes."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import sqrt

THREAD_ABOVE_IN, THREAD_BELOW_IN = 0.014, 0.018
"""Thinner above and thicker below keeps the nock level through the draw (common practice)."""
OVERHAND_TURNS = 3
CORD_MORE_IN, CORD_MORE_SIGMA_IN = 5.25, 0.5
"""What a loop's cord is cut longer than twice the finished loop, before a shop has tied one: six to seven
inches for a half to five eighths are usual (common practice, no published source)."""
ONE_LOOP_SIGMA_IN = 0.15
"""How differently two loops of one cord come out, as cord cut: our figure."""


class TieMethod(StrEnum):
    """When ties go on, and where (common practice)."""

    LAST = "last"
    BOTH = "both"
    BELOW = "below"
    NONE = "none"

    @property
    def ties_above(self) -> bool:
        """Whether a tie sits between the nock and the loop's top knot."""
        return self in (TieMethod.LAST, TieMethod.BOTH)


TIE_METHODS = {
    TieMethod.LAST: "No ties until the vertical tear is gone, then above and below the nock",
    TieMethod.BOTH: "Above and below the nock, before the loop, inside it",
    TieMethod.BELOW: "One tie below the nock: it keeps the arrow down on the rest",
    TieMethod.NONE: "No ties; the loop's knots hold the nock",
}


@dataclass(frozen=True)
class Tie:
    """One tie: above or below the nock, its thread [in], how it is made."""

    above: bool
    thread_in: float
    turns: int = OVERHAND_TURNS

    @property
    def words(self) -> str:
        place = "above" if self.above else "below"
        thread = f"{self.thread_in:.3f}".lstrip("0")
        return f"{place} the nock, {thread} in thread, {self.turns} overhand turns a side"


def tie_plan(method: TieMethod) -> tuple[Tie, ...]:
    """The ties of a method, in the order in which they are tied."""
    above, below = Tie(True, THREAD_ABOVE_IN), Tie(False, THREAD_BELOW_IN)
    if method is TieMethod.NONE:
        return ()
    return (below,) if method is TieMethod.BELOW else (below, above)


@dataclass(frozen=True)
class CordCut:
    """How long a loop's cord is cut for a finished loop, and how sure that is. [in]"""

    length_in: float
    sigma_in: float
    learned_from: int


def cord_cut(finished_in: float, loops: Sequence[tuple[float, float]] = ()) -> CordCut:
    """How long the cord is cut: twice the loop and what the knots take, learned from loops of this cord.

    Parameters
    ----------
    finished_in : float
        The loop wanted, string's centre to the inside of its apex. [in]
    loops : sequence of pair
        Cord cut and finished length of each loop that was tied of this cord. [in]

    Returns
    -------
    CordCut
        The mean of a normal prior with the loops as its data.
    """
    weight = 1 / CORD_MORE_SIGMA_IN**2
    total = CORD_MORE_IN * weight
    for cut_in, came_out_in in loops:
        total += (cut_in - 2 * came_out_in) / ONE_LOOP_SIGMA_IN**2
        weight += 1 / ONE_LOOP_SIGMA_IN**2
    sigma = sqrt(1 / weight + ONE_LOOP_SIGMA_IN**2)
    return CordCut(2 * finished_in + total / weight, sigma, len(loops))
