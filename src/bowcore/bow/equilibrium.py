"""Where a bow comes to rest: at brace, at any draw, at the draw stop. Newton on the KKT system.

Unknowns per state: z = [q (6), tensions, draw force]. Rows: balance of forces along each q, each
rope's length (with its stretch), and one closing condition: no force (`AtRest`), the nock at a given
x (`AtDraw`), or a draw stop just touching (`AtStop`). All states of a batch are solved together.
The second derivatives are derived in docs/derivations/ropes.py.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.bow.layout import stop_piece
from bowcore.bow.machine import (
    ALPHA,
    ALPHA_T,
    IDLER_SPRING,
    THETA,
    THETA_B,
    THETA_T,
    UNKNOWNS,
    XN,
    YN,
    Floats,
    Geometry,
    Machine,
    State,
    geometry,
    limb_moment,
    pieces_of,
)
from bowcore.bow.specification import Family
from bowcore.errors import NoModel

TOLERANCE = 1e-9
MOST_NEWTON_STEPS = 40
LONGEST_STEP = np.array([0.35, 0.35, 0.5, 0.5, 1.5, 1.5])  # rad, rad, rad, rad, in, in


@dataclass(frozen=True)
class AtRest:
    """No force on the string."""

    @property
    def free_rope(self) -> int | None:
        """The rope whose length is given up; none at rest."""
        return None

    def value(self, machine: Machine, state: State, geo: Geometry) -> Floats:
        """What is off, (n,). [lbf]"""
        return state.force

    def slope(self, machine: Machine, geo: Geometry, row: Floats) -> None:
        """Fill in the derivative of the value in z, (n, m)."""
        row[:, -1] = 1


@dataclass(frozen=True)
class AtDraw:
    """The nock at `x` (n,) [in]. `free_rope` gives up one rope's length for a level nock path."""

    x: Floats
    free_rope: int | None = None

    def value(self, machine: Machine, state: State, geo: Geometry) -> Floats:
        """What is off, (n,). [in]"""
        return np.asarray(state.nock_x - self.x)

    def slope(self, machine: Machine, geo: Geometry, row: Floats) -> None:
        """Fill in the derivative of the value in z, (n, m)."""
        row[:, XN] = 1


@dataclass(frozen=True)
class AtStop:
    """The stop of side `side` (n,) touches.

    `angle` (n, 2) is the stop angle at which each side's does, of a cable stop or, with `on_limb`,
    of a limb stop. [rad]
    """

    side: NDArray[np.int64]
    angle: Floats
    on_limb: bool = False

    @property
    def free_rope(self) -> int | None:
        """The rope whose length is given up; none at a stop."""
        return None

    def pick(self, rows: NDArray[np.int64]) -> "AtStop":
        """The condition of these rows."""
        return replace(self, side=self.side[rows], angle=self.angle[rows])

    def value(self, machine: Machine, state: State, geo: Geometry) -> Floats:
        """What is off, (n,). [rad]"""
        every = np.arange(machine.size)
        angle, _ = stop_angles(machine, state.q, geo, self.on_limb)
        return np.asarray(angle[every, self.side] - self.angle[every, self.side])

    def slope(self, machine: Machine, geo: Geometry, row: Floats) -> None:
        """Fill in the derivative of the value in z, (n, m)."""
        _, slope = stop_angles(machine, None, geo, self.on_limb)
        row[:, :UNKNOWNS] = slope[np.arange(machine.size), self.side]


Closing = AtRest | AtDraw | AtStop
AT_REST = AtRest()


def solve(machine: Machine, start: State, closing: Closing) -> tuple[State, Geometry]:
    """Bring a batch of states to equilibrium.

    Parameters
    ----------
    machine : Machine
        Parameters, one row per state.
    start : State
        Where to begin; near enough that Newton's method finds the same branch.
    closing : AtRest, AtDraw or AtStop
        What closes the system.

    Returns
    -------
    tuple of State and Geometry
        The equilibrium and its rope geometry.

    Raises
    ------
    NoModel
        Newton's method did not settle for some state.
    """
    state = start
    for _ in range(MOST_NEWTON_STEPS):
        geo = geometry(machine, state)
        state = replace(state, psi=geo.psi)
        wrong = residual(machine, state, geo, closing)
        size = _scaled(machine, wrong)
        if not np.isfinite(size).all():
            break
        if size.max() < TOLERANCE:
            return state, geo
        state = state.plus(_newton_step(machine, state, geo, closing, wrong))
    raise NoModel("This bow's equilibrium could not be found: its numbers do not fit together.")


def residual(machine: Machine, state: State, geo: Geometry, closing: Closing) -> Floats:
    """What is not in balance, (n, 6 + ropes + 1), in lbf in, lbf and in."""
    ropes = state.tension.shape[1]
    wrong = np.empty((machine.size, UNKNOWNS + 1 + ropes))
    wrong[:, :UNKNOWNS] = np.einsum("nr,nrq->nq", state.tension, geo.gradient)
    wrong[:, THETA_T : THETA_B + 1] += limb_moment(machine, state.q)
    if machine.family is Family.SINGLE:
        wrong[:, ALPHA_T] += IDLER_SPRING * state.q[:, ALPHA_T]
    wrong[:, XN] -= state.force
    wrong[:, UNKNOWNS:-1] = geo.length - machine.length - machine.compliance * state.tension
    if closing.free_rope is not None:
        wrong[:, UNKNOWNS + closing.free_rope] = state.q[:, YN]
    wrong[:, -1] = closing.value(machine, state, geo)
    return wrong


