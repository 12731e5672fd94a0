"""Strings of speeds: shots of one arrow with nothing changed, and what two strings say together.

"A string" is what is shot in a row over the chronograph. Speeds in ft/s, masses in grains.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import hypot, isfinite, sqrt

from bowcore.accessories.arrow_speed import virtual_mass_gr
from bowcore.errors import BadInput, require_within
from bowcore.measurement.lines import CLEAR_SIGMAS
from bowcore.measurement.repeats import RepeatSummary, summarise
from bowcore.quantities.catalogue import quantity
from bowcore.quantities.precision import Precision

LEAST_SHOTS = 3
AGREE_FPS = 2.0
"""Three shots within so much are a string (common practice, no published source)."""
MOST_SHOTS = 8
MASS_SIGMA_GR = 0.3
"""A grain scale, and arrows of a set that are taken for alike: our figure."""
LIGHTEST_GR, HEAVIEST_GR = 100.0, 1500.0
FARTHEST_WEIGHTS_IN = 10.0


@dataclass(frozen=True)
class SpeedShot:
    """One arrow over the chronograph. `seq` places it among the changes of its job.

    `weights_in` is where the string weights were, from each cam [in]; None where nobody was moving any.
    `good` is False where the archer called the shot bad.
    """

    seq: int
    fps: float
    mass_gr: float
    arrow: str = ""
    weights_in: float | None = None
    good: bool = True

    def __post_init__(self) -> None:
        """Refuse what no bow shoots.

        Raises
        ------
        BadInput
            A speed or a mass outside of what arrows have.
        """
        require_within("Speed", self.fps, quantity("arrow_speed").limits, "fps")
        require_within("Mass", self.mass_gr, (LIGHTEST_GR, HEAVIEST_GR), "grains")
        if self.weights_in is not None:
            require_within("String weights", self.weights_in, (0, FARTHEST_WEIGHTS_IN), "in")


@dataclass(frozen=True)
class SpeedString:
    """Shots of one arrow with nothing changed between them, in order; at least one."""

    shots: tuple[SpeedShot, ...]

    @property
    def mass_gr(self) -> float:
        return self.shots[0].mass_gr

    @property
    def arrow(self) -> str:
        return self.shots[0].arrow

    @property
    def weights_in(self) -> float | None:
        return self.shots[0].weights_in

    @property
    def counted(self) -> list[float]:
        """Speeds of the shots that were not called bad; all of them where every one was."""
        good = [one.fps for one in self.shots if one.good]
        return good or [one.fps for one in self.shots]

    @cached_property
    def summary(self) -> RepeatSummary:
        """Robust mean, spread and uncertainty; a shot far from the others is left out."""
        return summarise(self.counted, _precision())

    @property
    def mean(self) -> float:
        return self.summary.value

    @property
    def sigma(self) -> float:
        """Standard uncertainty of the mean. [ft/s]"""
        return self.summary.sigma

    @property
    def spread(self) -> float:
        """Fastest less slowest of the shots that count. [ft/s]"""
        return max(self._kept) - min(self._kept)

    @property
    def finished(self) -> bool:
        """Enough shots that agree, or so many that more would say nothing."""
        return len(self._kept) >= MOST_SHOTS or self.agrees

    @property
    def agrees(self) -> bool:
        """Whether enough shots are as near to each other as those of a good string."""
        return len(self._kept) >= LEAST_SHOTS and self.spread <= AGREE_FPS

    @property
    def _kept(self) -> list[float]:
        out = self.summary.outliers
        return [fps for at, fps in enumerate(self.counted) if at not in out]


def _precision() -> Precision:
    return quantity("arrow_speed").precision


def strings_of(
    shots: Sequence[SpeedShot], changed_at: Sequence[int] = ()
) -> tuple[SpeedString, ...]:
    """Shots as strings, in the order in which each began.

    Parameters
    ----------
    shots : sequence of SpeedShot
        In any order.
    changed_at : sequence of int
        Places at which something was changed that an arrow's speed may answer to.
    """
    found: dict[tuple[object, ...], list[SpeedShot]] = {}
    for one in sorted(shots, key=lambda shot: shot.seq):
        changes = sum(at <= one.seq for at in changed_at)
        found.setdefault((changes, one.arrow, one.mass_gr, one.weights_in), []).append(one)
    return tuple(SpeedString(tuple(group)) for group in found.values())


@dataclass(frozen=True)
class Compared:
    """How much faster the second of two strings is, with its standard uncertainty. [ft/s]"""

    faster_fps: float
    sigma: float

    @property
    def clear(self) -> bool:
        """Whether that is more than its own doubt: two standard errors (common practice)."""
        return abs(self.faster_fps) > CLEAR_SIGMAS * self.sigma


def compared(before: SpeedString, after: SpeedString) -> Compared:
    """Two strings of the same arrow.

    The uncertainty of the difference is the root of the sum of squares, as in Welch's test (checked against
    SciPy).

    Raises
    ------
    BadInput
        They are of arrows of unlike masses.
    """
    if abs(before.mass_gr - after.mass_gr) > 1:
        raise BadInput("Before and after are shot with the same arrow.", "arrow")
    return Compared(after.mean - before.mean, hypot(before.sigma, after.sigma))


@dataclass(frozen=True)
class BowByTwoArrows:
    """What of a bow moves with the arrow, by two arrows, and the energy that both carry with it.

    `mass_gr`, `mass_sigma`: virtual mass at the nock and its standard uncertainty. [gr]
    """

    mass_gr: float
    mass_sigma: float
    light: SpeedString
    heavy: SpeedString

    @property
    def clear(self) -> bool:
        """Whether the two arrows say anything: the mass is more than its own doubt."""
        return self.mass_gr > CLEAR_SIGMAS * self.mass_sigma

    def speed_of(self, mass_gr: float) -> tuple[float, float]:
        """How fast another arrow flies, and the standard uncertainty of that. [ft/s]

        Parameters
        ----------
        mass_gr : float
            Its mass. [gr]
        """
        return _propagated(
            lambda m1, v1, m2, v2: _speed(virtual_mass_gr((m1, v1), (m2, v2)), m1, v1, mass_gr),
            self.light,
            self.heavy,
        )


def _speed(virtual_gr: float, known_gr: float, known_fps: float, mass_gr: float) -> float:
    return known_fps * sqrt((known_gr + virtual_gr) / (mass_gr + virtual_gr))


def bow_by_two_arrows(strings: Sequence[SpeedString]) -> BowByTwoArrows | None:
    """The virtual mass by the lightest and the heaviest arrow; None where no two say one.

    Parameters
    ----------
    strings : sequence of SpeedString
        With nothing changed between them.
    """
    if len(strings) < 2:
        return None
    light = min(strings, key=lambda one: one.mass_gr)
    heavy = max(strings, key=lambda one: one.mass_gr)
    try:
        mass, sigma = _propagated(
            lambda m1, v1, m2, v2: virtual_mass_gr((m1, v1), (m2, v2)), light, heavy
        )
    except BadInput:
        return None
    return BowByTwoArrows(mass, sigma, light, heavy) if mass > 0 else None


def _propagated(
    of: Callable[[float, float, float, float], float], light: SpeedString, heavy: SpeedString
) -> tuple[float, float]:
    """A function of two masses and speeds at their best values, with its standard uncertainty.

    First order, by central differences (GUM, JCGM 100:2008, 5.1.2).
    """
    at = [light.mass_gr, light.mean, heavy.mass_gr, heavy.mean]
    sigmas = [MASS_SIGMA_GR, light.sigma, MASS_SIGMA_GR, heavy.sigma]
    total = 0.0
    for place, sigma in enumerate(sigmas):
        step = sigma / 10
        up, down = list(at), list(at)
        up[place] += step
        down[place] -= step
        total += ((of(*up) - of(*down)) / (2 * step) * sigma) ** 2
    value = of(*at)
    if not isfinite(value):
        raise BadInput(
            "These two arrows are too alike to say what of the bow moves with them.",
            "speeds",
        )
    return value, sqrt(total)
