"""A virtual bow: hidden insides, part-length errors and tools with faults. Seeded.

It answers exactly what a tool would read. Its physics are the twin's own equilibrium, solved anew
for every change; it knows nothing of the planner's response.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from bowcore.errors import BadInput
from bowcore.mechanics.adjusters import LEG, lean_of
from bowcore.mechanics.kits import SHIM_STEP_IN, SPACER_STEP_IN
from bowcore.mechanics.lean import Lean, degrees_per_leg_step, degrees_per_shim
from bowcore.mechanics.sensitivity import plausible
from bowcore.mechanics.specification import BowSpec
from bowcore.mechanics.twin import Changes, Twin, twins_of
from bowcore.quantities.catalogue import LEANS, QUANTITIES

HYSTERESIS_SHARE = 0.02  # a scale holds back so much of the force on the way in; estimate
HIDDEN_TENSION_LBF = 260.0  # decides how a leg or a shim tilts this bow; not what is assumed
TEAR_PER_GAP = 6.0  # a late top cam throws the nock high; most shops' experience, size invented
TEAR_PER_LEAN = 0.8  # a shaft off to the right tears to the right; size invented
SETTLING_SHOTS = 40  # new threads have done most of their settling by then; common practice


@dataclass(frozen=True)
class Faults:
    """What is wrong with a virtual bow, and how the bench measures.

    `shorter` is how much too short each part is [in]; `limb_uneven` the share by which the top limb
    is stiffer; `noise` scales every tool's scatter; `settles_in` is how much longer each new part
    becomes once it is shot in [in]. `leans_in` and `leans_bottom_in` are how far a shaft laid on the
    top or the bottom cam runs off to the right [in]; `grip` the scatter of tears from shot to shot by
    the archer's hand [in].
    """

    shorter: Mapping[str, float] = field(default_factory=dict)
    limb_uneven: float = 0.0
    noise: float = 1.0
    settles_in: Mapping[str, float] = field(default_factory=dict)
    leans_in: float = 0.0
    leans_bottom_in: float = 0.0
    grip: float = 0.1


class Settings:
    """What was turned on a bow, and what that made of it: the physics of the bench, not the plan's."""

    def __init__(self, spec: BowSpec, tilts: float = 1.0):
        """Nothing turned yet.

        Parameters
        ----------
        spec : BowSpec
            The bow's parts.
        tilts : float
            How much more easily than usual its cams tilt.
        """
        self._spec = spec
        self._leg_in = tilts * Lean(degrees_per_leg_step(HIDDEN_TENSION_LBF, LEG)).off_in()
        shim = degrees_per_shim(2 * HIDDEN_TENSION_LBF, SHIM_STEP_IN / 2)
        self._shim_in = tilts * Lean(shim).off_in()
        self._half_twists: dict[str, int] = {}
        self._pulled_in: dict[str, float] = {}
        self._half_turns = [0, 0]
        self.leaned = dict.fromkeys(LEANS, 0.0)
        """How far each cam was tilted: a shaft's end to the right. [in]"""

    @property
    def bolts_out(self) -> tuple[float, float]:
        """Turns out of the top and the bottom limb bolt."""
        return self._half_turns[0] / 2, self._half_turns[1] / 2

    def turn(self, key: str, count: int) -> None:
        """Turn any adjuster by so many steps, as `adjusters.handles` names them."""
        role, _, what = key.partition(".")
        if key in ("limb_bolts", "bolt_top", "bolt_bottom"):
            self._half_turns[0] += count if key != "bolt_bottom" else 0
            self._half_turns[1] += count if key != "bolt_top" else 0
        elif key.startswith("shim_"):
            self.leaned[lean_of(key)] += count * self._shim_in
        elif what in ("left", "right"):
            self._pull(role, LEG.shortening_in(count) / 2)
            self.leaned[lean_of(key)] += count * self._leg_in * (1 if what == "left" else -1)
        elif what == "spacer":
            self._pull(role, count * SPACER_STEP_IN)
        else:
            self._spec.part(key)
            self._half_twists[key] = self._half_twists.get(key, 0) + count

    def renew(self, role: str) -> None:
        """A new part: nothing has been turned in it yet."""
        self._half_twists.pop(role, None)
        self._pulled_in.pop(role, None)

    def shorter(self) -> dict[str, float]:
        """How much shorter every part has been made, by its role. [in]"""
        found = dict(self._pulled_in)
        for role, count in self._half_twists.items():
            inches = self._spec.part(role).bundle().shortening_in(count)
            found[role] = found.get(role, 0.0) + inches
        return found

    def _pull(self, role: str, inches: float) -> None:
        self._spec.part(role)
        self._pulled_in[role] = self._pulled_in.get(role, 0.0) + inches


