"""How much each number moves for one step of each adjuster: the shape every model answers in."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import BadInput


@dataclass(frozen=True)
class Position:
    """One way in which a kit can be put in: its total in the adjuster's steps, and it in words.

    `effort` counts what is handled for it, to be compared with half twists.
    """

    total: int
    words: str
    effort: int = 1


@dataclass(frozen=True)
class Adjuster:
    """Something that can be turned, in whole steps. `step_word` is one step as it is said.

    What comes out of a kit has `positions` instead of any number of steps. `doubt` is how far one
    step may be off beyond what the bow itself leaves open, as a share.
    """

    key: str
    label: str
    change: str
    step_word: str
    length_step_in: float
    """How much shorter one step makes the part; 0 where length is not what it changes. [in]"""
    positions: tuple[Position, ...] = ()
    doubt: float = 0.0

    def position(self, total: int) -> Position | None:
        """The way in which the kit stands at a total; None where no kit has it."""
        return next((one for one in self.positions if one.total == total), None)


def adjuster_of(row: Mapping[str, Any]) -> Adjuster:
    """The adjuster that `dataclasses.asdict` wrote.

    Raises
    ------
    TypeError
        Other fields than an adjuster's.
    """
    positions = tuple(Position(**one) for one in row.get("positions", ()))
    return Adjuster(**{**row, "positions": positions})


@dataclass(frozen=True)
class Response:
    """Change of each quantity per step of each adjuster.

    `mean` and `sigma` have shape (len(quantities), len(adjusters)), each in its quantity's unit
    per step. `rests_on` says where the numbers come from.
    """

    quantities: tuple[str, ...]
    adjusters: tuple[Adjuster, ...]
    mean: NDArray[np.float64]
    sigma: NDArray[np.float64]
    rests_on: str

    def __post_init__(self) -> None:
        shape = (len(self.quantities), len(self.adjusters))
        if self.mean.shape != shape or self.sigma.shape != shape:
            raise BadInput(f"The response must have shape {shape}.", "response")

    def column(self, key: str) -> int:
        """Position of an adjuster; BadInput if it is not here."""
        for position, adjuster in enumerate(self.adjusters):
            if adjuster.key == key:
                return position
        known = ", ".join(adjuster.key for adjuster in self.adjusters)
        raise BadInput(f"There is no adjuster '{key}'.", "adjuster", known)

    def per_step(self, quantity: str, adjuster: str) -> float:
        """Expected change of one quantity for one step of one adjuster."""
        return float(self.mean[self.quantities.index(quantity), self.column(adjuster)])

    def predict(
        self, readings: Mapping[str, tuple[float, float]], steps: Mapping[str, int]
    ) -> dict[str, tuple[float, float]]:
        """Readings after some steps.

        Parameters
        ----------
        readings : mapping of str to (float, float)
            Value and standard uncertainty of each quantity now.
        steps : mapping of str to int
            Steps per adjuster, signed.

        Returns
        -------
        dict
            Value and standard uncertainty of each quantity afterwards.
        """
        turned = np.zeros(len(self.adjusters))
        for key, count in steps.items():
            turned[self.column(key)] = count
        moved = self.mean @ turned
        doubt = (self.sigma**2) @ turned**2
        after = {}
        for row, name in enumerate(self.quantities):
            if name in readings:
                value, sigma = readings[name]
                after[name] = (value + float(moved[row]), float(np.sqrt(sigma**2 + doubt[row])))
        return after
