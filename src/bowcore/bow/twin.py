"""The mechanical twin of one bow: what it is at rest, at any draw, at its stops.

A twin is the fitted machine with its draw stops, and the changes made to it since: part lengths,
limb bolts, draw stop. Everything else is solved from those when it is asked for.
"""

from dataclasses import dataclass, field, replace
from functools import cached_property
from math import cos, radians, sin
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.bow.build import axle_distance, tiller
from bowcore.bow.cam_radii import CamRadii
from bowcore.bow.equilibrium import AT_REST, AtDraw, AtStop, march, matrix, solve, stop_angles
from bowcore.bow.fit import DRAW_LENGTH_OFFSET_IN, SAMPLES, fit, peak_of
from bowcore.bow.layout import BOTTOM, LOWER, ROPES, TAKE_UP, UPPER, Cross, track_names
from bowcore.bow.machine import (
    ALPHA_T,
    MACHINE_ARRAYS,
    STATE_ARRAYS,
    UNKNOWNS,
    XN,
    YN,
    Floats,
    Geometry,
    Machine,
    State,
    geometry,
    limb_energy,
    pieces_of,
    rope_energy,
)
from bowcore.bow.priors import Prior
from bowcore.bow.specification import CABLES, STRING, BowSpec, Family
from bowcore.bow.tracks import circle, evaluate
from bowcore.errors import BadInput, NoModel

BOLT_PITCH_IN = 1 / 24
BOLT_LEVER_IN = 2.75
BOLT_GIVE_IN = 3.0
BOLT_RAD_PER_TURN = BOLT_PITCH_IN / BOLT_LEVER_IN
EARLY, LATE = 0.35, 0.6
"""Draw marks, as shares of the stroke: on the plateau, before and behind its middle."""
THIN = 2  # of the fit's samples along the draw, every second is kept with the twin
STABLE_ENOUGH = 0.005
"""Least stiffness of any free motion at full draw, as a share of the limb's; below it, beware."""


@dataclass(frozen=True)
class Changes:
    """What was done to a bow since it met its book. Inches shorter per part; bolt turns out.

    `shorter` is keyed by role: cable_a, cable_b, string. `bolts_out` is (top, bottom). A draw module
    is a changed stop and a changed take-up: `stop_later_rad` lets both cams turn further before
    their stops touch, `take_up_wider_in` adds to the take-up arms all round. `nock_up_in` moves the
    nock on the string.
    """

    shorter: dict[str, float] = field(default_factory=dict)
    bolts_out: tuple[float, float] = (0.0, 0.0)
    stop_later_rad: float = 0.0
    take_up_wider_in: float = 0.0
    nock_up_in: float = 0.0


