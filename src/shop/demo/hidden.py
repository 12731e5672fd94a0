"""A simulated bow on the bench: hidden insides and part lengths, answers what a tool reads.

Its physics are the twin's own equilibrium with insides the planner does not know, solved anew for
every change.
"""

from dataclasses import dataclass, field
from random import Random

import numpy as np

from bowcore.mechanics.sensitivity import plausible
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import Changes, twins_of
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches


@dataclass
class HiddenBow:
    """One bow; `off_in` is how much shorter each part is than it should be. [in]"""

    spec: BowSpec
    dice: Random
    off_in: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        chance = np.random.default_rng(self.dice.getrandbits(32))
        book, inside = plausible(self.spec, chance)
        self.twin = twins_of(self.spec.family, [book], [inside])[0]
        self.peep = 5 + self.dice.randrange(-8, 8) / 16
        self.known: dict[tuple[tuple[str, float], ...], dict[str, float]] = {}

    def twist(self, role: str, half_twists: int) -> None:
        """Put half twists into a part."""
        part = self.spec.part(role)
        self.off_in[role] = self.off_in.get(role, 0) + part.bundle().shortening_in(half_twists)

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error."""
        if quantity == "nock_to_peep":
            return self.peep
        now = tuple(sorted(self.off_in.items()))
        if now not in self.known:
            self.known[now] = self.twin.changed(Changes(dict(self.off_in))).measures()
        return self.known[now][quantity]

    def read(self, quantity: str) -> tuple[str, str]:
        """What a technician would type, and for the gap which stop touches first."""
        tool = QUANTITIES[quantity].tool
        seen = self.true(quantity) + self.dice.gauss(0, tool.scatter)
        if quantity == "stop_gap":
            size = say_inches(abs(seen), 64)
            first = "both" if size == "0" else ("bottom" if seen > 0 else "top")
            return ("" if first == "both" else size), first
        if tool.unit == "in":
            return say_inches(seen, tool.denominator), ""
        return f"{seen:.1f}", ""
