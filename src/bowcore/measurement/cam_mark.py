"""A painted mark on a cam's edge: how well it is read, and what it does when a part is squeezed."""

from enum import StrEnum

PAINT_LINE_IN = 1 / 32
"""A mark nearer to its place is on it: what a painted line shows (common practice)."""


class Tug(StrEnum):
    """What the mark does when the part is squeezed sideways."""

    TOWARD = "toward"
    AWAY = "away"
    STILL = "on it"
