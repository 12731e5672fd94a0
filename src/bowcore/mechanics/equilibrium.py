"""Where a bow comes to rest: at brace, at any draw, at the draw stop. Newton on the KKT system.

Unknowns per state: z = [q (6), tensions, draw force]. Rows: balance of forces along each q, each
rope's length (with its stretch), and one closing condition: no force (at rest), the nock at a given
x, or a draw stop just touching. All states of a batch are solved together.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import NoModel
from bowcore.mechanics.layout import stop_piece
from bowcore.mechanics.machine import (
    IDLER_SPRING,
    XN,
    YN,
    Floats,
    Geometry,
    Machine,
    State,
    geometry,
    limb_moment,
    pieces_of,
)  # fmt: skip
from bowcore.mechanics.specification import Family

TOLERANCE = 1e-9
MOST_STEPS = 40
LONGEST_STEP = np.array([0.35, 0.35, 0.5, 0.5, 1.5, 1.5])  # rad, rad, rad, rad, in, in


@dataclass(frozen=True)
class Closing:
    """The last condition of a state.

    kind "rest": draw force is nought. "draw": nock at `x` (n,). "stop": the stop of side `side`
    (n,) touches, where `angle` (n, 2) is the stop angle at which it does, of a cable stop or, with
    `on_limb`, of a limb stop. `free_rope` gives up one rope's length for a level nock path.
    """

    kind: str
    x: Floats | None = None
    side: NDArray[np.int64] | None = None
    angle: Floats | None = None
    on_limb: bool = False
    free_rope: int | None = None


DRAWN = Closing("draw")


def solve(machine: Machine, start: State, closing: Closing) -> tuple[State, Geometry]:
    """Bring a batch of states to equilibrium.

    Parameters
    ----------
    machine : Machine
        Parameters, one row per state.
    start : State
        Where to begin; near enough that Newton's method finds the same branch.
    closing : Closing
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
    state = start.copy()
    for _ in range(MOST_STEPS):
        geo = geometry(machine, state)
        wrong = residual(machine, state, geo, closing)
        size = _scaled(machine, wrong)
        if not np.isfinite(size).all():
            break
        if size.max() < TOLERANCE:
            return state, geo
        _step(machine, state, geo, closing, wrong)
    raise NoModel("This bow's equilibrium could not be found: its numbers do not fit together.")


def residual(machine: Machine, state: State, geo: Geometry, closing: Closing) -> Floats:
    """What is not in balance, (n, 6 + ropes + 1), in lbf in, lbf and in."""
    ropes = state.tension.shape[1]
    wrong = np.empty((machine.size, 7 + ropes))
    wrong[:, :6] = np.einsum("nr,nrq->nq", state.tension, geo.gradient)
    wrong[:, :2] += limb_moment(machine, state.q)
    if machine.family is Family.SINGLE:
        wrong[:, 2] += IDLER_SPRING * state.q[:, 2]
    wrong[:, XN] -= state.force
    wrong[:, 6:-1] = geo.length - machine.length - machine.compliance * state.tension
    if closing.free_rope is not None:
        wrong[:, 6 + closing.free_rope] = state.q[:, YN]
    wrong[:, -1] = _closing_value(machine, state, geo, closing)
    return wrong


def matrix(machine: Machine, state: State, geo: Geometry, closing: Closing) -> Floats:
    """Derivative of the residual in z, (n, m, m)."""
    ropes = state.tension.shape[1]
    full = np.zeros((machine.size, 7 + ropes, 7 + ropes))
    full[:, :6, :6] = geo.hessian
    full[:, [0, 1], [0, 1]] += machine.stiffness
    if machine.family is Family.SINGLE:
        full[:, 2, 2] += IDLER_SPRING
    full[:, :6, 6:-1] = geo.gradient.transpose(0, 2, 1)
    full[:, 6:-1, :6] = geo.gradient
    full[:, range(6, 6 + ropes), range(6, 6 + ropes)] = -machine.compliance
    full[:, XN, -1] = -1
    if closing.free_rope is not None:
        full[:, 6 + closing.free_rope] = 0
        full[:, 6 + closing.free_rope, YN] = 1
    _closing_row(machine, geo, closing, full)
    return full


