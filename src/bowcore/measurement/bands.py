"""Bands and verdicts: a bad reading is a result, not an error."""

from dataclasses import dataclass
from enum import StrEnum

from bowcore.errors import BadInput
from bowcore.measurement.normal import normal_cdf
from bowcore.quantities.quantity import Quantity


class BandSide(StrEnum):
    """Where a value lies relative to its band."""

    INSIDE = "inside"
    LOW = "low"
    HIGH = "high"


@dataclass(frozen=True)
class Verdict:
    """A value judged: which side, and by how much it is past the nearer edge (0 when inside)."""

    side: BandSide
    by: float = 0.0

    @property
    def inside(self) -> bool:
        return self.side is BandSide.INSIDE


@dataclass(frozen=True)
class Band:
    """What a quantity may be: `low` to `high` round `target`, and where that comes from.

    `source` is "book", "baseline", "customer" or "policy"; `because` is the reason in words.
    """

    low: float
    high: float
    target: float
    source: str = "book"
    because: str = ""

    def __post_init__(self) -> None:
        if not self.low <= self.target <= self.high:
            raise BadInput(f"Band {self.low:g} to {self.high:g} misses its target {self.target:g}.")

    @property
    def half_width(self) -> float:
        return (self.high - self.low) / 2

    def judge(self, value: float) -> Verdict:
        """Which side of the band a value lies on. An edge belongs to the band."""
        slack = 1e-9  # a stored decimal of an edge is still the edge
        if value < self.low - slack:
            return Verdict(BandSide.LOW, self.low - value)
        if value > self.high + slack:
            return Verdict(BandSide.HIGH, value - self.high)
        return Verdict(BandSide.INSIDE)

    def off(self, verdict: Verdict) -> float:
        """How far a value that was judged is off, as it is said: a figure that the customer wished for is
        missed by the distance from itself, any other band from its edge."""
        return verdict.by + (self.half_width if self.source == "customer" else 0.0)

    def chance_inside(self, value: float, sigma: float) -> float:
        """Probability that the true value is inside, for a normal uncertainty.

        Parameters
        ----------
        value : float
            The best estimate, in the band's unit.
        sigma : float
            Its standard uncertainty, same unit; 0 means certain.

        Returns
        -------
        float
            Between 0 and 1.
        """
        if sigma <= 0:
            return float(self.judge(value).inside)
        return normal_cdf((self.high - value) / sigma) - normal_cdf((self.low - value) / sigma)


def around(target: float, tolerance: float, source: str, because: str) -> Band:
    """A band of equal tolerance on both sides of a target."""
    return Band(target - tolerance, target + tolerance, target, source, because)


def judge_as_shown(what: Quantity, band: Band, value: float) -> Verdict:
    """The verdict that follows by eye: value and band as they are said, to the last division shown.

    A screen that shows 51.0 in a band of 51.0 to 53.0 says that it is inside.
    """
    low, high = what.as_shown(band.low), what.as_shown(band.high)
    target = min(max(band.target, low), high)
    return Band(low, high, target).judge(what.as_shown(value))
