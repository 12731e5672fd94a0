"""Which moves of nock point and rest bring level, height and centre shot inside, with the fewest acts.

Every move is counted in whole taps; what it does is a rate with its doubt. Small enough to try every one.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import product

from bowcore.adjusters.steps import Steps
from bowcore.learning.one_rate import Rate
from bowcore.measurement.bands import Band

TAP_MINUTES = 0.1
OFF_MINUTES = 3.0
"""What a number at the edge of its band is worth against one in the middle: our figure."""
OUTSIDE_MINUTES = 20.0
"""What a number that is surely outside costs: it is found by the first shots, and done again; our figure."""


@dataclass(frozen=True)
class FitQuestion:
    """Where the numbers are, where they should be, and what each tap does.

    `readings` are (value, sigma); `rates` by adjuster and quantity; `limits` least and most taps of each,
    `minutes` what touching it takes.
    """

    readings: Mapping[str, tuple[float, float]]
    bands: Mapping[str, Band]
    rates: Mapping[str, Mapping[str, Rate]]
    limits: Mapping[str, tuple[int, int]]
    minutes: Mapping[str, float]


@dataclass(frozen=True)
class FitMove:
    """Taps, and each number afterwards with its doubt."""

    steps: Steps
    predicted: Mapping[str, tuple[float, float]]
    minutes: float
    inside: bool


@dataclass(frozen=True)
class FitMoves:
    """The best move, and the best of those that touch something else."""

    best: FitMove
    others: tuple[FitMove, ...] = field(default=())


def plan_moves(question: FitQuestion, most_others: int = 2) -> FitMoves:
    """The move with the fewest minutes, a number off the middle of its band counted in.

    Parameters
    ----------
    question : FitQuestion
        At least one adjuster.
    most_others : int
        How many alternatives are kept.

    Returns
    -------
    FitMoves
        Doing nothing is one of the moves that are weighed.
    """
    keys = list(question.rates)
    ranges = [range(question.limits[key][0], question.limits[key][1] + 1) for key in keys]
    best: dict[frozenset[str], FitMove] = {}
    for counts in product(*ranges):
        move = _move(question, Steps(zip(keys, counts, strict=True)))
        touched = frozenset(move.steps)
        if touched not in best or move.minutes < best[touched].minutes:
            best[touched] = move
    ordered = sorted(best.values(), key=lambda one: one.minutes)
    also = [one for one in ordered[1:] if one.inside]
    return FitMoves(ordered[0], tuple(also[:most_others]))


def _move(question: FitQuestion, steps: Steps) -> FitMove:
    predicted, minutes, inside = {}, 0.0, True
    for name, (value, sigma) in question.readings.items():
        after, variance = value, sigma**2
        for key, count in steps.items():
            rate = question.rates[key].get(name)
            if rate is not None:
                after += count * rate.mean
                variance += (count * rate.sigma) ** 2
        predicted[name] = (after, variance**0.5)
        band = question.bands[name]
        minutes += OFF_MINUTES * ((after - band.target) / (band.half_width or 1)) ** 2
        minutes += OUTSIDE_MINUTES * (1 - band.chance_inside(after, variance**0.5))
        inside = inside and band.judge(after).inside
    minutes += sum(question.minutes[key] + TAP_MINUTES * abs(count) for key, count in steps.items())
    return FitMove(steps, predicted, minutes, inside)
