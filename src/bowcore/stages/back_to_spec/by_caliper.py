"""Whether the cam is worth measuring before a plan is followed, and what that would do for it."""

from bowcore.bow.cam_radii import RADII, CamRadii
from bowcore.bow.specification import BowSpec
from bowcore.deciding.problem import PlanKind
from bowcore.deciding.weighing import weigh
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import decimal_length
from bowcore.stages.back_to_spec.advice import Advice

UNLIKELY = 2.0
"""A radius that is so many times the usual one, or that part of it, is asked about (our figure)."""
SURER, DECIDES = 0.8, 0.6
"""Offered where the gap's doubt falls at least to so much of itself, and is more than so many half widths of
its band to begin with (our figures)."""
NINE_IN_TEN = 1.645
HOW = (
    "Stick tape on both cams. Draw the bow on the board to its stops.",
    "On the tape, draw a line along the middle of the cable where it leaves each track.",
    "Let it down before you measure. Each from the axle's centre:",
    "1 to the middle of the stop peg.",
    "2 and 3 square to the line, not to where the cable leaves the track: on a cam that is not round that is "
    "longer.",
)
NOT_DRAWN = "This bow is not drawn now. The cam is measured once it may be drawn again."
SERVES_THE_MODEL = "One measure serves every bow of the model: the radii go into the book as well."


def worth_measuring(spec: BowSpec, advice: Advice) -> bool:
    """Whether this plan opens the press for a gap on a bow whose cams decide it and nobody has measured."""
    gap = advice.problem.bands.get("stop_gap")
    if gap is None or spec.cam_measured or not spec.timed_by_tracks:
        return False
    outside = not gap.judge(advice.problem.readings["stop_gap"][0]).inside
    return outside and advice.plan.kind is PlanKind.CHANGE and advice.plan.best.presses > 0


def say_surer(now: Advice, measured: Advice) -> str:
    """What three radii by caliper would do for the plan; "" where that is little.

    Parameters
    ----------
    now : Advice
        As the bow is known.
    measured : Advice
        As if a caliper had given the cam's radii, and they were the usual ones.
    """
    option = now.plan.best
    after = weigh(measured.problem, option.steps)
    before_in, after_in = (one.predicted["stop_gap"][1] for one in (option, after))
    decides = before_in > DECIDES * now.problem.bands["stop_gap"].half_width
    if not decides or after_in > SURER * before_in:
        return ""
    gap = QUANTITIES["stop_gap"]
    after_words, before_words = (gap.say_size(NINE_IN_TEN * one) for one in (after_in, before_in))
    if after_words == before_words:
        return ""
    return (
        f"Measure the cam by caliper first: where the timing ends is then known to ±{after_words} instead of "
        f"±{before_words}."
    )


def unlikely_radii(radii: CamRadii, spec: BowSpec) -> str:
    """What is unlikely about these radii, in a sentence; "" where nothing is."""
    usual = CamRadii.in_book(spec)
    pairs = ((one, getattr(radii, one), getattr(usual, one)) for one in RADII)
    said = [
        f"{RADII[one]}: {decimal_length(value)}, usual is {decimal_length(book)}."
        for one, value, book in pairs
        if not 1 / UNLIKELY <= value / book <= UNLIKELY
    ]
    return " ".join([*said, "From the axle's centre?"]) if said else ""
