"""Which rope runs where, by cam family: the topology that the equations are written on.

Sides are 0 (top) and 1 (bottom). A `Tangent` leaves a track toward a point: the nock or the other
axle. A `Cross` runs from one cam's track to the other's. `sign` is +1 where the cam lets the rope
out as it turns in the draw direction (string, let-out), -1 where it takes it up.
"""

from dataclasses import dataclass
from math import pi

from bowcore.bow.specification import Family

TOP, BOTTOM = 0, 1
NOCK = 2


@dataclass(frozen=True)
class Tangent:
    """A straight piece from a track to a point (`target`: NOCK or the side of an axle)."""

    side: int
    track: str
    sign: int
    psi: float
    target: int


@dataclass(frozen=True)
class Cross:
    """A straight piece from `side`'s track (taken up) to the other cam's track (let out)."""

    side: int
    track: str
    other_track: str
    psi: float = pi


@dataclass(frozen=True)
class Rope:
    """One string or cable: its role in the book and the straight pieces that make its length."""

    role: str
    pieces: tuple[Tangent | Cross, ...]
    is_string: bool = False


def _string(side: int) -> Tangent:
    return Tangent(side, ("string_t", "string_b")[side], +1, 0.0, NOCK)


def _to_axle(side: int) -> Tangent:
    return Tangent(side, ("take_t", "take_b")[side], -1, pi, 1 - side)


STRING_ROPES = ("string_u", "string_l")
"""The two halves of the string, above and below the nock."""
_UPPER, _LOWER = Rope("string_u", (_string(TOP),), True), Rope("string_l", (_string(BOTTOM),), True)
_A_CROSS = Rope("cable_a", (Cross(TOP, "take_t", "let_b"),))

UPPER, LOWER = 0, 1
"""Places of the two ropes of the string, above and below the nock, in every family."""

ROPES: dict[Family, tuple[Rope, ...]] = {
    Family.BINARY: (
        _UPPER, _LOWER, _A_CROSS, Rope("cable_b", (Cross(BOTTOM, "take_b", "let_t"),)),
    ),
    Family.TWIN: (
        _UPPER, _LOWER, Rope("cable_a", (_to_axle(TOP),)), Rope("cable_b", (_to_axle(BOTTOM),)),
    ),
    Family.HYBRID: (_UPPER, _LOWER, _A_CROSS, Rope("cable_b", (_to_axle(BOTTOM),))),
    Family.SINGLE: (
        Rope("string_u", (
            Tangent(TOP, "idler", +1, 0.0, NOCK), Cross(TOP, "idler", "let_b"),
        ), True),
        _LOWER,
        Rope("cable_b", (_to_axle(BOTTOM),)),
    ),
}  # fmt: skip
"""Ropes of each family, in the order of the tension vector."""


TRACK_SIDES = {
    "string_t": TOP, "take_t": TOP, "let_t": TOP, "idler": TOP,
    "string_b": BOTTOM, "take_b": BOTTOM, "let_b": BOTTOM,
}  # fmt: skip
TAKE_UP = ("take_t", "take_b")
"""The take-up track of each side."""


def side_of_track(name: str) -> int:
    """Which side's cam a track is on."""
    return TRACK_SIDES[name]


def track_names(family: Family) -> tuple[str, ...]:
    """Tracks that a family's ropes run on."""
    names: list[str] = []
    for rope in ROPES[family]:
        for piece in rope.pieces:
            names.append(piece.track)
            if isinstance(piece, Cross):
                names.append(piece.other_track)
    return tuple(dict.fromkeys(names))


def stop_piece(family: Family, side: int) -> tuple[int, int] | None:
    """Rope and piece whose contact turns toward the draw stop of a side's cam, or None.

    A cable stop sits on the cam and meets the cable that this cam takes up.
    """
    for r, rope in enumerate(ROPES[family]):
        for p, piece in enumerate(rope.pieces):
            if piece.side == side and piece.track in TAKE_UP:
                return r, p
    return None