@dataclass(frozen=True)
class Twin:
    """One bow. `machine` holds one row; `stop_angle` is (1, 2).

    `known` are states along the draw at nock positions `at_x`, near enough to start from: the
    twin's own, or those of the twin it was changed from.
    """

    spec: BowSpec
    machine: Machine
    known: State
    at_x: Floats
    stop_angle: Floats
    x_full: float

    @property
    def family(self) -> Family:
        return self.spec.family

    @cached_property
    def rest(self) -> State:
        """At brace."""
        return solve(self.machine, self.known.pick(slice(0, 1)), AT_REST)[0]

    @cached_property
    def full_draw(self) -> State:
        """Where the first stop touches."""
        near = self.at(np.array([self.x_full])).pick(slice(0, 1))
        geo = geometry(self.machine, near)
        first = np.array([self._first_stop(near, geo)])
        found, geo = solve(self.machine, near, self._stop_closing(first))
        other = np.array([self._first_stop(found, geo)])
        if other[0] != first[0]:
            found, _ = solve(self.machine, found, self._stop_closing(other))
        return found

    def at(self, xs: Floats) -> State:
        """States with the nock at each x, in one batch. [in]

        Parameters
        ----------
        xs : array, shape (n,)
            Nock positions from the throat of the grip; brace height to a little past full draw.

        Returns
        -------
        State
            n states.
        """
        many, closing = self.machine.repeat(len(xs)), AtDraw(np.asarray(xs, dtype=float))
        try:
            return solve(many, _interpolated(self.known, self.at_x, xs), closing)[0]
        except NoModel:  # far from the twin it was changed from: walk there from brace instead
            return solve(many, _interpolated(*self._walked, xs), closing)[0]

    @cached_property
    def _walked(self) -> tuple[State, Floats]:
        """States along the draw, marched out from rest in small steps, and their positions."""
        positions = np.linspace(self.brace_height_in, self.x_full + 0.5, 60)
        states = [self.rest, *march(self.machine, self.rest, positions[1:, None])]
        return State.concat(states), positions

    def curve(self, count: int = 60) -> tuple[Floats, Floats]:
        """Force-draw curve from rest to the first stop: positions [in] and forces [lbf]."""
        xs = np.linspace(self.brace_height_in, float(self.full_draw.nock_x[0]), count)
        return xs, self.at(xs).force

    @property
    def axle_to_axle_in(self) -> float:
        return float(axle_distance(self.machine, self.rest.q)[0])

    @property
    def brace_height_in(self) -> float:
        return float(self.rest.nock_x[0])

    @property
    def draw_length_in(self) -> float:
        return float(self.full_draw.nock_x[0]) + DRAW_LENGTH_OFFSET_IN

    @property
    def peak_weight_lbf(self) -> float:
        return float(peak_of(self.curve()[1][None])[0])

    @property
    def holding_weight_lbf(self) -> float:
        return float(self.full_draw.force[0])

    @property
    def stop_gap_in(self) -> float:
        """Signed gap at full draw: positive leaves the top stop open. A single cam has its mark's
        offset at rest instead, at the peg's radius. [in]"""
        if self.family is Family.SINGLE:
            return self.spec.peg_radius_in * float(self.rest.alpha[0, BOTTOM])
        gaps = self.gaps(self.full_draw)
        return float(gaps[0, 0] - gaps[0, 1])

    def gaps(self, state: State) -> Floats:
        """What is left open at each side's stop, (n, 2). [in]"""
        machine = self.machine.repeat(len(state.q)) if len(state.q) > 1 else self.machine
        geo = geometry(machine, state)
        angle, _ = stop_angles(machine, state.q, geo, self.spec.limb_stop)
        return np.asarray((angle - self.stop_angle) * self.spec.peg_radius_in)

    def cam_radii(self) -> CamRadii | None:
        """What a caliper would read on its cams at full draw; None where no cable runs from cam to cam."""
        crossing = (
            at for at, (_, one) in enumerate(pieces_of(self.family)) if isinstance(one, Cross)
        )
        at = next(crossing, None) if self.spec.timed_by_tracks else None
        if at is None:
            return None
        _, piece = pieces_of(self.family)[at]
        assert isinstance(piece, Cross)
        state, tracks = self.full_draw, self.machine.tracks
        psi, turned = state.psi[:, at], state.alpha
        take_up = evaluate(tracks[piece.track], psi - turned[:, piece.side])[0]
        let_out = evaluate(tracks[piece.other_track], np.pi - psi - turned[:, 1 - piece.side])[0]
        return CamRadii(self.spec.peg_radius_in, float(take_up[0]), float(let_out[0]))

    def measures(self) -> dict[str, float]:
        """Every quantity of the bench that the twin knows, by its key."""
        return {
            "axle_to_axle": self.axle_to_axle_in,
            "brace_height": self.brace_height_in,
            "draw_length": self.draw_length_in,
            "peak_weight": self.peak_weight_lbf,
            "holding_weight": self.holding_weight_lbf,
            "stop_gap": self.stop_gap_in,
            "force_early": self.force_at_mark_lbf(EARLY),
            "force_late": self.force_at_mark_lbf(LATE),
            "tiller": float(tiller(self.machine, self.rest)[0]),
        }

    def force_at_mark_lbf(self, share: float) -> float:
        """Force at a fixed draw mark: so much of the book's stroke past the book's brace. [lbf]"""
        return float(self.at(np.array([mark_in(self.spec, share)])).force[0])

    @property
    def let_off(self) -> float:
        """Share of the peak that is let off at full draw: 1 - holding / peak."""
        return 1 - self.holding_weight_lbf / self.peak_weight_lbf

    def valley_in(self) -> float:
        """Draw before full draw within a tenth of the holding weight: how forgiving it is. [in]"""
        xs, force = self.curve(200)
        above = np.flatnonzero(force > 1.1 * force[-1])
        return float(xs[-1] - xs[above[-1]])

    def nock_travel_in(self) -> float:
        """How far the nock leaves a level line along the draw: highest less lowest. [in]"""
        height = self.at(self.at_x).q[:, YN]
        return float(height.max() - height.min())

    def stored_energy_inlbf(self) -> float:
        """Energy in limbs and ropes at full draw above that at rest. [in lbf]"""
        full, rest = self.full_draw, self.rest
        limbs = limb_energy(self.machine, full.q) - limb_energy(self.machine, rest.q)
        ropes = rope_energy(self.machine, full.tension) - rope_energy(self.machine, rest.tension)
        return float((limbs + ropes)[0])

    def softest_share(self) -> float:
        """Least stiffness of any motion with the nock held, along the whole draw, as a share of
        the limb's: without dimension. Ropes are taken as elastic. Below 0 the cams would run from
        each other."""
        state = self.at(self.at_x)
        many = self.machine.repeat(len(self.at_x))
        geo = geometry(many, state)
        free = matrix(many, state, geo, AtDraw(state.nock_x))[:, :UNKNOWNS, :UNKNOWNS]
        pull = geo.gradient
        stiff = free + np.einsum("nri,nr,nrj->nij", pull, 1 / many.compliance, pull)
        skip = [ALPHA_T] if self.family is Family.SINGLE else []
        keep = np.array([i for i in range(UNKNOWNS) if i not in (XN, *skip)])
        scale = self._motion_scale[keep]
        even = stiff[:, keep[:, None], keep] / np.outer(scale, scale)
        return float(np.linalg.eigvalsh(even)[:, 0].min())

    @property
    def _motion_scale(self) -> Floats:
        """What makes each motion's stiffness a share of the limb's: angles as they are, the nock's
        in limb radii, (6,). [(lbf in)^0.5 per unit]"""
        stiffness, radius = self.machine.stiffness[0].mean(), self.machine.limb_radius[0]
        scale = np.full(UNKNOWNS, np.sqrt(stiffness))
        scale[[XN, YN]] /= radius
        return scale

    @property
    def stable(self) -> bool:
        return self.softest_share() > STABLE_ENOUGH

    def changed(self, changes: Changes) -> "Twin":
        """The same bow after some changes.

        Parameters
        ----------
        changes : Changes
            Relative to this twin.

        Returns
        -------
        Twin
            With its own rest state, stops and curve.

        Raises
        ------
        BadInput
            A part that this bow does not have.
        """
        machine = apply(self.machine, changes)
        stop = self.stop_angle - changes.stop_later_rad
        return replace(self, machine=machine, stop_angle=stop)

    def _stop_closing(self, side: NDArray[np.int64]) -> AtStop:
        return AtStop(side, self.stop_angle, self.spec.limb_stop)

    def _first_stop(self, state: State, geo: Geometry) -> int:
        if self.family is Family.SINGLE:
            return 1
        angle, _ = stop_angles(self.machine, state.q, geo, self.spec.limb_stop)
        return int((angle - self.stop_angle)[0].argmin())


