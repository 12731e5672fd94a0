"""An archer with a bow that does not shoot straight: the robot's own small world of tears.

Shares nothing with the engine: every cause has a size of its own, a move a gain of its own, and the archer
a scatter and a grip that persist.
"""

from dataclasses import dataclass, field
from random import Random

GAIN_IN = {"rest_out": (0.12, 0.0), "rest_up": (0.0, -0.05), "nock_point": (0.0, 0.13)}
"""What a tap of 1/32 in does to a tear, x and y. [in]"""
HIDDEN = (
    {}, {"rest_out": 0.35}, {"nock_point": 0.4}, {"contact_side": 0.5}, {"pinch": 0.45}, {"hand": 0.3},
    {"rest_out": -0.3, "nock_point": -0.25},
)  # fmt: skip
"""Causes that a bow may hide, each with the tear that it makes. [in]"""
OF_THE_ARCHER = {"hand", "heel"}
UPWARD = {"nock_point", "pinch", "contact_up", "heel", "rest_up"}


@dataclass
class Archer:
    """One archer and one bow."""

    seed: int
    causes: dict = field(default_factory=dict)
    mended: set = field(default_factory=set)

    def __post_init__(self):
        self.rng = Random(self.seed)
        self.causes = dict(self.rng.choice(HIDDEN))
        self.scatter = self.rng.uniform(0.02, 0.06)

    def tear(self, taps, by_another=False):
        """One tear with so many taps in, x and y. [in]"""
        x, y = self.rng.gauss(0, self.scatter), self.rng.gauss(0, self.scatter)
        for cause, size in self.causes.items():
            if cause not in self.mended and not (by_another and cause in OF_THE_ARCHER):
                x, y = (x, y + size) if cause in UPWARD else (x + size, y)
        for key, (side, up) in GAIN_IN.items():
            x, y = x + side * taps.get(key, 0), y + up * taps.get(key, 0)
        return round(x * 16) / 16, round(y * 16) / 16

    def has(self, suspect):
        """Whether a suspect is behind the tear, and can be found by looking."""
        return suspect in self.causes and suspect not in self.mended
