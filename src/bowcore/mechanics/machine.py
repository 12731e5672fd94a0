"""The equations of a bow: limbs, cams and ropes in equilibrium, for many states at once.

Unknowns of one state: q = [limb angles top, bottom; cam rotations top, bottom; nock x, y], one
tension per rope, the draw force. Frame: origin at the grip, x toward the archer, y up; inch, lbf,
radian. The top cam lives in a frame mirrored in y. Every array carries a leading batch of states.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bowcore.mechanics.layout import NOCK, ROPES, Cross, Tangent
from bowcore.mechanics.specification import Family
from bowcore.mechanics.tracks import evaluate

Floats = NDArray[np.float64]

XN, YN = 4, 5
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

    def pick(self, rows: NDArray[np.int64]) -> "Machine":
        """The bows of these rows, repeated as often as they are named."""
        arrays = {
            name: getattr(self, name)[rows]
            for name in ("limb_radius", "pivot_x", "pivot_y", "rest_angle", "stiffness", "length",
                         "compliance")
        }  # fmt: skip
        return replace(self, tracks={k: v[rows] for k, v in self.tracks.items()}, **arrays)

    def repeat(self, count: int) -> "Machine":
        """Each bow `count` times in a row."""
        return self.pick(np.repeat(np.arange(self.size), count))


@dataclass
class State:
    """A batch of states: q (n, 6), tensions (n, ropes), force (n,), contact angles (n, pieces)."""

    q: Floats
    tension: Floats
    force: Floats
    psi: Floats

    def pick(self, rows: NDArray[np.int64] | slice) -> "State":
        """States of these rows."""
        return State(self.q[rows], self.tension[rows], self.force[rows], self.psi[rows])

    def copy(self) -> "State":
        """A state that can be changed without changing this one."""
        return State(self.q.copy(), self.tension.copy(), self.force.copy(), self.psi.copy())


def pieces_of(family: Family) -> list[tuple[int, Tangent | Cross]]:
    """Every straight piece with the rope it belongs to, in the order of the contact angles."""
    return [(r, piece) for r, rope in enumerate(ROPES[family]) for piece in rope.pieces]


@dataclass
class Geometry:
    """Rope lengths (n, ropes), gradients (n, ropes, 6), weighted Hessian (n, 6, 6).

    `phi` and `phi_slope` give the contact angle in the cam's frame of each piece's first track and
    its derivative in q; they drive the draw stops.
    """

    length: Floats
    gradient: Floats
    hessian: Floats
    phi: Floats
    phi_slope: Floats


def axles(machine: Machine, q: Floats) -> tuple[Floats, Floats, Floats]:
    """Axle positions (n, 2 sides, 2), their first and second derivatives in the limb angle."""
    sin, cos = np.sin(q[:, :2]), np.cos(q[:, :2])
    radius = machine.limb_radius[:, None]
    up = np.array(_UP)
    place = np.stack(
        [machine.pivot_x + radius * sin, up * (machine.pivot_y + radius * cos)], axis=-1
    )
    first = np.stack([radius * cos, -up * radius * sin], axis=-1)
    second = np.stack([-radius * sin, -up * radius * cos], axis=-1)
    return place, first, second


def geometry(machine: Machine, state: State) -> Geometry:
    """Lengths of all ropes with first and second derivatives, contact angles brought up to date.

    The second derivatives are summed with the state's tensions as weights, as the equilibrium
    needs them. `state.psi` is improved in place by one Newton step on the tangency condition; as
    lengths are stationary in it, a few calls at the same q make it exact.
    """
    n, ropes = machine.size, ROPES[machine.family]
    pieces = pieces_of(machine.family)
    place, first, second = axles(machine, state.q)
    found = Geometry(
        np.zeros((n, len(ropes))), np.zeros((n, len(ropes), 6)), np.zeros((n, 6, 6)),
        np.zeros((n, len(pieces))), np.zeros((n, len(pieces), 6)),
    )  # fmt: skip
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
    side, s, alpha = piece.side, piece.sign, state.q[:, 2 + piece.side]
    target = state.q[:, XN:] if piece.target == NOCK else place[:, piece.target]
    span = target - place[:, side]
    psi, track = state.psi[:, p], machine.tracks[piece.track]
    normal, along = _frame(psi, MIRROR[side])
    h, slope, _ = evaluate(track, psi - alpha)
    psi = psi - (h - _dot(span, normal)) / (slope - _dot(span, along))
    normal, along = _frame(psi, MIRROR[side])
    h, slope, integral = evaluate(track, psi - alpha)
    free = slope - _dot(span, along)
    state.psi[:, p] = psi

    gradient, turn = np.zeros((machine.size, 6)), np.zeros((machine.size, 6))
    gradient[:, 2 + side] = -s * h
    turn[:, 2 + side] = -s * slope
    gradient[:, side] = -s * _dot(along, first[:, side])
    turn[:, side] = s * _dot(normal, first[:, side])
    weight = state.tension[:, r]
    if piece.target == NOCK:
        gradient[:, XN:] = s * along
        turn[:, XN:] = -s * normal
    else:
        o = piece.target
        gradient[:, o] += s * _dot(along, first[:, o])
        turn[:, o] += -s * _dot(normal, first[:, o])
        out.hessian[:, o, o] += weight * s * _dot(along, second[:, o])
    out.hessian[:, 2 + side, 2 + side] += weight * s * slope
    out.hessian[:, side, side] += -weight * s * _dot(along, second[:, side])
    out.length[:, r] += s * (integral + _dot(span, along))
    _finish(out, p, r, gradient, turn, s * free, weight)
    out.phi[:, p] = psi - alpha
    out.phi_slope[:, p, 2 + side] -= 1


def _cross(
    machine: Machine, state: State, piece: Cross, p: int, r: int, axle: Axles, out: Geometry
) -> None:
    """A piece from one cam's take-up track to the other cam's let-out track."""
    place, first, second = axle
    side, o, s = piece.side, 1 - piece.side, -1.0
    alpha, beta = state.q[:, 2 + side], state.q[:, 2 + o]
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
    state.psi[:, p] = psi

    gradient, turn = np.zeros((machine.size, 6)), np.zeros((machine.size, 6))
    gradient[:, 2 + side], gradient[:, 2 + o] = -s * h1, s * h2
    turn[:, 2 + side], turn[:, 2 + o] = -s * d1, -s * d2
    gradient[:, side] = -s * _dot(along, first[:, side])
    gradient[:, o] = s * _dot(along, first[:, o])
    turn[:, side] = s * _dot(normal, first[:, side])
    turn[:, o] = -s * _dot(normal, first[:, o])
    weight = state.tension[:, r]
    out.hessian[:, 2 + side, 2 + side] += weight * s * d1
    out.hessian[:, 2 + o, 2 + o] += -weight * s * d2
    out.hessian[:, side, side] += -weight * s * _dot(along, second[:, side])
    out.hessian[:, o, o] += weight * s * _dot(along, second[:, o])
    out.length[:, r] += s * (i1 - i2 + _dot(span, along))
    _finish(out, p, r, gradient, turn, s * free, weight)
    out.phi[:, p] = psi - alpha
    out.phi_slope[:, p, 2 + side] -= 1


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
    return machine.stiffness * (q[:, :2] - machine.rest_angle)


def limb_energy(machine: Machine, q: Floats) -> Floats:
    """Energy stored in both limbs, (n,). [lbf in]"""
    bent = q[:, :2] - machine.rest_angle
    return np.asarray((0.5 * machine.stiffness * bent**2).sum(axis=1))


def rope_energy(machine: Machine, tension: Floats) -> Floats:
    """Energy stored in the stretch of the ropes, (n,). [lbf in]"""
    return np.asarray((0.5 * machine.compliance * tension**2).sum(axis=1))