def _closing_value(machine: Machine, state: State, geo: Geometry, closing: Closing) -> Floats:
    if closing.kind == "rest":
        return state.force
    if closing.kind == "draw":
        assert closing.x is not None
        return np.asarray(state.q[:, XN] - closing.x)
    angle, _ = stop_angles(machine, state.q, geo, closing.on_limb)
    angle = angle[np.arange(machine.size), closing.side]
    assert closing.angle is not None and closing.side is not None
    return np.asarray(angle - closing.angle[np.arange(machine.size), closing.side])


def _closing_row(machine: Machine, geo: Geometry, closing: Closing, full: Floats) -> None:
    if closing.kind == "rest":
        full[:, -1, -1] = 1
    elif closing.kind == "draw":
        full[:, -1, XN] = 1
    else:
        _, slope = stop_angles(machine, None, geo, closing.on_limb)
        full[:, -1, :6] = slope[np.arange(machine.size), closing.side]


def stop_angles(
    machine: Machine, q: Floats | None, geo: Geometry, on_limb: bool
) -> tuple[Floats, Floats]:
    """Angle that runs down to each side's draw stop, (n, 2), and its slope in q, (n, 2, 6).

    A cable stop meets the cable that its cam takes up: the contact angle in the cam's frame. A limb
    stop meets the limb: limb angle less cam rotation.
    """
    if on_limb:
        slope = np.zeros((machine.size, 2, 6))
        for side in (0, 1):
            slope[:, side, side], slope[:, side, 2 + side] = 1, -1
        angle = np.zeros((machine.size, 2)) if q is None else q[:, :2] - q[:, 2:4]
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
    moments = np.abs(wrong[:, :6]).max(axis=1) / machine.stiffness.max(axis=1)
    return np.asarray(np.maximum(moments, np.abs(wrong[:, 6:]).max(axis=1)))


def _step(machine: Machine, state: State, geo: Geometry, closing: Closing, wrong: Floats) -> None:
    change = -np.linalg.solve(matrix(machine, state, geo, closing), wrong[..., None])[..., 0]
    over = (np.abs(change[:, :6]) / LONGEST_STEP).max(axis=1)
    change /= np.maximum(over, 1.0)[:, None]
    ropes = state.tension.shape[1]
    rolled = geo.phi_slope.copy()
    for p, (_, piece) in enumerate(pieces_of(machine.family)):
        rolled[:, p, 2 + piece.side] += 1
    state.psi += np.einsum("npq,nq->np", rolled, change[:, :6])
    state.q += change[:, :6]
    state.tension += change[:, 6 : 6 + ropes]
    state.force += change[:, -1]


def march(machine: Machine, rest: State, xs: Floats, closing: Closing = DRAWN) -> list[State]:
    """States of every bow at each nock position, from rest outward.

    Parameters
    ----------
    machine : Machine
        n bows.
    rest : State
        Their rest states.
    xs : array, shape (steps, n)
        Nock positions, increasing along the first axis. [in]
    closing : Closing
        A "draw" closing; its `x` is filled in.

    Returns
    -------
    list of State
        One batch of n states per step.
    """
    states: list[State] = []
    before, now = rest, rest
    x_before, x_now = rest.q[:, XN], rest.q[:, XN]
    for x in xs:
        guess = _extrapolate(before, now, x_before, x_now, x)
        found, _ = solve(machine, guess, replace(closing, x=x))
        states.append(found)
        before, now, x_before, x_now = now, found, x_now, x
    return states


def _extrapolate(before: State, now: State, x0: Floats, x1: Floats, x: Floats) -> State:
    """Secant guess: as far again as from the last state but one to the last."""
    span = x1 - x0
    share = np.where(np.abs(span) > 1e-9, (x - x1) / np.where(span == 0, 1, span), 0.0)
    share = np.clip(share, 0, 1.5)
    guess = now.copy()
    guess.q += share[:, None] * (now.q - before.q)
    guess.tension += share[:, None] * (now.tension - before.tension)
    guess.force += share * (now.force - before.force)
    guess.psi += share[:, None] * (now.psi - before.psi)
    return guess


def stack(states: list[State]) -> State:
    """States of a march as one batch: all steps of the first bow, then of the next."""
    parts = [np.stack([getattr(s, n) for s in states], 1) for n in ("q", "tension", "force", "psi")]
    flat = [part.reshape(-1, *part.shape[2:]) for part in parts]
    return State(*flat)