def mark_in(spec: BowSpec, share: float) -> float:
    """Nock position of a draw mark, from the throat. It does not move with the bow. [in]"""
    full = spec.draw_length_in - DRAW_LENGTH_OFFSET_IN
    return spec.brace_height_in + share * (full - spec.brace_height_in)


def build_twin(spec: BowSpec, prior: Prior | None = None) -> Twin:
    """The twin of a bow that is exactly what the book says.

    Parameters
    ----------
    spec : BowSpec
        Published numbers, and measured parts where there are any.
    prior : Prior, optional
        Assumed parameters; the family's usual ones if absent.

    Returns
    -------
    Twin
        Meets axle to axle, brace height, draw length, peak weight and let-off.

    Raises
    ------
    NoModel
        The numbers do not make a bow that can be drawn.
    """
    return twins_of(spec.family, [spec], None if prior is None else [prior])[0]


def twins_of(family: Family, books: list[BowSpec], priors: list[Prior] | None = None) -> list[Twin]:
    """Twins of several books of one family, fitted in one batch. Raises as build_twin does."""
    fitted = fit(family, books, priors)
    ends = fitted.curve.pick(np.arange(1, len(books) + 1) * SAMPLES - 1)
    limb_stops = [book.limb_stop for book in books]
    twins = []
    for i, book in enumerate(books):
        row = np.array([i])
        machine, end = fitted.machine.pick(row), ends.pick(row)
        geo = geometry(machine, end)
        angle, _ = stop_angles(machine, end.q, geo, limb_stops[i])
        x_full = float(fitted.x_full[i])
        rows = np.arange(0, SAMPLES, THIN) + i * SAMPLES
        known = fitted.curve.pick(rows)
        xs = known.nock_x.copy()
        twins.append(Twin(book, machine, known, xs, angle.copy(), x_full))
    return twins


