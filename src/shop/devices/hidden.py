"""A hidden bow on the bench: insides and part lengths nobody is told, answers what a tool reads.

Its physics are the twin's own equilibrium with insides the planner does not know, solved anew for
every change. What the plane model does not have (peep, rest, lean) stands where the seed puts it.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random

import numpy as np

from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.sensitivity import plausible
from bowcore.mechanics.specification import BowSpec, Family
from bowcore.mechanics.twin import Changes, Twin, twins_of
from bowcore.mechanics.virtual import Settings
from bowcore.quantities.catalogue import LEANS, QUANTITIES, Quantity, shown
from bowcore.quantities.inches import say_inches

_STANDS = {  # quantity: middle, reach of the seed's choice, division; invented
    "nock_to_peep": (5.0, 0.5, 16), "nock_to_kisser": (1.1875, 0.125, 16),
    "loop_length": (0.5625, 0.0625, 16), "tiller": (0.0, 0.03125, 32),
    "nock_height": (0.0625, 0.0625, 16), "centre_shot": (0.8125, 0.0625, 16),
    "lean": (0.0, 0.25, 16), "arrow_speed": (281.0, 12.0, 1), "lean_bottom": (0.0, 0.125, 16),
}  # fmt: skip


@dataclass
class HiddenBow:
    """One bow. `off_in` is how much shorter each part was than it should be when it came, or when it
    was put on [in]; what was turned since is in its settings.
    """

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
        self._tilts = self.dice.uniform(0.6, 1.6)
        self._set = Settings(self.spec, self._tilts)
        self._known: dict[object, dict[str, float]] = {}

    def as_it_came(self, off_in: Mapping[str, float]) -> None:
        """Back to how it came in, with parts that are so much too short and cams that lean so much
        more to the right."""
        self.off_in = {role: inches for role, inches in off_in.items() if role not in LEANS}
        self._set = Settings(self.spec, self._tilts)
        for name in LEANS:
            self._set.leaned[name] += off_in.get(name, 0.0)

    def renew(self, role: str, off_in: float) -> None:
        """Put a new part on that is so much too short. [in]"""
        self.off_in[role] = off_in
        self._set.renew(role)

    def twist(self, key: str, steps: int) -> None:
        """Turn any adjuster by so many steps, as the core's `adjusters.handles` names them."""
        self._set.turn(key, steps)

    def _changes(self) -> Changes:
        shorter = dict(self.off_in)
        for role, inches in self._set.shorter().items():
            shorter[role] = shorter.get(role, 0.0) + inches
        return Changes(shorter, self._set.bolts_out)

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error."""
        stands = self.stands.get(quantity, 0.0)
        if quantity in LEANS:
            return stands + self._set.leaned[quantity]
        if quantity in self.stands and quantity != "tiller":
            return stands
        now = self._changes()
        key = (tuple(sorted(now.shorter.items())), now.bolts_out)
        if key not in self._known:
            self._known[key] = self._measures(now)
        return stands + self._known[key][quantity]

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

    def pulled(self, dice: Random, count: int) -> list[tuple[float, float]]:
        """Its curve as the board's load cell shows it: draw length [in] and force [lbf]."""
        xs, force = self.sound.changed(self._changes()).curve(count)
        noise = QUANTITIES["peak_weight"].tool.scatter
        return [
            (round(float(x) + DRAW_LENGTH_OFFSET_IN, 3), round(max(float(f) + dice.gauss(0, noise), 0), 2))
            for x, f in zip(xs, force, strict=True)
        ]  # fmt: skip

    def _measures(self, changes: Changes) -> dict[str, float]:
        now = self.sound.changed(changes)
        turned, sound = now.rest.q[0], self.sound.rest.q[0]
        radius = self.spec.peg_radius_in
        later = radius * float(turned[3] - turned[2] - sound[3] + sound[2])
        at_rest = dict.fromkeys(("timing_marks", "timing_tips", "timing_hole"), later)
        rotation = {"cam_rotation": radius * float(turned[2] - sound[2])}
        return now.measures() | at_rest | rotation
