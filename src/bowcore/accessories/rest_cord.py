"""A drop-away rest: when its cord brings the arm up, by the run of the cable or limb that pulls it.

On a cable the clamp sits at a fixed piece of its thread; as the bow is drawn it moves away from the rest, and
the last part of that run lifts the arm. On a limb it holds a sprung arm down at rest; as the bow is drawn it
comes nearer and lets the arm up. Derived in docs/derivations/fit.md. Frame of the twin: x toward the archer,
y up; inch.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from bowcore.accessories.arrow import FLETCHING_FROM_NOCK_IN
from bowcore.bow.layout import BOTTOM, TOP
from bowcore.bow.machine import Floats, State, axles
from bowcore.bow.specification import CABLE_A, CABLE_B
from bowcore.bow.straight_run import straight_run
from bowcore.bow.twin import Twin
from bowcore.errors import BadInput, Refused
from bowcore.quantities.inches import say_length

UP_BEFORE_FULL_DRAW_IN = (1.0, 2.0)
"""The arm is up within the last two inches: earlier, its cord drags on the cable; our figure."""
UP_WANTED_IN = 1.5
ARM_LIFT_IN = 0.75
"""Cord that a usual arm takes from down to up; our figure, to be measured on the rest."""
REST_ABOVE_THROAT_IN = 1.75
"""Height of the rest above the throat of the grip; our figure."""
BESIDE_CABLE_IN = 1.5
"""How far the cable runs beside the rest's cord; our figure."""
NEARLY_AS_QUICK_IN = 0.5
"""Draw over which an arm rises; less of a difference is not worth a longer cord."""
DRAW_SAMPLES = 48
CLAMP_WIDTH_IN = 0.5
"""Of a usual cord's clamp: our figure."""
LONGEST_RUN_IN = 100.0
ANYWHERE = ((-CLAMP_WIDTH_IN, LONGEST_RUN_IN),)
"""Served from end to end, as far as anybody has said."""
GRAVITY_IN_S2 = 386.09
TIMED_SAMPLES, LEAST_SHARE = 200, 1e-3
CLEAR_IN = 0.25
"""How much lower an arm has to be when the fletching comes: our figure."""


class Driver(StrEnum):
    """What pulls the cord."""

    CABLE_A = CABLE_A
    CABLE_B = CABLE_B
    TOP_LIMB = "top_limb"
    BOTTOM_LIMB = "bottom_limb"

    @property
    def is_limb(self) -> bool:
        return self in (Driver.TOP_LIMB, Driver.BOTTOM_LIMB)


DRIVERS = {
    Driver.CABLE_A: "The cable that the top cam takes up",
    Driver.CABLE_B: "The cable that the bottom cam takes up",
    Driver.TOP_LIMB: "The top limb",
    Driver.BOTTOM_LIMB: "The bottom limb",
}


@dataclass(frozen=True)
class Clamp:
    """Where the cord is clamped: on which cable, so far up from where it leaves the lower cam or axle, bow at
    rest; or on which limb, so far from its pocket. [in]"""

    driver: Driver
    place_in: float


@dataclass(frozen=True)
class CordRun:
    """The clamp's distance from the rest at each draw; `to_full_draw_in` is what is left of the draw. [in]

    `lets_up` where the cord holds a sprung arm down at rest and lets it up, as a limb does; else it pulls.
    """

    to_full_draw_in: Floats
    distance_in: Floats
    lets_up: bool = False

    @property
    def pull_in(self) -> Floats:
        """How far the clamp has moved in the sense that brings the arm up, at each draw. [in]"""
        moved = self.distance_in - self.distance_in[0]
        return np.asarray(-moved if self.lets_up else moved)

    def distance_at(self, to_full_draw_in: float) -> float:
        """From rest to clamp, so many inches before full draw. [in]"""
        return float(np.interp(to_full_draw_in, self.to_full_draw_in[::-1], self.distance_in[::-1]))

    def reached_at(self, distance_in: float) -> float | None:
        """Inches before full draw at which the clamp is so far from the rest; None if it never is."""
        sense = -1.0 if self.lets_up else 1.0
        there = sense * self.distance_in >= sense * distance_in
        if not there.any():
            return None
        after = int(np.argmax(there))
        if after == 0:
            return float(self.to_full_draw_in[0])
        span = slice(after - 1, after + 1)
        low, high = self.distance_in[span]
        far, near = self.to_full_draw_in[span]
        return float(far + (distance_in - low) / (high - low) * (near - far))


