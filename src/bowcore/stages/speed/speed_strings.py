"""Strings of speeds: shots of one arrow with nothing changed, and what two strings say together.

"A string" is what is shot in a row over the chronograph. Speeds in ft/s, masses in grains.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import hypot, sqrt

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import BadInput, require_within
from bowcore.measurement.lines import CLEAR_SIGMAS
from bowcore.measurement.normal import chi_square_95
from bowcore.measurement.repeats import RepeatSummary, summarise
from bowcore.quantities.catalogue import quantity
from bowcore.quantities.precision import Precision

LEAST_SHOTS = 3
AGREE_FPS = 2.0
"""Three shots within so much are a string (common practice, no published source)."""
MOST_SHOTS = 8
MASS_SIGMA_GR = 0.3
"""A grain scale, and arrows of a set that are taken for alike: our figure."""
LEAST_APART_GR = 10.0
"""Arrows nearer in mass than that say nothing of what moves with them: our figure."""
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
class BowByArrows:
    """What of a bow moves with the arrow, by arrows of unlike masses that all carry the same energy with it.

    `mass_gr`, `mass_sigma`: virtual mass at the nock and its standard uncertainty [gr]; `line`, `covariance`:
    level and slope of 1 / speed² against the arrow's mass; `arrows` how many were shot; `agree` whether they
    lie on that line within their doubt.
    """

    mass_gr: float
    mass_sigma: float
    line: tuple[float, float]
    covariance: NDArray[np.float64]
    arrows: int
    agree: bool

    @property
    def clear(self) -> bool:
        """Whether the arrows say anything: the mass is more than its own doubt, and they agree."""
        return self.agree and self.mass_gr > CLEAR_SIGMAS * self.mass_sigma

    def speed_of(self, mass_gr: float) -> tuple[float, float]:
        """How fast another arrow flies, and the standard uncertainty of that. [ft/s]

        Parameters
        ----------
        mass_gr : float
            Its mass. [gr]
        """
        at = np.array([1.0, mass_gr])
        fps = float(at @ self.line) ** -0.5
        return fps, float(fps**3 / 2 * sqrt(at @ self.covariance @ at))


def bow_by_arrows(strings: Sequence[SpeedString]) -> BowByArrows | None:
    """The virtual mass by every arrow that was shot; None where they are too alike to say one.

    (m + mv) v² is the same for all, so that 1 / v² is a line in m: weighted least squares, doubts by first
    order (GUM, JCGM 100:2008, 5.1.2). Of two arrows it is the line through both; whether more lie on it is
    asked by chi-square at 5 %.

    Parameters
    ----------
    strings : sequence of SpeedString
        With nothing changed between them.
    """
    masses, speeds = (
        np.array([getattr(one, key) for one in strings]) for key in ("mass_gr", "mean")
    )
    if len(strings) < 2 or np.ptp(masses) < LEAST_APART_GR:
        return None
    design, y = np.vander(masses, 2, increasing=True), speeds**-2.0
    slope = float(np.polyfit(masses, y, 1)[0])
    by_speed = 2 * np.array([one.sigma for one in strings]) / speeds**3
    weights = 1 / (by_speed**2 + (slope * MASS_SIGMA_GR) ** 2)
    covariance = np.linalg.inv(design.T @ (design * weights[:, None]))
    level, slope = (float(one) for one in covariance @ (design.T @ (weights * y)))
    if slope <= 0 or level <= 0:
        return None
    mass, gradient = level / slope, np.array([1 / slope, -level / slope**2])
    off = float((weights * (y - design @ [level, slope]) ** 2).sum())
    return BowByArrows(
        mass,
        float(sqrt(gradient @ covariance @ gradient)),
        (level, slope),
        covariance,
        len(strings),
        len(strings) == 2 or off <= chi_square_95(len(strings) - 2),
    )
