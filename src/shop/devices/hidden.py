"""A hidden bow on the bench: insides and part lengths nobody is told, answers what a tool reads.

Its physics are the twin's own equilibrium with insides the planner does not know, solved anew for
every change. What the plane model does not have (peep, rest, lean) stands where the seed puts it.
"""

from dataclasses import dataclass, field
from random import Random

import numpy as np

from bowcore.mechanics.sensitivity import plausible
from bowcore.mechanics.specification import BowSpec, Family
from bowcore.mechanics.twin import Changes, Twin, twins_of
from bowcore.quantities.catalogue import Quantity, shown
from bowcore.quantities.inches import say_inches

_STANDS = {  # quantity: middle, reach of the seed's choice, division; invented
    "nock_to_peep": (5.0, 0.5, 16), "nock_to_kisser": (1.1875, 0.125, 16),
    "loop_length": (0.5625, 0.0625, 16), "tiller": (0.0, 0.03125, 32),
    "nock_height": (0.0625, 0.0625, 16), "centre_shot": (0.8125, 0.0625, 16),
    "lean": (0.0, 0.25, 16), "arrow_speed": (281.0, 12.0, 1),
}  # fmt: skip


@dataclass
class HiddenBow:
    """One bow; `off_in` is how much shorter each part is than it should be. [in]"""

    spec: BowSpec
    seed: int
    off_in: dict[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.dice = Random(self.seed)  # noqa: S311  a stand-in, no secret
        book, inside = plausible(self.spec, np.random.default_rng(self.dice.getrandbits(32)))
        self.sound: Twin = twins_of(self.spec.family, [book], [inside])[0]
        self.stands = {
            name: round((middle + self.dice.uniform(-reach, reach)) * division) / division
            for name, (middle, reach, division) in _STANDS.items()
        }
        self._known: dict[tuple[tuple[str, float], ...], dict[str, float]] = {}

    def twist(self, role: str, half_twists: int) -> None:
        """Put half twists into a part."""
        part = self.spec.part(role)
        self.off_in[role] = self.off_in.get(role, 0) + part.bundle().shortening_in(half_twists)

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error."""
        if quantity in self.stands:
            return self.stands[quantity]
        now = tuple(sorted(self.off_in.items()))
        if now not in self._known:
            self._known[now] = self._measures()
        return self._known[now][quantity]

    def named(self, quantity: str) -> Quantity:
        return shown(quantity, self.spec.family is Family.SINGLE)

    def read(self, quantity: str) -> tuple[str, str]:
        """What a technician would type, and the direction he would choose."""
        what = self.named(quantity)
        seen = self.true(quantity) + self.dice.gauss(0, what.tool.scatter)
        if what.ways:
            size = say_inches(abs(seen), max(what.tool.denominator, 16))
            way = what.way(0.0 if size == "0" else seen)
            return (size if way.sign else ""), way.key
        if what.unit == "in":
            return say_inches(seen, what.tool.denominator), ""
        return f"{seen:.1f}" if what.tool.denominator > 1 else f"{seen:.0f}", ""

    def _measures(self) -> dict[str, float]:
        now = self.sound.changed(Changes(dict(self.off_in)))
        turned, sound = now.rest.q[0], self.sound.rest.q[0]
        radius = self.spec.peg_radius_in
        later = radius * float(turned[3] - turned[2] - sound[3] + sound[2])
        at_rest = dict.fromkeys(("timing_marks", "timing_tips", "timing_hole"), later)
        rotation = {"cam_rotation": radius * float(turned[2] - sound[2])}
        return now.measures() | at_rest | rotation
