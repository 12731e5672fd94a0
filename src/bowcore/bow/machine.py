"""The equations of a bow: limbs, cams and ropes in equilibrium, for many states at once.

Unknowns of one state: q = [limb angles top, bottom; cam rotations top, bottom; nock x, y], one
tension per rope, the draw force. Frame: origin at the grip, x toward the archer, y up; inch, lbf,
radian. The top cam lives in a frame mirrored in y. Every array carries a leading batch of states.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bowcore.bow.layout import NOCK, ROPES, Cross, Tangent
from bowcore.bow.specification import Family
from bowcore.bow.tracks import Floats as Floats
from bowcore.bow.tracks import evaluate

THETA_T, THETA_B, ALPHA_T, ALPHA_B, XN, YN = range(6)
"""Places of the unknowns in q: limb angles, cam rotations, nock."""
THETA, ALPHA = (THETA_T, THETA_B), (ALPHA_T, ALPHA_B)
"""By side, top and bottom."""
UNKNOWNS = 6
MIRROR = (-1.0, 1.0)
IDLER_SPRING = 1e-3  # lbf in/rad: parks the idler, whose angle nothing else decides
_UP = (1.0, -1.0)


@dataclass(frozen=True)
class Machine:
    """Parameters of a batch of bows. Arrays: pivots, rest_angle, stiffness (n, 2); the rest as said.

    `tracks` maps a track's name to coefficients (n, 5); `length` and `compliance` are (n, ropes):
    unloaded length [in] and stretch per pound [in/lbf].
    """

    family: Family
    limb_radius: Floats
    pivot_x: Floats
    pivot_y: Floats
    rest_angle: Floats
    stiffness: Floats
    tracks: dict[str, Floats]
    length: Floats
    compliance: Floats

    @property
    def size(self) -> int:
        return len(self.pivot_x)

    @property
    def arrays(self) -> dict[str, Floats]:
        """Every array but the tracks, by name."""
        return {name: getattr(self, name) for name in MACHINE_ARRAYS}

    def pick(self, rows: NDArray[np.int64]) -> "Machine":
        """The bows of these rows, repeated as often as they are named."""
        arrays: dict[str, Any] = {name: values[rows] for name, values in self.arrays.items()}
        return replace(self, tracks={k: v[rows] for k, v in self.tracks.items()}, **arrays)

    @classmethod
    def concat(cls, machines: "Sequence[Machine]") -> "Machine":
        """Several batches of one family as one."""
        first = machines[0]
        arrays: dict[str, Any] = {
            name: np.concatenate([getattr(one, name) for one in machines])
            for name in MACHINE_ARRAYS
        }
        tracks = {k: np.concatenate([one.tracks[k] for one in machines]) for k in first.tracks}
        return replace(first, tracks=tracks, **arrays)

    def repeat(self, count: int) -> "Machine":
        """Each bow `count` times in a row."""
        return self.pick(np.repeat(np.arange(self.size), count))


MACHINE_ARRAYS = (
    "limb_radius", "pivot_x", "pivot_y", "rest_angle", "stiffness", "length", "compliance",
)  # fmt: skip
STATE_ARRAYS = ("q", "tension", "force", "psi")


@dataclass(frozen=True)
class State:
    """A batch of n states. Nothing changes one in place; every step makes a new one.

    Attributes
    ----------
    q : array, shape (n, 6)
        Limb angles, cam rotations, nock; see THETA_T to YN.
    tension : array, shape (n, ropes)
        [lbf]
    force : array, shape (n,)
        Draw force. [lbf]
    psi : array, shape (n, pieces)
        Contact angle of each straight piece. [rad]
    """

    q: Floats
    tension: Floats
    force: Floats
    psi: Floats

    @property
    def size(self) -> int:
        return len(self.q)

    @property
    def theta(self) -> Floats:
        """Limb angles, (n, 2). [rad]"""
        return self.q[:, THETA_T : THETA_B + 1]

    @property
    def alpha(self) -> Floats:
        """Cam rotations, (n, 2). [rad]"""
        return self.q[:, ALPHA_T : ALPHA_B + 1]

    @property
    def nock(self) -> Floats:
        """Place of the nock, (n, 2). [in]"""
        return self.q[:, XN:]

    @property
    def nock_x(self) -> Floats:
        """Draw of each state: the nock's distance from the throat, (n,). [in]"""
        return self.q[:, XN]

    def pick(self, rows: NDArray[np.int64] | slice) -> "State":
        """States of these rows."""
        return State(*(getattr(self, name)[rows] for name in STATE_ARRAYS))

    def put(self, row: int, other: "State") -> "State":
        """The same batch with one row taken from another state's first."""
        arrays = {name: getattr(self, name).copy() for name in STATE_ARRAYS}
        for name, values in arrays.items():
            values[row] = getattr(other, name)[0]
        return State(**arrays)

    def plus(self, change: "State", share: Floats | float = 1.0) -> "State":
        """This state moved by so much of a change, row by row."""
        rows = np.broadcast_to(np.asarray(share, dtype=float), (self.size,))
        return State(
            self.q + rows[:, None] * change.q,
            self.tension + rows[:, None] * change.tension,
            self.force + rows * change.force,
            self.psi + rows[:, None] * change.psi,
        )

    def minus(self, other: "State") -> "State":
        """The change that leads from another state to this one."""
        return State(*(getattr(self, n) - getattr(other, n) for n in STATE_ARRAYS))

    @classmethod
    def concat(cls, states: "Sequence[State]") -> "State":
        """Several batches as one."""
        return cls(*(np.concatenate([getattr(one, n) for one in states]) for n in STATE_ARRAYS))


