"""A simulated bow: hidden parameters, part-length errors and tools with faults. Seeded.

It answers exactly what a tool would read. Its physics are the twin's own equilibrium, solved anew
for every change; it knows nothing of the planner's response. What the plane model does not have
(peep, rest) is where the seed puts it.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

import numpy as np

from bowcore.accessories.arrow_speed import speed_fps
from bowcore.accessories.peep import DEGREES_A_MINUTE, share_from_top, turned_deg
from bowcore.accessories.rest_cord import UP_WANTED_IN, Clamp, CordRun, Driver, best_clamp, cord_run
from bowcore.accessories.sight import INCHES_A_FOOT
from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.registry import adjuster_in, adjusters_of, fit_adjusters_of
from bowcore.adjusters.rest_move import REST_BACK, REST_OUT, REST_UP
from bowcore.adjusters.shim import SHIM_STEP_IN
from bowcore.adjusters.steps import Steps
from bowcore.bow.cam_radii import CamRadii
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN
from bowcore.bow.lay import Lay
from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.lean import LEG, Lean, degrees_per_leg_step, degrees_per_shim
from bowcore.bow.machine import Floats
from bowcore.bow.mark_lever import sides_judged
from bowcore.bow.plausible import BY_CALIPER, plausible
from bowcore.bow.specification import STRING, BowSpec, length_of
from bowcore.bow.twin import Changes, Twin, twins_of
from bowcore.errors import BadInput
from bowcore.learning.settling import DRAWS_TO_SETTLE
from bowcore.measurement.cam_mark import PAINT_LINE_IN, Tug
from bowcore.quantities.catalogue import LEANS, QUANTITIES, TIMED_AT_REST, shown
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_inches
from bowcore.quantities.quantity import Asked, Fit, Quantity

HYSTERESIS_SHARE = 0.02  # a scale holds back so much of the force on the way in; estimate
SQUEEZED_IN = 0.02  # a cable squeezed by hand is as if it were so much shorter; estimate
WANTED_PLAY_IN = 1 / 32
HALF_CLOCK_MIN = 30.0
_WITH_THE_NOCK = {
    "nock_height": 1.0,
    "arrow_level": 1.0,
    "nock_to_peep": -1.0,
    "nock_to_kisser": -1.0,
}
_WITH_THE_REST: dict[str, dict[str, float]] = {
    REST_OUT: {"centre_shot": 1.0, "front_back": 1.3}, REST_UP: {"arrow_level": -1.0}, REST_BACK: {},
}  # fmt: skip
_LOOP = ("loop_length", "loop_facing")
PUT_RIGHT = {
    Change.LOOP_OR_TIES: ("nock_gap", *_LOOP, "nock_to_kisser"), Change.LOOP: _LOOP,
    Change.PEEP: ("nock_to_peep",), Change.REST: ("cord_up",),
}  # fmt: skip
"""What is as it is wanted once somebody has tied or clamped it anew, by the change."""
GIVES_ITS_ARROW, ARROW_GR = (0.82, 0.04), 412.0
"""Share of its stored energy that a bow gives the arrow, middle and reach (common practice, no published
source), and the arrow that is shot. [gr]"""
HIDDEN_TENSION_LBF = 260.0  # decides how a leg or a shim tilts this bow; not what is assumed


@dataclass(frozen=True)
class Faults:
    """What is wrong with a simulated bow, and how the bench measures.

    `shorter` is how much too short each part is [in]; `limb_uneven` the share by which the top limb
    is stiffer; `noise` scales every tool's scatter; `settles_in` is how much longer each new part
    becomes once it is shot in [in]. `leans_in` and `leans_bottom_in` are how far a shaft laid on the
    top or the bottom cam runs off to the right [in]. `twist_rates` is what half a twist of each part
    does, as a share of what its book says; `stop_scatter_in` how differently its stops are touched
    from draw to draw [in]; `limbs` how stiff its limbs are, as a share of what its book says.
    `misfit` is how far off each number of the fit is from what is usual on this bow, from when its newest
    string went on, in the quantity's unit. `settled_after` is the number of draws after which new threads
    have nearly settled.
    """

    shorter: Mapping[str, float] = field(default_factory=dict)
    limb_uneven: float = 0.0
    noise: float = 1.0
    settles_in: Mapping[str, float] = field(default_factory=dict)
    leans_in: float = 0.0
    leans_bottom_in: float = 0.0
    twist_rates: Mapping[str, float] = field(default_factory=dict)
    stop_scatter_in: float = 0.0
    limbs: float = 1.0
    settled_after: float = DRAWS_TO_SETTLE
    misfit: Mapping[str, float] = field(default_factory=dict)

    @property
    def leans(self) -> dict[str, float]:
        """How far each cam leans, by quantity. [in]"""
        return {"lean": self.leans_in, "lean_bottom": self.leans_bottom_in}


class SimulatedBow:
    """One bow on the bench, made by `simulated_bow`. Turn it, shoot it, read it."""

    def __init__(self, twin: Twin, faults: Faults, rng: np.random.Generator):
        """Put a bow on the bench.

        Parameters
        ----------
        twin : Twin
            The bow as it should be.
        faults : Faults
            What is wrong with it.
        rng : numpy Generator
            Source of its leans and of the tools' scatter.
        """
        self.spec = twin.spec
        self._sound = _with_limbs(twin, faults.limbs, faults.limb_uneven)
        self._rng = rng
        self._tilts = float(np.exp(0.4 * rng.standard_normal()))
        self.lay = Lay.Z  # of its string
        self._usual = _usual_values(rng)
        self._usual["arrow_speed"] = _speed_of(self._sound, self._usual["arrow_speed"])
        self._measured: dict[tuple[object, ...], dict[str, float]] = {}
        self.came_in(faults)

    def came_in(self, faults: Faults) -> None:
        """Put the bow back to how it came in, with these faults; nothing turned, no shots."""
        self._faults = faults
        self.off_in = dict(faults.shorter)
        self._leaned = dict(faults.leans)
        self._half_twists: dict[str, int] = {}
        self._pulled_in: dict[str, float] = {}
        self._half_turns = (0, 0)
        self._shots = 0
        self._moved: dict[str, float] = {}
        self._cord_in: float | None = None

    @property
    def holds_together(self) -> bool:
        """Whether its cams hold each other along the draw; a bow that does not was never sold."""
        return self._sound.softest_share() > 0

    def turn(self, steps: Steps) -> None:
        """Turn adjusters of the bow."""
        for key, count in steps.items():
            adjuster_in(_every_adjuster(self.spec, self.lay), key).turn_on(self, count)

    def fit_part(self, role: str, short_in: float) -> None:
        """Put on a new part that is so much too short; nothing has been turned in it yet. [in]"""
        self.off_in[role] = short_in
        self._half_twists.pop(role, None)
        self._pulled_in.pop(role, None)
        if role == STRING:
            self._moved = dict(self._faults.misfit)

    def raise_nock(self, inches: float) -> None:
        """Tie the nock point higher on the string: peep and kisser are nearer then. [in]"""
        for quantity, sign in _WITH_THE_NOCK.items():
            self._move(quantity, sign * inches)

    def move_rest(self, way: str, inches: float) -> None:
        """Move the rest by one of its knobs. [in]"""
        for quantity, share in _WITH_THE_REST[way].items():
            self._move(quantity, share * inches)

    def turn_peep(self, minutes: float) -> None:
        """Turn the peep, clockwise seen from above, as on a clock's face."""
        self._move("peep_turn", -minutes)

    def put_right(self, change: Change, wanted: Mapping[str, float]) -> None:
        """Tie or clamp something anew, to the figures that are wanted or else as it was; the rest's cord
        takes its own length. [unit of each quantity]"""
        quantities = PUT_RIGHT[change]
        for quantity in quantities:
            self._moved.pop(quantity, None)
            if quantity in wanted and quantity != "cord_up":
                self._moved[quantity] = wanted[quantity] - self._usual[quantity]
        if "nock_gap" in quantities and "nock_gap" not in wanted:
            self._moved["nock_gap"] = WANTED_PLAY_IN - self._usual["nock_gap"]
        if "cord_up" in quantities:
            self._cord_in = self._cord_run().distance_at(UP_WANTED_IN)

    def _move(self, quantity: str, by: float) -> None:
        self._moved[quantity] = self._moved.get(quantity, 0.0) + by

    def _cord_run(self) -> CordRun:
        return cord_run(self._twin_now(), self._clamp, self._sound)

    @cached_property
    def _clamp(self) -> Clamp:
        return best_clamp(self._sound, Driver.CABLE_B)

    def _cord_up(self) -> float:
        """Inches before full draw at which the arm is up; 0 where it does not come up."""
        if self._cord_in is None:
            up = self._usual["cord_up"] + self._faults.misfit.get("cord_up", 0.0)
            self._cord_in = cord_run(self._sound, self._clamp).distance_at(up)
        return self._cord_run().reached_at(self._cord_in) or 0.0

    def shoot(self, shots: int) -> None:
        """Shoot it in: new threads settle longer."""
        if shots < 0:
            raise BadInput("A number of shots cannot be negative.", "shots", "0 or more")
        self._shots += shots

    def twist(self, part: str, half_twists: int) -> None:
        """Twist a string or cable."""
        self._half_twists[part] = self._half_twists.get(part, 0) + half_twists
        if part == STRING:
            peep, loop = (
                share_from_top(self._sound, at) for at in (self._usual["nock_to_peep"], 0.0)
            )
            by = [
                turned_deg(at, half_twists, 0, self.lay) / DEGREES_A_MINUTE for at in (peep, loop)
            ]
            self.turn_peep(by[0])
            self._move("loop_facing", by[0] - by[1])

    def pull(self, part: str, inches: float) -> None:
        """Make a string or cable shorter in another way than by twisting. [in]"""
        self._pulled_in[part] = self._pulled_in.get(part, 0.0) + inches

    def tilt_by_leg(self, quantity: str, half_twists: int) -> None:
        """Tilt a cam by a yoke leg; positive to the right."""
        per_step = Lean(degrees_per_leg_step(HIDDEN_TENSION_LBF, LEG)).off_in()
        self._leaned[quantity] += half_twists * self._tilts * per_step

    def tilt_by_shim(self, quantity: str, steps: int) -> None:
        """Tilt a cam by moving it along its axle; positive to the right."""
        per_step = Lean(degrees_per_shim(2 * HIDDEN_TENSION_LBF, SHIM_STEP_IN / 2)).off_in()
        self._leaned[quantity] += steps * self._tilts * per_step

    def turn_bolts(self, top: int, bottom: int) -> None:
        """Turn limb bolts out, in half turns."""
        self._half_turns = (self._half_turns[0] + top, self._half_turns[1] + bottom)

    def true(self, quantity: str) -> float:
        """What it is, without any tool's error.

        Raises
        ------
        BadInput
            The simulated bow cannot show this quantity.
        """
        if quantity == "cord_up":
            return self._cord_up()
        beside = self._usual.get(quantity, 0.0) + self._moved.get(quantity, 0.0)
        if quantity in ("peep_turn", "loop_facing"):
            return (beside + HALF_CLOCK_MIN) % (2 * HALF_CLOCK_MIN) - HALF_CLOCK_MIN
        if quantity in LEANS:
            return self._leaned[quantity]
        computed = self._computed()
        if quantity in computed:
            return computed[quantity] + beside
        if quantity not in self._usual:
            known = ", ".join([*computed, *self._usual, *LEANS])
            raise BadInput(f"The simulated bench cannot read {quantity}.", "quantity", known)
        return beside

    def mark(self, role: str) -> tuple[float, str]:
        """How far off its place the mark is that a part is judged by, and what it does when the part
        is squeezed sideways: "away", "toward", or "on it" where a painted line shows nothing. [in]"""
        now, changes = self._mark_after(self._changes()), self._changes()
        shorter = changes.shorter | {role: changes.shorter.get(role, 0.0) + SQUEEZED_IN}
        squeezed = self._mark_after(replace(changes, shorter=shorter))
        sides = sides_judged(role, self.spec.family)
        before, after = abs(now[sides].mean()), abs(squeezed[sides].mean())
        if before <= PAINT_LINE_IN:
            return 0.0, Tug.STILL
        return round(float(before) * 64) / 64, Tug.AWAY if after > before else Tug.TOWARD

    def _mark_after(self, changes: Changes) -> Floats:
        """How far each cam's mark is from where it was on the sound bow. [in]"""
        turned = self._sound.changed(changes).rest.alpha[0] - self._sound.rest.alpha[0]
        return np.asarray(self.spec.peg_radius_in * turned)

    def named(self, quantity: str) -> Quantity:
        """A quantity as it is called on this bow."""
        return shown(quantity, self.spec.one_cam)

    def take(self, quantity: str) -> float:
        """One take of a quantity, as the usual tool shows it, in its divisions."""
        division = float(self.named(quantity).tool.division)
        return float(np.round(self._with_scatter(quantity) / division) * division)

    def typed(self, quantity: str) -> tuple[str, str]:
        """One take as a technician would type it, and the direction that would be chosen."""
        what, value = self.named(quantity), self._with_scatter(quantity)
        if what.directions:
            size = f"{abs(value):.0f}"
            if what.unit == "in":
                size = say_inches(abs(value), max(what.tool.denominator, 16))
            direction = what.direction(0.0 if size == "0" else value)
            return (size if direction.sign else ""), direction.key
        if what.unit == "in":
            return say_inches(value, what.tool.denominator), ""
        return f"{value:.1f}" if what.tool.denominator > 1 else f"{value:.0f}", ""

    def cam_radii(self) -> CamRadii | None:
        """What is true of its cams at full draw; None where no cable runs from cam to cam."""
        return self._sound.cam_radii()

    def by_caliper(self, rng: np.random.Generator) -> CamRadii | None:
        """The same as somebody reads it, each radius by itself."""
        true = self.cam_radii()
        if true is None:
            return None
        off = rng.normal(1, BY_CALIPER, 3)
        return CamRadii(true.peg_in * off[0], true.take_up_in * off[1], true.let_out_in * off[2])

    def draw_curve(self, count: int) -> list[tuple[float, float]]:
        """Its curve as the board's load cell shows it: draw length [in] and force [lbf]."""
        xs, force = self._twin_now().curve(count)
        noise = QUANTITIES["peak_weight"].tool.scatter * self._faults.noise
        scattered = np.maximum(force + noise * self._rng.standard_normal(count), 0)
        return [
            (round(float(x) + DRAW_LENGTH_OFFSET_IN, 3), round(float(f), 2))
            for x, f in zip(xs, scattered, strict=True)
        ]

    def _with_scatter(self, quantity: str) -> float:
        value, tool = self.true(quantity), self.named(quantity).tool
        if quantity == "holding_weight":
            value *= 1 - HYSTERESIS_SHARE
        scatter = tool.scatter
        if quantity == "stop_gap" and not self.spec.one_cam:
            scatter = float(np.hypot(scatter, self._faults.stop_scatter_in))
        return float(value + scatter * self._faults.noise * self._rng.standard_normal())

    def _changes(self) -> Changes:
        """Everything that makes it another bow than the book's."""
        settled = 1 - np.exp(-3 * self._shots / self._faults.settled_after)
        shorter: dict[str, float] = {}
        for role, inches in self.off_in.items():
            shorter[length_of(role)] = shorter.get(length_of(role), 0.0) + inches
        for role, longer in self._faults.settles_in.items():
            shorter[role] = shorter.get(role, 0.0) - longer * float(settled)
        for role, inches in self._pulled_in.items():
            shorter[role] = shorter.get(role, 0.0) + inches
        for role, count in self._half_twists.items():
            inches = self.spec.part(role).bundle().shortening_in(count)
            inches *= self._faults.twist_rates.get(role, 1.0)
            shorter[role] = shorter.get(role, 0.0) + inches
        top, bottom = self._half_turns
        return Changes(shorter, (top / 2, bottom / 2))

    def _twin_now(self) -> Twin:
        return self._sound.changed(self._changes())

    def _computed(self) -> dict[str, float]:
        """What the twin computes, and what shows at rest: kept for each state of the bow."""
        changes = self._changes()
        key = (tuple(sorted(changes.shorter.items())), changes.bolts_out)
        if key not in self._measured:
            now = self._sound.changed(changes)
            turned = self.spec.peg_radius_in * (now.rest.alpha[0] - self._sound.rest.alpha[0])
            later = float(turned[BOTTOM] - turned[TOP])
            at_rest = dict.fromkeys(TIMED_AT_REST, later) | {"cam_rotation": float(turned[TOP])}
            self._measured[key] = now.measures() | at_rest
        return self._measured[key]


