"""From the book's numbers to a machine: the construction, before anything is fitted.

Axles at half the axle-to-axle distance, the string straight at brace height, cams unrotated; then
the rope lengths follow from geometry and the tensions from the one-dimensional null space of the
cam and nock balances, scaled by the limbs' preload. Axle to axle and brace height are exact.
"""

from dataclasses import dataclass, replace

import numpy as np

from bowcore.bow.layout import BOTTOM, NOCK, ROPES, TOP, Tangent
from bowcore.bow.machine import (
    ALPHA_T,
    MIRROR,
    THETA,
    UNKNOWNS,
    XN,
    Floats,
    Machine,
    State,
    axles,
    geometry,
    pieces_of,
)
from bowcore.bow.priors import Prior
from bowcore.bow.specification import Family
from bowcore.bow.tracks import circle, harmonic
from bowcore.errors import NoModel

_HALF_TURN = np.array([1.0, -1.0, -1.0, 1.0, 1.0])  # coefficients seen from phi + pi
NOMINAL_WRAP = np.pi  # the take-up cable leaves its track near psi = pi at brace


@dataclass(frozen=True)
class Unknowns:
    """What the fit turns, per bow (n,): string track r0 [in], net arm at full draw [in], limb k."""

    string_r0: Floats
    arm_full: Floats
    stiffness: Floats


@dataclass(frozen=True)
class Frame:
    """What the book gives, per bow (n,). [in]"""

    axle_to_axle: Floats
    brace_height: Floats


def assemble(
    family: Family, frame: Frame, priors: list[Prior], unknowns: Unknowns, levelling: Floats | None
) -> tuple[Machine, State]:
    """Machines and their rest states for a batch of bows.

    Parameters
    ----------
    family : Family
        Cam family of all of them.
    frame : Frame
        Book numbers.
    priors : list of Prior
        Assumed parameters, one a bow.
    unknowns : Unknowns
        What is being fitted.
    levelling : array, shape (n, 5), or None
        What is added to the bottom let-out track so that the nock path is level. [in]

    Returns
    -------
    tuple of Machine and State
        Rope lengths such that the given rest state is in equilibrium.

    Raises
    ------
    NoModel
        A rope would be slack at rest.
    """
    tracks = _tracks(family, priors, unknowns)
    if levelling is not None:
        tracks["let_b"] = tracks["let_b"] + levelling
    n = len(priors)
    radius = np.array([p.limb_radius for p in priors])
    angle = np.array([p.limb_angle for p in priors])
    front = frame.brace_height[:, None] - _string_offset(family, tracks)
    stiffness = np.repeat(unknowns.stiffness[:, None], 2, axis=1)
    ropes = ROPES[family]
    machine = Machine(
        family,
        radius,
        front - (radius * np.sin(angle))[:, None],
        np.repeat((frame.axle_to_axle / 2 - radius * np.cos(angle))[:, None], 2, axis=1),
        np.zeros((n, 2)),
        stiffness,
        tracks,
        np.zeros((n, len(ropes))),
        np.zeros((n, len(ropes))),
    )
    q = np.zeros((n, UNKNOWNS))
    q[:, THETA] = angle[:, None]
    q[:, XN] = frame.brace_height
    state = State(q, np.ones((n, len(ropes))), np.zeros(n), _contact_guess(family, n))
    return _settle(machine, state, priors)


def _settle(machine: Machine, state: State, priors: list[Prior]) -> tuple[Machine, State]:
    """Tensions, limb rest angles and unloaded rope lengths that make the state an equilibrium."""
    for _ in range(4):
        geo = geometry(machine, state)
        state = replace(state, psi=geo.psi)
    preload = np.array([p.preload for p in priors]) * machine.stiffness[:, 0]
    tension = _balanced_tensions(machine.family, geo.gradient)
    moment = -np.einsum("nr,nrs->ns", tension, geo.gradient[:, :, THETA])
    tension = tension * (preload / moment.mean(axis=1))[:, None]
    if (tension <= 0).any():
        raise NoModel("A cable would hang slack at rest: brace height and cams do not fit.")
    moment = -np.einsum("nr,nrs->ns", tension, geo.gradient[:, :, THETA])
    compliance = geo.length / _axial_stiffness(machine.family, priors)
    settled = replace(
        machine,
        rest_angle=state.theta - moment / machine.stiffness,
        compliance=compliance,
        length=geo.length - compliance * tension,
    )
    return settled, replace(state, tension=tension)