def apply(machine: Machine, changes: Changes) -> Machine:
    """The machine with part lengths and limb bolts changed; every row alike."""
    length = machine.length.copy()
    for role, inches in changes.shorter.items():
        for rope, share in rope_shares(machine, role).items():
            length[:, rope] -= inches * share
    length[:, UPPER] -= changes.nock_up_in
    length[:, LOWER] += changes.nock_up_in
    moved = replace(machine, length=length)
    if changes.take_up_wider_in:
        moved = _wider_take_up(moved, changes.take_up_wider_in)
    return turn_bolts(moved, changes.bolts_out) if any(changes.bolts_out) else moved


def _wider_take_up(machine: Machine, inches: float) -> Machine:
    """Take-up tracks with more arm; the rope that lies on them at brace is given along."""
    tracks, length = dict(machine.tracks), machine.length.copy()
    for rope, piece in pieces_of(machine.family):
        if piece.track in TAKE_UP:
            tracks[piece.track] = machine.tracks[piece.track] + circle(inches)
            length[:, rope] -= inches * np.pi
    return replace(machine, tracks=tracks, length=length)


def rope_shares(machine: Machine, role: str) -> dict[int, float]:
    """Which ropes a part is, and how much of its change each of them takes.

    The string is two ropes that meet at the nock, which stays at its place on the string.
    """
    ropes = ROPES[machine.family]
    if role == STRING:
        total = machine.length[0, 0] + machine.length[0, 1]
        return {i: float(machine.length[0, i] / total) for i in (0, 1)}
    found = [i for i, rope in enumerate(ropes) if rope.role == role]
    if not found:
        roles = [STRING, *(rope.role for rope in ropes if rope.role in CABLES)]
        raise BadInput(
            f"A {machine.family} bow does not have a '{role}'.", "role", ", ".join(roles)
        )
    return {found[0]: 1.0}


def turn_bolts(machine: Machine, turns_out: tuple[float, float]) -> Machine:
    """Limb bolts let out: the limb's root turns and gives way in the loaded direction."""
    delta = BOLT_RAD_PER_TURN * np.array(turns_out)
    tilt = radians(62)
    return replace(
        machine,
        rest_angle=machine.rest_angle + delta,
        pivot_x=machine.pivot_x + BOLT_GIVE_IN * delta * cos(tilt),
        pivot_y=machine.pivot_y - BOLT_GIVE_IN * delta * sin(tilt),
    )


def _interpolated(known: State, positions: Floats, xs: Floats) -> State:
    """States between known ones, linear in the nock's x; Newton's method does the rest."""

    def between(values: Floats) -> Floats:
        flat = values.reshape(len(positions), -1)
        return np.stack([np.interp(xs, positions, column) for column in flat.T], 1)

    return State(
        between(known.q), between(known.tension), between(known.force)[:, 0], between(known.psi)
    )


def twin_to_json(twin: Twin) -> dict[str, Any]:
    """A twin as plain numbers, to be cached and read back."""
    m, s = twin.machine, twin.known
    return {
        **{name: values.tolist() for name, values in m.arrays.items()},
        "tracks": {name: m.tracks[name].tolist() for name in track_names(m.family)},
        **{name: getattr(s, name).tolist() for name in STATE_ARRAYS},
        "at_x": twin.at_x.tolist(),
        "stop_angle": twin.stop_angle.tolist(),
        "x_full": twin.x_full,
    }


def twin_from_json(spec: BowSpec, data: dict[str, Any]) -> Twin:
    """The twin that `twin_to_json` wrote, of the same book.

    Raises
    ------
    NoModel
        The data are not those of a bow of this family.
    """
    try:
        arrays: dict[str, Any] = {name: np.array(data[name]) for name in MACHINE_ARRAYS}
        tracks = {name: np.array(data["tracks"][name]) for name in track_names(spec.family)}
        state = State(*(np.array(data[name]) for name in STATE_ARRAYS))
        machine = Machine(spec.family, tracks=tracks, **arrays)
        at_x, stop = np.array(data["at_x"]), np.array(data["stop_angle"])
        return Twin(spec, machine, state, at_x, stop, float(data["x_full"]))
    except (KeyError, ValueError, TypeError) as error:
        raise NoModel(f"The stored twin cannot be read: {error}.") from None