def simulated_bow(
    spec: BowSpec,
    seed: int,
    faults: Faults = Faults(),
    spread: float = 1.0,
    model: int | None = None,
    every: bool = False,
) -> SimulatedBow:
    """A bow whose hidden parameters are drawn round the priors; the same seed, the same bow.

    Parameters
    ----------
    spec : BowSpec
        Its book.
    seed : int
        Decides its parameters and the tools' scatter.
    faults : Faults
        What is wrong with it.
    spread : float
        1 draws parameters as the planner's own ensemble does; more, from a wider spread.
    model : int, optional
        Decides its parameters instead of `seed`: bows of one model have the same cams and limbs.
    every : bool
        Whether parameters vary that the usual bows of this simulator have alike.

    Returns
    -------
    SimulatedBow
        Meets its book when it has no faults.
    """
    rng = np.random.default_rng(seed)
    chance = rng if model is None else np.random.default_rng(model)
    book, drawn = plausible(spec, chance, spread, every)
    return SimulatedBow(twins_of(spec.family, [book], [drawn])[0], faults, rng)


@lru_cache(maxsize=64)
def _every_adjuster(spec: BowSpec, lay: Lay) -> tuple[Adjuster, ...]:
    planned = adjusters_of(spec)
    known = {one.key for one in planned}
    return (*planned, *(one for one in fit_adjusters_of(spec, lay) if one.key not in known))


