"""A bow to scale at any draw: limbs, cams and their tracks, string and cables by their ends.

The drawing is the computation: every point comes from the state that the equations were solved for.
"""

from typing import Any

import numpy as np

from bowcore.bow.equilibrium import contact_index
from bowcore.bow.layout import NOCK, ROPES, Cross, Tangent, side_of_track
from bowcore.bow.machine import MIRROR, Floats, State, axles
from bowcore.bow.tracks import evaluate
from bowcore.bow.twin import Twin

TRACK_POINTS = 49


def outline(twin: Twin, state: State) -> dict[str, Any]:
    """Everything that is drawn of one state.

    Parameters
    ----------
    twin : Twin
        The bow.
    state : State
        One of its states (one row).

    Returns
    -------
    dict
        `limbs`: pivot and axle of each side; `tracks`: closed lines per track; `ropes`: the
        straight pieces of each rope by their two ends; `nock`; `pegs`: the stop peg of each cam that
        stops on a cable, None for one that has none there; `guardless`. Inches; origin at the grip, x toward
        the archer, y up.
    """
    machine = twin.machine
    place, _, _ = axles(machine, state.q)
    up = np.array([1.0, -1.0])
    pivots = np.stack([machine.pivot_x[0], up * machine.pivot_y[0]], axis=1)
    nock = state.nock[0]
    return {
        "limbs": [[pivots[side].tolist(), place[0, side].tolist()] for side in (0, 1)],
        "tracks": {name: _track(twin, state, name, place[0]) for name in machine.tracks},
        "ropes": _ropes(twin, state, place[0], nock),
        "nock": nock.tolist(),
        "pegs": _pegs(twin, state, place[0]),
        "guardless": twin.spec.guardless,
    }


def _track(twin: Twin, state: State, name: str, place: Floats) -> list[list[float]]:
    """The closed line of a track in its present rotation."""
    side = side_of_track(name)
    psi = np.linspace(0, 2 * np.pi, TRACK_POINTS)
    return _on_track(twin, state, name, side, psi, place).tolist()  # type: ignore[no-any-return]


def _on_track(twin: Twin, state: State, name: str, side: int, psi: Floats, place: Floats) -> Floats:
    """Points of a track whose normals point along psi."""
    track = twin.machine.tracks[name][0]
    h, slope, _ = evaluate(track, psi - state.alpha[0, side])
    normal = np.stack([np.cos(psi), MIRROR[side] * np.sin(psi)], -1)
    along = np.stack([-np.sin(psi), MIRROR[side] * np.cos(psi)], -1)
    return np.asarray(place[side] + h[..., None] * normal + slope[..., None] * along)


def _pegs(twin: Twin, state: State, place: Floats) -> list[list[float] | None]:
    """Where each cam's peg is: on its take-up cable when the gap is 0, else behind it."""
    if twin.spec.limb_stop:
        return [None, None]
    found: list[list[float] | None] = []
    gaps = twin.gaps(state)[0]
    for side, name in enumerate(("take_t", "take_b")):
        if name not in twin.machine.tracks:
            found.append(None)
            continue
        radius = twin.spec.peg_radius_in
        psi = state.psi[0, contact_index(twin.family, side)]
        arm = evaluate(twin.machine.tracks[name][0], np.array(psi - state.alpha[0, side]))[0]
        at = psi - np.arccos(min(float(arm) / radius, 1.0)) - gaps[side] / radius
        direction = np.array([np.cos(at), MIRROR[side] * np.sin(at)])
        found.append((place[side] + radius * direction).tolist())
    return found


def _ropes(twin: Twin, state: State, place: Floats, nock: Floats) -> dict[str, list[Any]]:
    """Straight pieces of every rope, each from its contact to its other end."""
    found: dict[str, list[Any]] = {}
    index = 0
    for rope in ROPES[twin.family]:
        for piece in rope.pieces:
            psi = state.psi[0, index]
            index += 1
            start = _on_track(twin, state, piece.track, piece.side, np.array(psi), place)
            end = _end(twin, state, piece, psi, place, nock)
            found.setdefault(rope.role, []).append([start.tolist(), end.tolist()])
    return found


def _end(
    twin: Twin, state: State, piece: Tangent | Cross, psi: float, place: Floats, nock: Floats
) -> Floats:
    if isinstance(piece, Tangent):
        return nock if piece.target == NOCK else np.asarray(place[piece.target])
    other = 1 - piece.side
    return _on_track(twin, state, piece.other_track, other, np.array(np.pi - psi), place)