def pieces_of(family: Family) -> list[tuple[int, Tangent | Cross]]:
    """Every straight piece with the rope it belongs to, in the order of the contact angles."""
    return [(r, piece) for r, rope in enumerate(ROPES[family]) for piece in rope.pieces]


@dataclass
class Geometry:
    """Rope lengths (n, ropes), gradients (n, ropes, 6), weighted Hessian (n, 6, 6).

    `psi` is the contact angle of each piece, brought up to date; `phi` and `phi_slope` give it in
    the frame of the piece's first track, with its derivative in q; they drive the draw stops.
    """

    length: Floats
    gradient: Floats
    hessian: Floats
    psi: Floats
    phi: Floats
    phi_slope: Floats


def axles(machine: Machine, q: Floats) -> tuple[Floats, Floats, Floats]:
    """Axle positions (n, 2 sides, 2), their first and second derivatives in the limb angle."""
    theta = q[:, THETA_T : THETA_B + 1]
    sin, cos = np.sin(theta), np.cos(theta)
    radius = machine.limb_radius[:, None]
    up = np.array(_UP)
    place = np.stack(
        [machine.pivot_x + radius * sin, up * (machine.pivot_y + radius * cos)], axis=-1
    )
    first = np.stack([radius * cos, -up * radius * sin], axis=-1)
    second = np.stack([-radius * sin, -up * radius * cos], axis=-1)
    return place, first, second


def geometry(machine: Machine, state: State) -> Geometry:
    """Lengths of all ropes with first and second derivatives, and contact angles brought up to date.

    The second derivatives are summed with the state's tensions as weights, as the equilibrium
    needs them. The contact angles returned are one Newton step on the tangency condition further
    than the state's; as lengths are stationary in them, a few calls at the same q make them exact.
    """
    n, ropes = machine.size, ROPES[machine.family]
    pieces = pieces_of(machine.family)
    place, first, second = axles(machine, state.q)
    found = Geometry(
        np.zeros((n, len(ropes))),
        np.zeros((n, len(ropes), 6)),
        np.zeros((n, 6, 6)),
        np.zeros((n, len(pieces))),
        np.zeros((n, len(pieces))),
        np.zeros((n, len(pieces), 6)),
    )
    for p, (r, piece) in enumerate(pieces):
        axle = (place, first, second)
        if isinstance(piece, Tangent):
            _tangent(machine, state, piece, p, r, axle, found)
        else:
            _cross(machine, state, piece, p, r, axle, found)
    return found


def _frame(psi: Floats, mirror: float) -> tuple[Floats, Floats]:
    """Normal and tangent at a contact angle, (n, 2) each."""
    c, s = np.cos(psi), np.sin(psi)
    return np.stack([c, mirror * s], -1), np.stack([-s, mirror * c], -1)


def _dot(a: Floats, b: Floats) -> Floats:
    return np.asarray(a[:, 0] * b[:, 0] + a[:, 1] * b[:, 1])


Axles = tuple[Floats, Floats, Floats]