def _usual_values(rng: np.random.Generator) -> dict[str, float]:
    """What the twin does not compute, drawn from what is usual on a bow, to a tool's division.

    What only the fit reads is drawn beside the rest.
    """
    found, beside = {}, rng.spawn(1)[0]
    for key, one in QUANTITIES.items():
        if one.usual is not None and key not in LEANS:
            at_the_fit = one.fit is not Fit.NO and one.asked is Asked.NEVER
            value = one.usual.middle + one.usual.reach * (beside if at_the_fit else rng).uniform(
                -1, 1
            )
            found[key] = round(value * one.usual.division) / one.usual.division
    return found


def _speed_of(bow: Twin, drawn: float) -> float:
    """Speed of its arrow, by the share of its stored energy that was drawn for it. [ft/s]"""
    usual = QUANTITIES["arrow_speed"].usual
    assert usual is not None
    middle, reach = GIVES_ITS_ARROW
    share = middle + reach * (drawn - usual.middle) / usual.reach
    return float(round(speed_fps(share * bow.stored_energy_inlbf() / INCHES_A_FOOT, ARROW_GR)))


def _with_limbs(twin: Twin, share: float, uneven: float) -> Twin:
    """Limbs stiffer or softer than the book's, the top one a little stiffer than the bottom one."""
    if share == 1 and not uneven:
        return twin
    machine = twin.machine
    stiffness = machine.stiffness * share * np.array([[1 + uneven / 2, 1 - uneven / 2]])
    return replace(twin, machine=replace(machine, stiffness=stiffness))