def cord_run(twin: Twin, clamp: Clamp, measured_on: Twin | None = None) -> CordRun:
    """How the clamp moves along the draw.

    Parameters
    ----------
    twin : Twin
        The bow as it is now: what was twisted is in its lengths.
    clamp : Clamp
        Where the cord is clamped.
    measured_on : Twin, optional
        The bow as it was when the clamp's place was measured; as it is now if absent.

    Returns
    -------
    CordRun
        From rest to the first stop.

    Raises
    ------
    BadInput
        The bow has no such cable, or the clamp runs onto a cam.
    """
    xs = np.linspace(twin.brace_height_in, float(twin.full_draw.nock_x[0]), DRAW_SAMPLES)
    place = clamp_points(twin, twin.at(xs), clamp, measured_on)
    reach = np.hypot(place[:, 0], place[:, 1] - REST_ABOVE_THROAT_IN)
    distance = np.asarray(np.hypot(reach, BESIDE_CABLE_IN))
    return CordRun(xs[-1] - xs, distance, clamp.driver.is_limb)


def clamp_points(twin: Twin, state: State, clamp: Clamp, measured_on: Twin | None = None) -> Floats:
    """Where the clamp is in some states of a bow, (n, 2). [in]

    Raises
    ------
    BadInput
        The bow has no such cable, or the clamp runs onto a cam.
    """
    if clamp.driver.is_limb:
        return _on_limb(twin, state, clamp)
    then = measured_on or twin
    begins = straight_run(then, then.rest, clamp.driver).below[0]
    return straight_run(twin, state, clamp.driver).place_of(float(begins) + clamp.place_in)


@dataclass(frozen=True)
class ArmUp:
    """When the arm is up: inches before full draw, None if it never comes up; and when it begins to rise."""

    before_full_draw_in: float | None
    begins_in: float | None


def arm_up(run: CordRun, cord_in: float, lift_in: float = ARM_LIFT_IN) -> ArmUp:
    """When a cord brings the arm up.

    Parameters
    ----------
    run : CordRun
        Of its clamp.
    cord_in : float
        From rest to clamp with the arm up. [in]
    lift_in : float
        Cord that the arm takes from down to up. [in]
    """
    down = cord_in + lift_in if run.lets_up else cord_in - lift_in
    return ArmUp(run.reached_at(cord_in), run.reached_at(down))


def cord_for(run: CordRun, wanted_in: float = UP_WANTED_IN, lift_in: float = ARM_LIFT_IN) -> float:
    """Length of cord, rest to clamp with the arm up, that has it up so many inches before full draw. [in]

    A cord that lets the arm up is as long as holds it down at rest; when it is up follows from that.

    Raises
    ------
    Refused
        Until then the clamp moves less than what the arm takes: it needs another place.
    """
    moved = float(np.interp(wanted_in, run.to_full_draw_in[::-1], run.pull_in[::-1]))
    if moved < lift_in:
        raise Refused(
            f"Until {say_length(wanted_in)} before full draw this clamp moves "
            f"{say_length(max(moved, 0))}; the arm takes {say_length(lift_in)}. "
            "Clamp it where the cable or limb moves more."
        )
    return float(run.distance_in[0]) - lift_in if run.lets_up else run.distance_at(wanted_in)


def now_up_at(before: CordRun, now: CordRun, was_up_in: float) -> float | None:
    """Where an arm comes up now whose cord nobody has touched, after the bow was changed: inches before full
    draw, None if it no longer does. `was_up_in` is where it came up before."""
    return now.reached_at(before.distance_at(was_up_in))