def _tangent(
    machine: Machine, state: State, piece: Tangent, p: int, r: int, axle: Axles, out: Geometry
) -> None:
    """A piece from a track to the nock or an axle."""
    place, first, second = axle
    side, s, alpha = piece.side, piece.sign, state.q[:, ALPHA[piece.side]]
    target = state.q[:, XN:] if piece.target == NOCK else place[:, piece.target]
    span = target - place[:, side]
    psi, track = state.psi[:, p], machine.tracks[piece.track]
    normal, along = _frame(psi, MIRROR[side])
    h, slope, _ = evaluate(track, psi - alpha)
    psi = psi - (h - _dot(span, normal)) / (slope - _dot(span, along))
    normal, along = _frame(psi, MIRROR[side])
    h, slope, integral = evaluate(track, psi - alpha)
    free = slope - _dot(span, along)
    out.psi[:, p] = psi

    gradient, turn = np.zeros((machine.size, UNKNOWNS)), np.zeros((machine.size, UNKNOWNS))
    gradient[:, ALPHA[side]] = -s * h
    turn[:, ALPHA[side]] = -s * slope
    gradient[:, THETA[side]] = -s * _dot(along, first[:, side])
    turn[:, THETA[side]] = s * _dot(normal, first[:, side])
    weight = state.tension[:, r]
    if piece.target == NOCK:
        gradient[:, XN:] = s * along
        turn[:, XN:] = -s * normal
    else:
        o = piece.target
        gradient[:, THETA[o]] += s * _dot(along, first[:, o])
        turn[:, THETA[o]] += -s * _dot(normal, first[:, o])
        out.hessian[:, THETA[o], THETA[o]] += weight * s * _dot(along, second[:, o])
    out.hessian[:, ALPHA[side], ALPHA[side]] += weight * s * slope
    out.hessian[:, THETA[side], THETA[side]] += -weight * s * _dot(along, second[:, side])
    out.length[:, r] += s * (integral + _dot(span, along))
    _finish(out, p, r, gradient, turn, s * free, weight)
    out.phi[:, p] = psi - alpha
    out.phi_slope[:, p, ALPHA[side]] -= 1


def _cross(
    machine: Machine, state: State, piece: Cross, p: int, r: int, axle: Axles, out: Geometry
) -> None:
    """A piece from one cam's take-up track to the other cam's let-out track."""
    place, first, second = axle
    side, o, s = piece.side, 1 - piece.side, -1.0
    alpha, beta = state.q[:, ALPHA[side]], state.q[:, ALPHA[o]]
    span = place[:, o] - place[:, side]
    track, other = machine.tracks[piece.track], machine.tracks[piece.other_track]
    psi = state.psi[:, p]
    normal, along = _frame(psi, MIRROR[side])
    h1, d1, _ = evaluate(track, psi - alpha)
    h2, d2, _ = evaluate(other, np.pi - psi - beta)
    psi = psi - (h1 + h2 - _dot(span, normal)) / (d1 - d2 - _dot(span, along))
    normal, along = _frame(psi, MIRROR[side])
    h1, d1, i1 = evaluate(track, psi - alpha)
    h2, d2, i2 = evaluate(other, np.pi - psi - beta)
    free = d1 - d2 - _dot(span, along)
    out.psi[:, p] = psi

    gradient, turn = np.zeros((machine.size, UNKNOWNS)), np.zeros((machine.size, UNKNOWNS))
    gradient[:, ALPHA[side]], gradient[:, ALPHA[o]] = -s * h1, s * h2
    turn[:, ALPHA[side]], turn[:, ALPHA[o]] = -s * d1, -s * d2
    gradient[:, THETA[side]] = -s * _dot(along, first[:, side])
    gradient[:, THETA[o]] = s * _dot(along, first[:, o])
    turn[:, THETA[side]] = s * _dot(normal, first[:, side])
    turn[:, THETA[o]] = -s * _dot(normal, first[:, o])
    weight = state.tension[:, r]
    out.hessian[:, ALPHA[side], ALPHA[side]] += weight * s * d1
    out.hessian[:, ALPHA[o], ALPHA[o]] += -weight * s * d2
    out.hessian[:, THETA[side], THETA[side]] += -weight * s * _dot(along, second[:, side])
    out.hessian[:, THETA[o], THETA[o]] += weight * s * _dot(along, second[:, o])
    out.length[:, r] += s * (i1 - i2 + _dot(span, along))
    _finish(out, p, r, gradient, turn, s * free, weight)
    out.phi[:, p] = psi - alpha
    out.phi_slope[:, p, ALPHA[side]] -= 1


def _finish(
    out: Geometry, p: int, r: int, gradient: Floats, turn: Floats, bend: Floats, weight: Floats
) -> None:
    """Add a piece; the contact angle follows q, so its curvature is eliminated.

    `turn` is the mixed derivative in contact angle and q, `bend` the second in the contact angle.
    """
    out.gradient[:, r] += gradient
    scaled = turn / bend[:, None]
    out.hessian -= weight[:, None, None] * turn[:, :, None] * scaled[:, None, :]
    out.phi_slope[:, p] -= scaled


def limb_moment(machine: Machine, q: Floats) -> Floats:
    """Elastic moment of each limb, (n, 2). [lbf in]"""
    return machine.stiffness * (q[:, THETA_T : THETA_B + 1] - machine.rest_angle)


def limb_energy(machine: Machine, q: Floats) -> Floats:
    """Energy stored in both limbs, (n,). [lbf in]"""
    bent = q[:, THETA_T : THETA_B + 1] - machine.rest_angle
    return np.asarray((0.5 * machine.stiffness * bent**2).sum(axis=1))


def rope_energy(machine: Machine, tension: Floats) -> Floats:
    """Energy stored in the stretch of the ropes, (n,). [lbf in]"""
    return np.asarray((0.5 * machine.compliance * tension**2).sum(axis=1))