def _axial_stiffness(family: Family, priors: list[Prior]) -> Floats:
    """EA of each rope, (n, ropes). [lbf]"""
    rows = [
        [
            p.string_stiffness_lbf if rope.is_string else p.cable_stiffness_lbf
            for rope in ROPES[family]
        ]
        for p in priors
    ]
    return np.array(rows)


def _balanced_tensions(family: Family, gradient: Floats) -> Floats:
    """Null space of the balances of cams and nock: tensions up to a common factor, (n, ropes)."""
    rows = gradient[:, :, ALPHA_T:].transpose(0, 2, 1)
    if family is Family.SINGLE:
        rows = rows[:, 1:]  # the idler turns freely
    _, _, right = np.linalg.svd(rows)
    null = right[:, -1]
    return np.asarray(null * np.sign(null.sum(axis=1, keepdims=True)))


def _string_offset(family: Family, tracks: dict[str, Floats]) -> Floats:
    """How far the string is behind each axle when it hangs straight, (n, 2). [in]"""
    names = ("idler" if family is Family.SINGLE else "string_t", "string_b")
    at_zero = np.array([1.0, 1.0, 0.0, 1.0, 0.0])
    return np.stack([tracks[name] @ at_zero for name in names], axis=1)


def _contact_guess(family: Family, n: int) -> Floats:
    return np.tile([piece.psi for _, piece in pieces_of(family)], (n, 1)).astype(float)


def _tracks(family: Family, priors: list[Prior], unknowns: Unknowns) -> dict[str, Floats]:
    """Every track of the family, (n, 5)."""
    string = np.stack(
        [
            harmonic(r, p.string.a1 * r, p.string.p1, p.string.a2 * r, p.string.p2)
            for p, r in zip(priors, unknowns.string_r0, strict=True)
        ]
    )
    net = np.stack([_net(p, a) for p, a in zip(priors, unknowns.arm_full, strict=True)])
    let = np.stack([circle(p.let_out) for p in priors])
    if family is Family.SINGLE:
        idler = np.stack([circle(p.idler_radius) for p in priors])
        level = string - net * _HALF_TURN  # what keeps the nock level for cams turning alike
        return {"string_b": string, "take_b": net, "idler": idler, "let_b": level}
    both = {"string_t": string, "string_b": string}
    if family is Family.TWIN:
        return both | {"take_t": net, "take_b": net}
    if family is Family.HYBRID:
        return both | {"take_t": net + let, "let_b": let, "take_b": net}
    return both | {"take_t": net + let, "take_b": net + let, "let_t": let, "let_b": let}


def _net(prior: Prior, arm_full: float) -> Floats:
    """Net take-up track with its given arms at brace and at full draw."""
    shape, wrap = prior.net, NOMINAL_WRAP
    ends = np.array([wrap, wrap - prior.rotation])
    left = np.stack([np.ones(2), np.cos(ends - shape.p1)], axis=1)
    right = np.array([prior.net_at_brace, arm_full]) - shape.a2 * np.cos(2 * ends - shape.p2)
    r0, a1 = np.linalg.solve(left, right)
    return harmonic(r0, a1, shape.p1, shape.a2, shape.p2)


def axle_distance(machine: Machine, q: Floats) -> Floats:
    """Axle to axle of each state, (n,). [in]"""
    place, _, _ = axles(machine, q)
    return np.asarray(np.hypot(*(place[:, TOP] - place[:, BOTTOM]).T))


def tiller(machine: Machine, rest: State) -> Floats:
    """Top limb pocket to the string less bottom limb pocket to the string, at rest, (n,). [in]

    Pockets are taken to lie where the limbs' roots are, both as far from the grip.
    """
    pocket = machine.pivot_y.mean(axis=1)
    nock_x, nock_y = rest.nock.T
    away = np.zeros((rest.size, 2))
    for index, (_, piece) in enumerate(pieces_of(machine.family)):
        if isinstance(piece, Tangent) and piece.target == NOCK:
            height = -MIRROR[piece.side] * pocket - nock_y
            away[:, piece.side] = nock_x - height * np.tan(rest.psi[:, index]) * MIRROR[piece.side]
    return np.asarray(away[:, TOP] - away[:, BOTTOM])