def best_clamp(
    twin: Twin,
    driver: Driver,
    wanted_in: float = UP_WANTED_IN,
    lift_in: float = ARM_LIFT_IN,
    served: Sequence[tuple[float, float]] = ANYWHERE,
) -> Clamp:
    """The place nearest to the rest of those where the arm rises over the shortest part of the draw.

    Parameters
    ----------
    twin : Twin
        The bow.
    driver : Driver
        What pulls.
    wanted_in : float
        Inches before full draw at which the arm should be up.
    lift_in : float
        Cord that the arm takes. [in]
    served : sequence of pair
        The stretches on which a clamp holds, as `Clamp.place_in`. [in]

    Raises
    ------
    Refused
        No place on it moves far enough.
    """
    found: list[tuple[float, Clamp]] = []
    for place in _places(twin, driver, served):
        clamp = Clamp(driver, place)
        try:
            run = cord_run(twin, clamp)
            up = arm_up(run, cord_for(run, wanted_in, lift_in), lift_in)
        except (Refused, BadInput):
            continue
        assert up.before_full_draw_in is not None and up.begins_in is not None
        found.append((up.begins_in - up.before_full_draw_in, clamp))
    if not found:
        raise Refused(
            f"{DRIVERS[driver]} has no place that moves {say_length(lift_in)} before the arm should be up. "
            "Drive the rest from another cable or limb."
        )
    quickest = min(rises for rises, _ in found)
    return next(clamp for rises, clamp in found if rises <= quickest + NEARLY_AS_QUICK_IN)


def _places(twin: Twin, driver: Driver, served: Sequence[tuple[float, float]]) -> list[float]:
    """Clamp places to be tried, in halves of an inch, the nearest to the rest first. [in]"""
    if driver.is_limb:
        most, rest = float(twin.machine.limb_radius[0]), 0.0
    else:
        run = straight_run(twin, twin.rest, driver)
        most = float(run.length[0])
        rest = REST_ABOVE_THROAT_IN - float(run.lower[0, 1])
    places = (float(one) for one in np.arange(0, np.floor(2 * most) + 1) / 2)
    held = (one for one in places if holds_clamp(one, served))
    return sorted(held, key=lambda one: abs(one - rest))


def holds_clamp(place_in: float, served: Sequence[tuple[float, float]]) -> bool:
    """Whether a clamp sits on serving with its whole width: on bare threads it slips and cuts."""
    half = CLAMP_WIDTH_IN / 2
    return any(low + half <= place_in <= high - half for low, high in served)


def seconds_to_rest(
    twin: Twin, up_in: float, speed_fps: float, fletching_in: float = FLETCHING_FROM_NOCK_IN
) -> float:
    """Time from when the string passes where the arm came up until the fletching is at the rest. [s]

    The arrow's energy grows as the bow gives off what it stored, up to its speed at the bow; the rest is over
    the throat.

    Parameters
    ----------
    twin : Twin
        The bow.
    up_in : float
        Inches before full draw at which the arm came up.
    speed_fps : float
        Of the arrow, measured. [ft/s]
    fletching_in : float
        Where the fletching begins, from the nock's groove. [in]
    """
    xs, force = twin.curve(TIMED_SAMPLES)
    work = (force[:-1] + force[1:]) / 2 * np.diff(xs)
    given = np.concatenate([np.cumsum(work[::-1])[::-1], [0.0]])
    speed = 12 * speed_fps * np.sqrt(np.maximum(given / given[0], LEAST_SHARE))
    begins = float(xs[-1]) - up_in
    inside = xs <= begins
    held = float(np.trapezoid(1 / speed[inside], xs[inside]))
    free = max(float(xs[0]) - fletching_in, 0.0) / (12 * speed_fps)
    return held + free


def spring_needed(seconds: float, lower_in: float) -> float:
    """How many times gravity an arm's spring has to make so that it is so much lower after a time. [1, in]"""
    return 2 * lower_in / (GRAVITY_IN_S2 * seconds**2)


def _on_limb(twin: Twin, state: State, clamp: Clamp) -> Floats:
    """A place of a limb, (n, 2): it turns about its root with the limb."""
    side = TOP if clamp.driver is Driver.TOP_LIMB else BOTTOM
    machine = twin.machine.repeat(state.size)
    tip, _, _ = axles(machine, state.q)
    up = 1.0 if side == TOP else -1.0
    root = np.stack([machine.pivot_x[:, side], up * machine.pivot_y[:, side]], axis=-1)
    share = clamp.place_in / float(twin.machine.limb_radius[0])
    return np.asarray(root + share * (tip[:, side] - root))
