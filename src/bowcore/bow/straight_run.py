"""The straight run of a cable along the draw, and where a piece of its thread is.

What is wound on a track is the integral of its support function plus its slope, counted from a direction
that is fixed in the cam (see tracks.py): a piece of thread keeps its place on that count whatever is drawn
or twisted. The stretch of the threads is left out.
"""

from dataclasses import dataclass

import numpy as np

from bowcore.bow.equilibrium import contact_index
from bowcore.bow.layout import BOTTOM, ROPES, Cross, Tangent
from bowcore.bow.machine import ALPHA, MIRROR, Floats, State, axles
from bowcore.bow.tracks import evaluate
from bowcore.bow.twin import Twin
from bowcore.errors import BadInput


@dataclass(frozen=True)
class StraightRun:
    """Of n states: both ends, (n, 2) [in], and how much of the cable lies below the lower end, (n,), from a
    place that is fixed in the lower cam or on its axle. [in]"""

    lower: Floats
    upper: Floats
    below: Floats

    @property
    def length(self) -> Floats:
        """Of the straight part, (n,). [in]"""
        return np.asarray(np.hypot(*(self.upper - self.lower).T))

    def place_of(self, thread_in: float) -> Floats:
        """Where a piece of thread is, (n, 2): so far up the cable from the fixed place. [in]

        Raises
        ------
        BadInput
            It lies on a cam somewhere along the draw.
        """
        along = thread_in - self.below
        if (along < 0).any() or (along > self.length).any():
            least, most = float(self.below.max()), float((self.below + self.length).min())
            start = float(self.below[0])
            raise BadInput(
                f"A clamp {thread_in - start:.1f} in up the cable runs onto a cam as the bow is drawn.",
                "place_in", f"{least - start:.1f} to {most - start:.1f} in",
            )  # fmt: skip
        return self.lower + (along / self.length)[:, None] * (self.upper - self.lower)


def straight_run(twin: Twin, state: State, role: str) -> StraightRun:
    """A cable's straight run in some states.

    Raises
    ------
    BadInput
        The bow has no cable of that role, or it has more than one straight run.
    """
    found = [rope for rope in ROPES[twin.family] if rope.role == role and len(rope.pieces) == 1]
    if not found:
        known = ", ".join(r.role for r in ROPES[twin.family] if not r.is_string)
        raise BadInput(f"A {twin.family} bow has no such cable.", "driver", known)
    piece = found[0].pieces[0]
    psi = state.psi[:, _piece_index(twin, piece)]
    place, _, _ = axles(twin.machine.repeat(state.size), state.q)
    taken = _contact(twin, state, piece.track, piece.side, psi, place)
    first, on_first = taken[0], -taken[1]
    if isinstance(piece, Cross):
        second, on_second = _contact(
            twin, state, piece.other_track, 1 - piece.side, np.pi - psi, place
        )
    else:
        second, on_second = place[:, piece.target], np.zeros(state.size)
    if piece.side == BOTTOM:
        return StraightRun(first, second, on_first)
    return StraightRun(second, first, on_second)


def _piece_index(twin: Twin, piece: Tangent | Cross) -> int:
    """Place of a take-up piece among all contact angles."""
    return contact_index(twin.family, piece.side)


def _contact(
    twin: Twin, state: State, track: str, side: int, psi: Floats, place: Floats
) -> tuple[Floats, Floats]:
    """Where a rope leaves a track, (n, 2), and what of it is wound up to there in the track's sense, (n,)."""
    h, slope, integral = evaluate(twin.machine.tracks[track], psi - state.q[:, ALPHA[side]])
    normal = np.stack([np.cos(psi), MIRROR[side] * np.sin(psi)], -1)
    along = np.stack([-np.sin(psi), MIRROR[side] * np.cos(psi)], -1)
    point = place[:, side] + h[:, None] * normal + slope[:, None] * along
    return point, integral + slope