class VirtualBow:
    """One hidden bow on the bench. Turn it, shoot it, read it."""

    def __init__(self, twin: Twin, faults: Faults, dice: np.random.Generator):
        """Put a bow on the bench.

        Parameters
        ----------
        twin : Twin
            The bow as it should be.
        faults : Faults
            What is wrong with it.
        dice : numpy Generator
            Source of the tools' scatter.
        """
        self._sound = _uneven(twin, faults.limb_uneven)
        self._faults, self._dice = faults, dice
        stiff = float(np.exp(0.4 * dice.standard_normal()))
        self._set = Settings(twin.spec, stiff)
        self._shots = 0
        self._now: Twin | None = None
        self._measured: dict[str, float] | None = None

    @property
    def stands(self) -> bool:
        """Whether its cams hold each other along the draw; a bow that does not was never sold."""
        return self._sound.softest_share() > 0

    def turn(self, steps: Mapping[str, int]) -> None:
        """Turn any adjuster by so many steps."""
        for key, count in steps.items():
            self._set.turn(key, count)
        self._now = self._measured = None

    def shoot(self, shots: int) -> None:
        """Shoot it in: new threads settle longer."""
        if shots < 0:
            raise BadInput("Shots are counted from nought.", "shots", "0 or more")
        self._shots += shots
        self._now = self._measured = None

    def true(self) -> dict[str, float]:
        """Every quantity as it is, without any tool's error."""
        if self._measured is None:
            self._measured = self._bow.measures()
        measures = dict(self._measured)
        measures["lean"] = self._faults.leans_in + self._set.leaned["lean"]
        measures["lean_bottom"] = self._faults.leans_bottom_in + self._set.leaned["lean_bottom"]
        measures["tear_vertical"] = TEAR_PER_GAP * measures["stop_gap"]
        measures["tear_lateral"] = TEAR_PER_LEAN * measures["lean"]
        return measures

    def read(self, quantity: str) -> float:
        """One take of a quantity, as the usual tool shows it.

        Raises
        ------
        BadInput
            The twin does not know this quantity.
        """
        true = self.true()
        if quantity not in true:
            raise BadInput(
                f"The simulated bench cannot read {quantity}.", "quantity", ", ".join(true)
            )
        tool, value = QUANTITIES[quantity].tool, true[quantity]
        if quantity == "holding_weight":
            value *= 1 - HYSTERESIS_SHARE
        scatter = self._faults.grip if quantity.startswith("tear") else tool.scatter
        value += scatter * self._faults.noise * self._dice.standard_normal()
        division = float(tool.division)
        return float(np.round(value / division) * division)

    @property
    def _bow(self) -> Twin:
        if self._now is None:
            settled = 1 - np.exp(-3 * self._shots / SETTLING_SHOTS)
            shorter = dict(self._faults.shorter)
            for role, longer in self._faults.settles_in.items():
                shorter[role] = shorter.get(role, 0.0) - longer * settled
            for role, inches in self._set.shorter().items():
                shorter[role] = shorter.get(role, 0.0) + inches
            self._now = self._sound.changed(Changes(shorter, self._set.bolts_out))
        return self._now


def hidden_bow(spec: BowSpec, seed: int, faults: Faults, wide: float = 1.0) -> VirtualBow:
    """A bow whose insides are drawn at random round the priors; the same seed, the same bow.

    Parameters
    ----------
    spec : BowSpec
        Its book.
    seed : int
        Decides its insides and the tools' scatter.
    faults : Faults
        What is wrong with it.
    wide : float
        1 draws insides as the planner's own ensemble does; more, from a wider spread.

    Returns
    -------
    VirtualBow
        Meets its book when its faults are nought.
    """
    dice = np.random.default_rng(seed)
    book, inside = plausible(spec, dice, wide)
    twin = twins_of(spec.family, [book], [inside])[0]
    return VirtualBow(twin, faults, dice)


def _uneven(twin: Twin, share: float) -> Twin:
    """The top limb a little stiffer, the bottom one a little softer."""
    if not share:
        return twin
    machine = twin.machine
    uneven = machine.stiffness * np.array([[1 + share / 2, 1 - share / 2]])
    return replace(twin, machine=replace(machine, stiffness=uneven))
