"""Bars and weights: their moments about the grip, and which one change to try next by how the pin floats.

Holds of 20 to 30 seconds at a dot, without a shot; one change a set; rated from 1 to 5 (common practice, no
published source). Masses in ounces, lengths from the grip in inches.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import cos, radians, sin

from bowcore.deciding.act import Act
from bowcore.errors import BadInput, require_within

STEP_OZ, STEP_DEG = 1.0, 10.0
MOST_OZ, LONGEST_BAR_IN, WIDEST_DEG = 40.0, 40.0, 80.0
GOOD_RATING, BEST_RATING = 4, 5
WORSE_ENDS_IT = 2
"""Two sets in a row that are worse than the best one end it: our figure."""


class PinFloat(StrEnum):
    """What the pin did during the hold."""

    STILL = "still"
    RIDES_HIGH = "rides_high"
    DIPS = "dips"
    SIDEWAYS = "sideways"


@dataclass(frozen=True)
class Bars:
    """A front bar and a back bar, with all the mass of each as if at its end.

    `back_deg` is how far the back bar is swung out to the side from straight back.
    """

    front_in: float
    front_oz: float
    back_in: float = 0.0
    back_oz: float = 0.0
    back_deg: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what nobody screws onto a bow.

        Raises
        ------
        BadInput
            A length, a mass or an angle outside of what bars have.
        """
        require_within("Front bar", self.front_in, (0, LONGEST_BAR_IN), "in")
        require_within("Weight in front", self.front_oz, (0, MOST_OZ), "oz")
        require_within("Back bar", self.back_in, (0, LONGEST_BAR_IN), "in")
        require_within("Weight behind", self.back_oz, (0, MOST_OZ), "oz")
        require_within("Back bar swung out", self.back_deg, (0, WIDEST_DEG), "degrees")

    @property
    def forward_inoz(self) -> float:
        """Moment about the grip that tips the bow forward. [in oz]"""
        back = self.back_oz * self.back_in * cos(radians(self.back_deg))
        return self.front_oz * self.front_in - back

    @property
    def sideways_inoz(self) -> float:
        """Moment about the grip that tips it to the side of the back bar. [in oz]"""
        return self.back_oz * self.back_in * sin(radians(self.back_deg))

    @property
    def balance_in(self) -> float:
        """Where the bars balance, ahead of the grip; negative behind it. [in]"""
        mass = self.front_oz + self.back_oz
        return self.forward_inoz / mass if mass else 0.0


@dataclass(frozen=True)
class FloatSet:
    """A hold with some bars: what the pin did, and how the archer rated it."""

    bars: Bars
    pin: PinFloat
    rating: int

    def __post_init__(self) -> None:
        """Refuse a rating that is not on the scale."""
        if not 1 <= self.rating <= BEST_RATING:
            raise BadInput(f"A rating of {self.rating}?", "rating", f"1 to {BEST_RATING}")


@dataclass(frozen=True, kw_only=True)
class FloatAct(Act):
    """The next set: what to change against the best one, or that it is done; `bars` are to be held with."""

    done: bool
    bars: Bars | None = None


def next_float(sets: Sequence[FloatSet]) -> FloatAct:
    """What to try next.

    Parameters
    ----------
    sets : sequence of FloatSet
        In the order in which they were held.

    Returns
    -------
    FloatAct
        One change against the set that was rated best; a set that was held is not held again.
    """
    if not sets:
        return FloatAct(
            "Hold with what is on it now.",
            "What the pin does now shows which way to go.",
            done=False,
        )
    best = max(sets, key=lambda one: one.rating)
    if best.rating == BEST_RATING or (best.rating >= GOOD_RATING and best.pin is PinFloat.STILL):
        return FloatAct(
            f"Leave it: {say_bars(best.bars)}.", f"Rated {best.rating}.", done=True, bars=best.bars
        )
    if _worse_in_a_row(sets, best) >= WORSE_ENDS_IT:
        why = f"The last {WORSE_ENDS_IT} were worse than the set that was rated {best.rating}."
        return FloatAct(f"Back to the best: {say_bars(best.bars)}.", why, done=True, bars=best.bars)
    held = [one.bars for one in sets]
    for words, bars in _changes(best):
        if bars not in held:
            why = f"{_WHY[best.pin]} One change against the set that was rated {best.rating}."
            return FloatAct(f"{words}: {say_bars(bars)}.", why, done=False, bars=bars)
    return FloatAct(
        f"Back to the best: {say_bars(best.bars)}.",
        "Every single change from it was tried.",
        done=True,
        bars=best.bars,
    )


_WHY = {
    PinFloat.RIDES_HIGH: "The pin rides high: more in front, or less behind.",
    PinFloat.DIPS: "The pin dips: more behind, or less in front.",
    PinFloat.SIDEWAYS: "It drifts sideways: more of both, or the back bar swung.",
    PinFloat.STILL: "It is still, and could be steadier: more of both.",
}


def _changes(best: FloatSet) -> Iterator[tuple[str, Bars]]:
    """Single changes that go against what the pin did, the first choice first."""
    bars, has_back = best.bars, best.bars.back_in > 0
    heavier = min(bars.front_oz + STEP_OZ, MOST_OZ)
    lighter = max(bars.front_oz - STEP_OZ, 0.0)
    more, less = min(bars.back_oz + STEP_OZ, MOST_OZ), max(bars.back_oz - STEP_OZ, 0.0)
    if best.pin is PinFloat.RIDES_HIGH:
        yield "An ounce more in front", replace(bars, front_oz=heavier)
        if has_back:
            yield "An ounce less behind", replace(bars, back_oz=less)
    elif best.pin is PinFloat.DIPS:
        if has_back:
            yield "An ounce more behind", replace(bars, back_oz=more)
        yield "An ounce less in front", replace(bars, front_oz=lighter)
    else:
        both = (
            replace(bars, front_oz=heavier, back_oz=more)
            if has_back
            else replace(bars, front_oz=heavier)
        )
        yield "An ounce more of both" if has_back else "An ounce more in front", both
        if has_back and best.pin is PinFloat.SIDEWAYS:
            for way in (STEP_DEG, -STEP_DEG):
                swung = min(max(bars.back_deg + way, 0.0), WIDEST_DEG)
                side = "farther out" if way > 0 else "nearer in"
                yield f"The back bar ten degrees {side}", replace(bars, back_deg=swung)


def _worse_in_a_row(sets: Sequence[FloatSet], best: FloatSet) -> int:
    after = sets[list(sets).index(best) + 1 :]
    return len(after) if all(one.rating < best.rating for one in after) else 0


def say_bars(bars: Bars) -> str:
    """The bars in a line."""
    front = f"{bars.front_oz:g} oz in front at {bars.front_in:g} in"
    if not bars.back_in:
        return front
    swung = f", swung {bars.back_deg:g} degrees" if bars.back_deg else ""
    return f"{front}, {bars.back_oz:g} oz behind at {bars.back_in:g} in{swung}"


def say_moments(bars: Bars) -> str:
    """The moments in a sentence."""
    way = "forward" if bars.forward_inoz >= 0 else "back"
    side = f", {bars.sideways_inoz:.0f} to the side" if bars.sideways_inoz else ""
    ahead = "ahead of" if bars.balance_in >= 0 else "behind"
    return (
        f"{abs(bars.forward_inoz):.0f} inch-ounces {way}{side}; the bars balance "
        f"{abs(bars.balance_in):.1f} in {ahead} the grip."
    )
