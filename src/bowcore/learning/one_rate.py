"""What one step of an adjuster does to one number that it moves by itself, learned from this bow's trials."""

from collections.abc import Iterable
from dataclasses import dataclass
from math import sqrt


@dataclass(frozen=True)
class ShownStep:
    """Steps that were made, or another amount, how far the number moved, and how unsure that is."""

    steps: float
    moved: float
    sigma: float


@dataclass(frozen=True)
class Rate:
    """Movement for one step, its standard deviation, and how many trials it rests on."""

    mean: float
    sigma: float
    trials: int = 0


def learned_rate(prior: Rate, trials: Iterable[ShownStep]) -> Rate:
    """The posterior of a normal prior with normal trials."""
    weight, total, count = 1 / prior.sigma**2, prior.mean / prior.sigma**2, 0
    for one in trials:
        weight += (one.steps / one.sigma) ** 2
        total += one.steps * one.moved / one.sigma**2
        count += 1
    return Rate(total / weight, sqrt(1 / weight), count)
