"""A quantity as a screen shows it: its value, its band, its rule, the verdict."""

from dataclasses import dataclass
from math import hypot

from django.utils.safestring import SafeString

from bowcore.evidence.facts import Current, LeftWith
from bowcore.measurement.bands import Band, BandSide, Verdict, judge_as_shown
from bowcore.quantities.quantity import Quantity
from shop.casework.state import JobState
from shop.drawings.rule import RuleMarks, rule


@dataclass(frozen=True)
class ReadingRow:
    """One quantity on a screen."""

    quantity: Quantity
    current: Current | None
    band: Band | None
    rule: SafeString
    verdict: Verdict | None
    judged: float | None = None
    """What is judged: the best estimate from all readings where there is one, else the reading."""
    may_be_skipped: bool = False
    left: LeftWith | None = None
    """What the bow left with at its last visit."""

    @property
    def value(self) -> float | None:
        return self.current.summary.value if self.current and self.current.summary else None

    @property
    def read_as(self) -> float | None:
        """The reading itself, where the number that is judged is said otherwise; else None."""
        if self.value is None or self.judged is None:
            return None
        alike = self.quantity.say(self.value) == self.quantity.say(self.judged)
        return None if alike else self.value

    @property
    def since_last_visit(self) -> str:
        """How it compares with what the bow left with at its last visit, in words; "" where that is not
        known."""
        if self.left is None:
            return ""
        then = f"left on {self.left.on} with {self.quantity.say(self.left.value)}"
        if self.value is None or self.current is None or self.current.summary is None:
            return then
        off = self.value - self.left.value
        if not self.moved_since_last_visit:
            return f"{then}: as it was"
        if self.quantity.directions:
            return then
        return f"{then}: {self.quantity.say_size(off)} {'more' if off > 0 else 'less'} now"

    @property
    def moved_since_last_visit(self) -> bool:
        """Whether it differs by more than both readings' doubt."""
        now = self.current.summary if self.current else None
        if self.left is None or now is None:
            return False
        return abs(now.value - self.left.value) > 2 * hypot(now.sigma, self.left.sigma)

    @property
    def stale(self) -> bool:
        return bool(self.current and self.current.stale)

    @property
    def apart(self) -> bool:
        """Read between other points than the baseline, with an unknown offset."""
        return bool(self.current and self.current.apart)

    @property
    def converted(self) -> str:
        """By how much it was moved to the baseline's points, in words; "" if it was not."""
        shift = self.current.shift_in if self.current else 0.0
        return f"moved by {self.quantity.say_size(shift)} to the baseline's points" if shift else ""

    @property
    def verdict_words(self) -> str:
        """`1/16 in short`, or nothing when it is inside."""
        if self.verdict is None or self.verdict.inside:
            return ""
        low = self.verdict.side is BandSide.LOW
        word = self.quantity.low_word if low else self.quantity.high_word
        by = self.band.off(self.verdict) if self.band else self.verdict.by
        return f"{self.quantity.say_size(by)} {word}"


def reading_row(
    state: JobState, name: str, prediction: tuple[float, float] | None = None
) -> ReadingRow:
    """A quantity with its rule; `prediction` is value and uncertainty after a planned change.

    It is judged by the best estimate where there is one, as the plan and the hand-over are.
    """
    current, before = state.facts.current(name), state.facts.baseline(name)
    quantity, band = state.facts.named(name), state.bands.get(name)
    value = current.summary.value if current and current.summary else None
    marks = RuleMarks(
        band,
        before.summary.value if before and before.summary else None,
        value,
        bool(current and current.stale),
        prediction[0] if prediction else None,
        prediction[1] if prediction else 0.0,
    )
    apart = current is None or current.apart
    judged = state.judged.estimates.get(name, value)
    fresh = bool(current and current.fresh)
    verdict = (
        judge_as_shown(quantity, band, judged)
        if band and judged is not None and not apart
        else None
    )
    skip = not state.facts.setup.must_read(quantity)
    best = judged if fresh else value
    left = state.facts.last_visit(name)
    return ReadingRow(quantity, current, band, rule(quantity, marks), verdict, best, skip, left)
