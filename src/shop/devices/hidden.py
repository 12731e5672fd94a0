"""A hidden bow on the bench: insides and part lengths nobody is told, answers what a tool reads.

Its physics are the twin's own equilibrium with insides the planner does not know, solved anew for
every change. What the plane model does not have (peep, rest, lean) stands where the seed puts it.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from random import Random

import numpy as np

from bowcore.mechanics.bundle import spacer_shortening_in
from bowcore.mechanics.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.mechanics.lean import Lean, degrees_per_leg_step
from bowcore.mechanics.sensitivity import LEG, half_split_in, plausible
from bowcore.mechanics.specification import BowSpec, Family
from bowcore.mechanics.twin import Changes, Twin, twins_of
from bowcore.mechanics.virtual import HIDDEN_TENSION_LBF
from bowcore.quantities.catalogue import QUANTITIES, Quantity, shown
from bowcore.quantities.inches import say_inches

_STANDS = {  # quantity: middle, reach of the seed's choice, division; invented
    "nock_to_peep": (5.0, 0.5, 16), "nock_to_kisser": (1.1875, 0.125, 16),
    "loop_length": (0.5625, 0.0625, 16), "tiller": (0.0, 0.03125, 32),
    "nock_height": (0.0625, 0.0625, 16), "centre_shot": (0.8125, 0.0625, 16),
    "lean": (0.0, 0.25, 16), "arrow_speed": (281.0, 12.0, 1),
}  # fmt: skip


@dataclass
class HiddenBow:
    """One bow. `off_in` is how much shorter each part is than it should be [in], `bolts_out` the
    turns of both limb bolts since it came in, `leaned_in` what legs and shims did to its lean [in].
    """

    spec: BowSpec
    seed: int
    off_in: dict[str, float] = field(default_factory=dict)
    bolts_out: float = 0.0
    leaned_in: float = 0.0

    def __post_init__(self) -> None:
        self.dice = Random(self.seed)  # noqa: S311  a stand-in, no secret
        book, inside = plausible(self.spec, np.random.default_rng(self.dice.getrandbits(32)))
        self.sound: Twin = twins_of(self.spec.family, [book], [inside])[0]
        self.stands = {
            name: round((middle + self.dice.uniform(-reach, reach)) * division) / division
            for name, (middle, reach, division) in _STANDS.items()
        }
        tilt = Lean(degrees_per_leg_step(HIDDEN_TENSION_LBF, LEG)).off_in()
        self._leg_in = tilt * self.dice.uniform(0.6, 1.6)
        self._known: dict[tuple[tuple[str, float], ...], dict[str, float]] = {}

    def as_it_came(self, off_in: Mapping[str, float]) -> None:
        """Back to how it came in, with parts that are so much too short."""
        self.off_in, self.bolts_out, self.leaned_in = dict(off_in), 0.0, 0.0

    def twist(self, key: str, steps: int) -> None:
        """Turn any adjuster by so many steps, as the core's `sensitivity.handles` names them."""
        role, _, what = key.partition(".")
        if key == "limb_bolts":
            self.bolts_out += steps / 2
        elif key == "shim":
            self.leaned_in -= steps * self._leg_in
        elif what in ("left", "right"):
            self._shorten(role, LEG.shortening_in(steps) / 2)
            self.leaned_in += steps * self._leg_in * (1 if what == "left" else -1)
        elif what == "spacer":
            split = half_split_in(self.spec.part(role))
            self._shorten(role, steps * spacer_shortening_in(self.spec.spacer_in, split))
        else:
            self._shorten(role, self.spec.part(role).bundle().shortening_in(steps))

    def _shorten(self, role: str, inches: float) -> None:
        self.off_in[role] = self.off_in.get(role, 0) + inches

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error."""
        if quantity == "lean":
            return self.stands["lean"] + self.leaned_in
        if quantity in self.stands:
            return self.stands[quantity]
        now = (*sorted(self.off_in.items()), ("bolts", self.bolts_out))
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

    def pulled(self, dice: Random, count: int) -> list[tuple[float, float]]:
        """Its curve as the board's load cell shows it: draw length [in] and force [lbf]."""
        turns = (self.bolts_out, self.bolts_out)
        xs, force = self.sound.changed(Changes(dict(self.off_in), turns)).curve(count)
        noise = QUANTITIES["peak_weight"].tool.scatter
        return [
            (round(float(x) + DRAW_LENGTH_OFFSET_IN, 3), round(max(float(f) + dice.gauss(0, noise), 0), 2))
            for x, f in zip(xs, force, strict=True)
        ]  # fmt: skip

    def _measures(self) -> dict[str, float]:
        turns = (self.bolts_out, self.bolts_out)
        now = self.sound.changed(Changes(dict(self.off_in), turns))
        turned, sound = now.rest.q[0], self.sound.rest.q[0]
        radius = self.spec.peg_radius_in
        later = radius * float(turned[3] - turned[2] - sound[3] + sound[2])
        at_rest = dict.fromkeys(("timing_marks", "timing_tips", "timing_hole"), later)
        rotation = {"cam_rotation": radius * float(turned[2] - sound[2])}
        return now.measures() | at_rest | rotation
