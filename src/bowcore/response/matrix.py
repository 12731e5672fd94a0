"""How much each number moves for one step of each adjuster: the shape every model answers in."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import Adjuster
from bowcore.errors import BadInput


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

    def moved(self, quantity: str, steps: Mapping[str, int]) -> float:
        """Expected change of one quantity for steps of several adjusters; 0 for what is not in here."""
        if quantity not in self.quantities:
            return 0.0
        known = {one.key for one in self.adjusters}
        return sum(
            count * self.per_step(quantity, key) for key, count in steps.items() if key in known
        )