def matrix(machine: Machine, state: State, geo: Geometry, closing: Closing) -> Floats:
    """Derivative of the residual in z, (n, m, m)."""
    ropes = state.tension.shape[1]
    full = np.zeros((machine.size, UNKNOWNS + 1 + ropes, UNKNOWNS + 1 + ropes))
    full[:, :UNKNOWNS, :UNKNOWNS] = geo.hessian
    full[:, THETA, THETA] += machine.stiffness
    if machine.family is Family.SINGLE:
        full[:, ALPHA_T, ALPHA_T] += IDLER_SPRING
    full[:, :UNKNOWNS, UNKNOWNS:-1] = geo.gradient.transpose(0, 2, 1)
    full[:, UNKNOWNS:-1, :UNKNOWNS] = geo.gradient
    at = range(UNKNOWNS, UNKNOWNS + ropes)
    full[:, at, at] = -machine.compliance
    full[:, XN, -1] = -1
    if closing.free_rope is not None:
        full[:, UNKNOWNS + closing.free_rope] = 0
        full[:, UNKNOWNS + closing.free_rope, YN] = 1
    closing.slope(machine, geo, full[:, -1])
    return full


def stop_angles(
    machine: Machine, q: Floats | None, geo: Geometry, on_limb: bool
) -> tuple[Floats, Floats]:
    """Angle that runs down to each side's draw stop, (n, 2), and its slope in q, (n, 2, 6).

    A cable stop meets the cable that its cam takes up: the contact angle in the cam's frame. A limb
    stop meets the limb: limb angle less cam rotation.
    """
    if on_limb:
        slope = np.zeros((machine.size, 2, UNKNOWNS))
        for side in (0, 1):
            slope[:, side, THETA[side]], slope[:, side, ALPHA[side]] = 1, -1
        angle = np.zeros((machine.size, 2)) if q is None else q[:, THETA] - q[:, ALPHA]
        return angle, slope
    pieces = [contact_index(machine.family, side) for side in (0, 1)]
    return geo.phi[:, pieces], geo.phi_slope[:, pieces]


def contact_index(family: Family, side: int) -> int:
    """Place, among all pieces, of the one whose contact runs toward a side's draw stop.

    A single cam has only the bottom one, which then stands for both.
    """
    found = stop_piece(family, side) or stop_piece(family, 1)
    assert found is not None
    return [(r, i) for r, i in _numbered(family)].index(found)


def _numbered(family: Family) -> list[tuple[int, int]]:
    seen: dict[int, int] = {}
    rows = []
    for r, _ in pieces_of(family):
        rows.append((r, seen.get(r, 0)))
        seen[r] = seen.get(r, 0) + 1
    return rows


def _scaled(machine: Machine, wrong: Floats) -> Floats:
    """Largest imbalance per state, moments as a share of the limb's stiffness."""
    moments = np.abs(wrong[:, :UNKNOWNS]).max(axis=1) / machine.stiffness.max(axis=1)
    return np.asarray(np.maximum(moments, np.abs(wrong[:, UNKNOWNS:]).max(axis=1)))


def _newton_step(
    machine: Machine, state: State, geo: Geometry, closing: Closing, wrong: Floats
) -> State:
    """The change of every unknown that one Newton step makes, shortened where it is too long."""
    full = matrix(machine, state, geo, closing)
    change: Floats = -np.asarray(np.linalg.solve(full, wrong[..., None])[..., 0], dtype=np.float64)
    over = (np.abs(change[:, :UNKNOWNS]) / LONGEST_STEP).max(axis=1)
    change /= np.maximum(over, 1.0)[:, None]
    rolled = geo.phi_slope.copy()
    for p, (_, piece) in enumerate(pieces_of(machine.family)):
        rolled[:, p, ALPHA[piece.side]] += 1
    psi = np.einsum("npq,nq->np", rolled, change[:, :UNKNOWNS])
    return State(change[:, :UNKNOWNS], change[:, UNKNOWNS:-1], change[:, -1], psi)


def march(machine: Machine, rest: State, xs: Floats, free_rope: int | None = None) -> list[State]:
    """States of every bow at each nock position, from rest outward.

    Parameters
    ----------
    machine : Machine
        n bows.
    rest : State
        Their rest states.
    xs : array, shape (steps, n)
        Nock positions, increasing along the first axis. [in]
    free_rope : int, optional
        As in `AtDraw`.

    Returns
    -------
    list of State
        One batch of n states per step.
    """
    states: list[State] = []
    before, now = rest, rest
    for x in xs:
        found, _ = solve(machine, _extrapolated(before, now, x), AtDraw(x, free_rope))
        states.append(found)
        before, now = now, found
    return states


def _extrapolated(before: State, now: State, x: Floats) -> State:
    """Secant guess: on from the last state in the direction that led to it."""
    span = now.nock_x - before.nock_x
    share = np.where(np.abs(span) > 1e-9, (x - now.nock_x) / np.where(span == 0, 1, span), 0.0)
    return now.plus(now.minus(before), np.clip(share, 0, 1.5))


def stack(states: Sequence[State]) -> State:
    """States of a march as one batch: all steps of the first bow, then of the next."""
    count, bows = len(states), states[0].size
    order: NDArray[np.int64] = np.arange(count * bows).reshape(count, bows).T.reshape(-1)
    return State.concat(states).pick(order)
