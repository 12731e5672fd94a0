"""A simulated archer and bow that do not shoot straight, with one hidden cause. Seeded.

Knows nothing of how the engine reasons: its gains, the chances of its tests and its scatter are its own.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import hypot

import numpy as np

from bowcore.adjusters.steps import Steps
from bowcore.diagnosis.shots import Shot, ShotTest
from bowcore.diagnosis.suspects import BY_KEY, Axis
from bowcore.diagnosis.tears import PAPER_YD

MENDED_BY_HAND = frozenset(
    {"contact_up", "contact_side", "timing", "pinch", "lean", "spine_up", "spine_side", "point"}
)
NOT_THE_BOW = frozenset({"heel", "hand"})
"""What goes away only when the archer changes something; the bow is left as it is."""


@dataclass(frozen=True)
class World:
    """How bows and archers are: the inside of one simulator.

    `gain` is what a tap does against geometry and `gain_spread` how bows differ (standard deviation of its
    logarithm); `finds` and `false_alarm` are the chances of tests; `flyers` is the share of shots that
    are bad without being called so.
    """

    gain: float = 0.8
    gain_spread: float = 0.35
    finds: float = 0.88
    false_alarm: float = 0.07
    scatter_in: float = 0.08
    flyers: float = 0.05
    flyer_in: float = 0.4


OTHER_WORLD = World(1.25, 0.5, 0.8, 0.1, 0.1, 0.08, 0.5)
"""A second simulator with other insides: larger and more unlike gains, worse tests, more scatter."""
TAPS = {
    "nock_point": 0.127,
    "rest_up": -0.042,
    "rest_out": 0.127,
    "cable_a.left": 0.12,
    "cable_a.right": 0.0,
}
"""What a tap of 1/32 in, or half a twist in one leg and out of the other, does to a tear. [in]"""
OF_THE_LEAN = frozenset({"cable_a.left", "cable_a.right"})


@dataclass
class SimulatedArcher:
    """One archer and bow; `cause` is hidden."""

    cause: str
    tear_in: float
    world: World
    rng: np.random.Generator
    gains: Mapping[str, float]
    seq: int = 0
    mended: bool = False
    moved: dict[str, int] = field(default_factory=dict)

    @property
    def axis(self) -> Axis:
        return BY_KEY[self.cause].axis

    def true_tear(self) -> tuple[float, float]:
        """What it tears without any scatter, x and y. [in]"""
        left = 0.0 if self.mended else self.tear_in
        x, y = (left, 0.0) if self.axis is Axis.SIDE else (0.0, left)
        for key, taps in self.moved.items():
            by = TAPS[key] * self.gains[key] * taps
            x, y = (x, y + by) if key in ("nock_point", "rest_up") else (x + by, y)
        return x, y

    def shoots(self) -> Shot:
        """One shot through paper."""
        self.seq += 1
        x, y = self.true_tear()
        spread = self.world.scatter_in
        if self.rng.random() < self.world.flyers:
            spread = self.world.flyer_in
        off = spread * self.rng.standard_normal(2)
        return Shot(self.seq, ShotTest.PAPER, PAPER_YD, x + float(off[0]), y + float(off[1]))

    def tested(self, suspect: str) -> bool:
        """Whether a suspect's test finds it."""
        here = suspect == self.cause and not self.mended
        chance = self.world.finds if here else self.world.false_alarm
        return bool(self.rng.random() < chance)

    def mends(self, suspect: str) -> None:
        """Mend a suspect by hand, or tell the archer: only the true cause goes away."""
        if suspect == self.cause:
            self.mended = True

    def taps(self, steps: Steps) -> None:
        """Tap nock point or rest."""
        for key, count in steps.items():
            self.moved[key] = self.moved.get(key, 0) + count

    @property
    def truly_clean(self) -> bool:
        """Whether it tears under an eighth, all scatter left out."""
        return hypot(*self.true_tear()) < 1 / 8

    @property
    def hides_its_cause(self) -> bool:
        """Whether it is clean because something was moved that was not at fault."""
        own = OF_THE_LEAN if self.cause == "lean" else frozenset(BY_KEY[self.cause].moves)
        return self.truly_clean and not self.mended and not own & set(self.moved)


def simulated_archer(cause: str, seed: int, world: World | None = None) -> SimulatedArcher:
    """An archer with a hidden cause; the same seed, the same archer."""
    world, rng = world or World(), np.random.default_rng(seed)
    size = float(rng.uniform(0.3, 0.8)) * (1 if rng.random() < 0.5 else -1)
    gains = {
        key: world.gain * float(np.exp(world.gain_spread * rng.standard_normal())) for key in TAPS
    }
    return SimulatedArcher(cause, size, world, rng, gains)
