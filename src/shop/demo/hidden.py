"""A simulated bow on the bench: hidden part lengths and responses, answers what a tool reads.

A stand-in until the twin's physics can play this part; its response is the closed form with
hidden factors, so the planner never sees the numbers it works with.
"""

from dataclasses import dataclass, field
from random import Random

from bowcore.mechanics import closed_form
from bowcore.mechanics.specification import BowSpec
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches


@dataclass
class HiddenBow:
    """One bow; `off_in` is how much shorter each part is than it should be. [in]"""

    spec: BowSpec
    dice: Random
    off_in: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        response = closed_form.response(self.spec)
        self.response = response
        self.factor = {
            (q, a.key): self.dice.gauss(1, 0.12)
            for q in response.quantities for a in response.adjusters
        }  # fmt: skip
        holding = self.spec.peak_weight_lbf * (1 - self.spec.let_off)
        self.rest = {
            "axle_to_axle": self.spec.axle_to_axle_in + self.dice.gauss(0, 0.02),
            "brace_height": self.spec.brace_height_in + self.dice.gauss(0, 0.02),
            "peak_weight": self.spec.peak_weight_lbf + self.dice.gauss(0, 0.4),
            "holding_weight": holding + self.dice.gauss(0, 0.3),
            "stop_gap": self.dice.gauss(0, 0.006),
            "nock_to_peep": 5 + self.dice.randrange(-8, 8) / 16,
        }

    def twist(self, role: str, half_twists: int) -> None:
        """Put half twists into a part."""
        part = self.spec.part(role)
        self.off_in[role] = self.off_in.get(role, 0) + part.bundle().shortening_in(half_twists)

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error."""
        value = self.rest[quantity]
        if quantity not in self.response.quantities:
            return value
        for adjuster in self.response.adjusters:
            per_inch = self.response.per_step(quantity, adjuster.key) / adjuster.length_step_in
            shorter = self.off_in.get(adjuster.key, 0)
            value += per_inch * self.factor[quantity, adjuster.key] * shorter
        return value

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
