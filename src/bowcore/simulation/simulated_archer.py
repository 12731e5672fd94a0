"""A simulated archer and bow that do not shoot straight, with one hidden cause or two. Seeded.

Knows nothing of how the engine reasons: its gains, the chances of its tests and its scatter are its own.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import hypot

import numpy as np

from bowcore.adjusters.steps import Steps
from bowcore.evidence.shots import Shot, ShotTest
from bowcore.evidence.tears import PAPER_YD
from bowcore.stages.shooting_in.suspects import BY_KEY, Axis


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
    "nock_point": 0.127, "rest_up": -0.042, "rest_out": 0.127, "cable_a.left": 0.12, "cable_a.right": 0.0,
    "cable_b": -0.06,
}  # fmt: skip
"""What a tap of 1/32 in, half a twist in one leg and out of the other, or in a cable, does to a tear. [in]"""
MOVES_UP = frozenset({"nock_point", "rest_up", "cable_b"})
OF_ITS_OWN: Mapping[str, frozenset[str]] = {
    "lean": frozenset({"cable_a.left", "cable_a.right"}), "timing": frozenset({"cable_b"}),
}  # fmt: skip


@dataclass
class SimulatedArcher:
    """One archer and bow; what each hidden cause tears is hidden too. [in]"""

    tears: Mapping[str, float]
    world: World
    rng: np.random.Generator
    gains: Mapping[str, float]
    seq: int = 0
    mended: set[str] = field(default_factory=set)
    moved: dict[str, int] = field(default_factory=dict)

    @property
    def causes(self) -> frozenset[str]:
        return frozenset(self.tears)

    def true_tear(self) -> tuple[float, float]:
        """What it tears without any scatter, x and y. [in]"""
        x, y = 0.0, 0.0
        for cause, off in self.tears.items():
            if cause not in self.mended:
                x, y = (x + off, y) if BY_KEY[cause].axis is Axis.SIDE else (x, y + off)
        for key, taps in self.moved.items():
            by = TAPS[key] * self.gains[key] * taps
            x, y = (x, y + by) if key in MOVES_UP else (x + by, y)
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
        here = suspect in self.causes - self.mended
        chance = self.world.finds if here else self.world.false_alarm
        return bool(self.rng.random() < chance)

    def mends(self, suspect: str) -> None:
        """Mend a suspect by hand, or tell the archer: only a true cause goes away."""
        self.mended.update(self.causes & {suspect})

    def turns(self, steps: Steps) -> None:
        """Tap nock point or rest, turn a yoke's legs or a cable."""
        for key, count in steps.items():
            self.moved[key] = self.moved.get(key, 0) + count

    @property
    def truly_clean(self) -> bool:
        """Whether it tears under an eighth, all scatter left out."""
        return hypot(*self.true_tear()) < 1 / 8

    @property
    def hides_its_cause(self) -> bool:
        """Whether it is clean though something that is behind it was neither mended nor moved."""
        left = self.causes - self.mended
        return self.truly_clean and any(not _own(one) & set(self.moved) for one in left)


def _own(cause: str) -> frozenset[str]:
    """What may be moved to mend a cause, hiding nothing."""
    return OF_ITS_OWN.get(cause, frozenset(BY_KEY[cause].moves))


LEAST_TEAR_IN, MOST_TEAR_IN = 0.3, 0.8
"""Of one cause; of two together at least as much, for what cancels out nobody finds."""


def _drawn(causes: Sequence[str], rng: np.random.Generator) -> dict[str, float]:
    return {
        cause: float(rng.uniform(LEAST_TEAR_IN, MOST_TEAR_IN)) * (1 if rng.random() < 0.5 else -1)
        for cause in causes
    }


def simulated_archer(
    causes: Sequence[str], seed: int, world: World | None = None
) -> SimulatedArcher:
    """An archer with hidden causes; the same seed, the same archer."""
    world, rng = world or World(), np.random.default_rng(seed)
    tears = _drawn(causes, rng)
    while abs(sum(tears.values())) < LEAST_TEAR_IN:
        tears = _drawn(causes, rng)
    gains = {
        key: world.gain * float(np.exp(world.gain_spread * rng.standard_normal())) for key in TAPS
    }
    return SimulatedArcher(tears, world, rng, gains)
