"""Where a bow should be: the band of every quantity, and where that comes from.

A bow's own tuned baseline outranks the book; a baseline that was itself outside the book's band
was not tuned, and the book is the target. The customer's figure decides the weight.
"""

from dataclasses import dataclass

from bowcore.bow.specification import BowSpec, Family
from bowcore.evidence.facts import Facts, LeftWith
from bowcore.measurement.bands import Band, around
from bowcore.quantities.catalogue import LEANS, PUT_BACK, QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_needs import fit_bands
from bowcore.work_order.needs import CARRY_OVER
from bowcore.work_order.services import SHOOT_IN, ties_of

DRAWN_SHORT = 1.0
"""The first of two stops that are apart ends the draw by so much for each inch of gap, mean of the
families' twins (docs/derivations/gap.md)."""
HELD_SHORT_SHARE, HELD_SHORT_REACH_IN = 0.10, 1 / 8
"""And holds it short of its valley by this share of the peak weight for each inch, so far out."""
TOGETHER = ", with its stops together"
STICKER_TOLERANCE_LBF = 2.0  # common practice, no published source


@dataclass(frozen=True)
class Wishes:
    """What the customer wants kept or reached; None where nothing was asked."""

    peak_weight_lbf: float | None = None
    draw_length_in: float | None = None
    stop_gap_in: float | None = None
    """By this archer's feel, signed as always."""


@dataclass(frozen=True)
class Tolerances:
    """How far a model's numbers may be off its book, how much its top stop should lead, whether its cams
    should be upright at full draw instead of leaning as they came, and whether the stop gap of a bow that
    is put back is what it came in with."""

    axle_to_axle_in: float = 0.125
    brace_height_in: float = 0.125
    peak_weight_lbf: float = STICKER_TOLERANCE_LBF
    top_first_in: float = 0.0
    upright: bool = False
    top_open: bool = False
    gap_as_was: bool = False


def gap_band(spec: BowSpec, allowed: "Tolerances") -> Band:
    """The stop gap by policy: dead even, on a hybrid the top stop first, or rather the top one open. [in]

    The top stop leads when it touches while the bottom one is still open: a negative gap.
    """
    tolerance, first = QUANTITIES["stop_gap"].tolerance, allowed.top_first_in
    near = say_length(tolerance)
    if spec.one_cam:
        return around(0, tolerance, "book", f"the cam's mark on the limb's edge, within {near}")
    if first and spec.family is Family.HYBRID:
        least, most = (
            QUANTITIES["stop_gap"].say(-n) for n in (first - tolerance, first + tolerance)
        )
        return around(-first, tolerance, "policy", f"top stop first: {least} to {most}")
    if allowed.top_open:
        low, high = -tolerance / 2, tolerance
        because = f"both stops together; if one is open, rather the top, by up to {near}"
        return Band(low, high, (low + high) / 2, "policy", because)
    return around(0, tolerance, "policy", f"both stops together, within {near}")


def book_bands(spec: BowSpec, allowed: Tolerances = Tolerances()) -> dict[str, Band]:
    """Bands from the book and the policy, before anything has been read."""
    sticker, holding = spec.peak_weight_lbf, spec.peak_weight_lbf * (1 - spec.let_off)
    return {
        "axle_to_axle": _book("axle_to_axle", spec.axle_to_axle_in, allowed.axle_to_axle_in),
        "brace_height": _book("brace_height", spec.brace_height_in, allowed.brace_height_in),
        "peak_weight": around(
            sticker,
            allowed.peak_weight_lbf,
            "book",
            f"sticker {sticker:g} lbf, {allowed.peak_weight_lbf:g} either way",
        ),
        "holding_weight": around(
            holding, 2.0, "book", f"{spec.let_off:.0%} let-off of {sticker:g} lbf"
        ),
        "stop_gap": gap_band(spec, allowed),
    }


def bands(
    spec: BowSpec, facts: Facts, wishes: Wishes = Wishes(), allowed: Tolerances = Tolerances()
) -> dict[str, Band]:
    """The band of every quantity that this job must reach.

    Parameters
    ----------
    spec : BowSpec
        The book.
    facts : Facts
        The baseline is taken from it.
    wishes : Wishes
        The customer's figures.
    allowed : Tolerances
        The book's.

    Returns
    -------
    dict of str to Band
        By quantity; what only the bow itself can show, only once it has been read.
    """
    result = book_bands(spec, allowed)
    if wishes.stop_gap_in is not None and not spec.one_cam:
        feel = f"this archer's feel: {QUANTITIES['stop_gap'].say(wishes.stop_gap_in)}"
        tolerance = QUANTITIES["stop_gap"].tolerance
        result["stop_gap"] = around(wishes.stop_gap_in, tolerance, "customer", feel)
    elif (as_was := _gap_as_was(spec, facts, allowed)) is not None:
        result["stop_gap"] = as_was
    if spec.guessed:
        result = {name: _not_judged(band) for name, band in result.items()} | {
            "stop_gap": result["stop_gap"]
        }
    for name in ("axle_to_axle", "brace_height"):
        result[name] = _baseline_or_book(name, result[name], facts)
    result["holding_weight"] = _held(result["holding_weight"], spec, facts, result["stop_gap"])
    result["peak_weight"] = _weight_band(result["peak_weight"], facts, wishes)
    for name in _put_back(facts):
        before, left = facts.baseline(name), _left(name, facts)
        if left is not None:
            result[name] = _as_it_left(name, left)
        elif before and before.summary:
            tolerance = QUANTITIES[name].tolerance
            short = _apart(name, spec, facts, result["stop_gap"]) if name == "draw_length" else 0.0
            because = "as it came in" + (TOGETHER if short else "")
            result[name] = around(before.summary.value + short, tolerance, "baseline", because)
            if name in LEANS and allowed.upright:
                result[name] = _upright(name)
    if SHOOT_IN in facts.services:
        has = facts.setup.features
        leans = (name for name in LEANS if name not in result and QUANTITIES[name].needs in has)
        result |= {name: _upright(name) for name in leans}
    fitted = fit_bands(facts, spec.centre_shot_in)
    result |= {name: band for name, band in fitted.items() if name not in result}
    if facts.replaced and "draw_length" not in result:
        tolerance = QUANTITIES["draw_length"].tolerance
        result["draw_length"] = _book("draw_length", spec.draw_length_in, tolerance)
    if any(change.change is Change.MODULE_OR_STOP for change in facts.changes):
        result.pop("draw_length", None)  # the baseline was another module's
        result["holding_weight"] = book_bands(spec, allowed)["holding_weight"]
    if any(one.ties is Change.PEEP for one in ties_of(facts.services)):
        result.pop("nock_to_peep", None)  # it goes where the eye wants it
    if wishes.draw_length_in is not None:
        result["draw_length"] = around(
            wishes.draw_length_in,
            QUANTITIES["draw_length"].tolerance,
            "customer",
            "the customer's figure",
        )
    return result


GUESSED_WIDTH = 50.0
"""A guess judges nothing: its band takes in whatever was read, until the baseline gives the target."""


def _not_judged(band: Band) -> Band:
    width = GUESSED_WIDTH * band.half_width
    because = "guessed, not published: the baseline is the target"
    return Band(band.target - width, band.target + width, band.target, "guessed", because)


def _left(name: str, facts: Facts) -> LeftWith | None:
    """What the bow left with, where it is put back as it was: drift is a finding, never the new target."""
    return facts.last_visit(name) if facts.path == CARRY_OVER else None


def _as_it_left(name: str, left: LeftWith) -> Band:
    because = f"as it left on {left.on}"
    return around(left.value, QUANTITIES[name].tolerance, "last visit", because)


def _upright(name: str) -> Band:
    return around(0, QUANTITIES[name].tolerance, "policy", "upright at full draw")


def _put_back(facts: Facts) -> tuple[str, ...]:
    """What goes back to where it was: on a new setup nothing that was another archer's fit."""
    if facts.path == CARRY_OVER:
        return PUT_BACK
    return tuple(name for name in PUT_BACK if QUANTITIES[name].computed or name in LEANS)


def _gap_as_was(spec: BowSpec, facts: Facts, allowed: Tolerances) -> Band | None:
    """The stop gap that this archer is used to, where the shop puts that back; None otherwise."""
    before = facts.baseline("stop_gap")
    wanted = allowed.gap_as_was and facts.path == CARRY_OVER and not spec.one_cam
    if not wanted or before is None or before.summary is None:
        return None
    what = QUANTITIES["stop_gap"]
    because = f"as it came in: {what.say(before.summary.value)}"
    return around(before.summary.value, what.tolerance, "baseline", because)


def _baseline_or_book(name: str, book: Band, facts: Facts) -> Band:
    left = _left(name, facts)
    if left is not None and book.judge(left.value).inside:
        return _as_it_left(name, left)
    before = facts.baseline(name)
    if before is None or before.summary is None:
        return book
    if not book.judge(before.summary.value).inside:
        words = QUANTITIES[name].say(before.summary.value)
        because = f"{book.because}; it came in at {words}, outside that, so the book decides"
        return Band(book.low, book.high, book.target, "book", because)
    return _band(name, before.summary.value, "baseline")


def _held(book: Band, spec: BowSpec, facts: Facts, gap: Band) -> Band:
    """Holding weight as it came in, or as it would have been with its stops together."""
    before = facts.baseline("holding_weight")
    short = _apart("holding_weight", spec, facts, gap)
    if before is None or before.summary is None or not short:
        return _baseline_or_book("holding_weight", book, facts)
    level = before.summary.value + short
    if not book.judge(level).inside:
        words = QUANTITIES["holding_weight"].say(level)
        because = (
            f"{book.because}; it came in at {words}{TOGETHER}, outside that, so the book decides"
        )
        return Band(book.low, book.high, book.target, "book", because)
    band = _band("holding_weight", level, "baseline")
    return Band(band.low, band.high, band.target, "baseline", f"as it came in{TOGETHER}")


def _apart(name: str, spec: BowSpec, facts: Facts, gap: Band) -> float:
    """How much more a reading at the first stop would have been with the stops together."""
    before = facts.baseline("stop_gap")
    if spec.one_cam or before is None or before.summary is None:
        return 0.0
    if gap.judge(before.summary.value).inside:
        return 0.0
    open_in = abs(before.summary.value)
    if name == "holding_weight":
        return HELD_SHORT_SHARE * spec.peak_weight_lbf * min(open_in, HELD_SHORT_REACH_IN)
    return DRAWN_SHORT * open_in


def _weight_band(book: Band, facts: Facts, wishes: Wishes) -> Band:
    tolerance = QUANTITIES["peak_weight"].tolerance
    if wishes.peak_weight_lbf is not None:
        return around(wishes.peak_weight_lbf, tolerance, "customer", "the customer's figure")
    return _baseline_or_book("peak_weight", book, facts)


def _book(name: str, target: float, tolerance: float) -> Band:
    words = QUANTITIES[name].say_size(tolerance)
    return around(target, tolerance, "book", f"the book, {words} either way")


def _band(name: str, target: float, source: str) -> Band:
    quantity = QUANTITIES[name]
    width = f"{quantity.say_size(quantity.tolerance)} either way"
    reason = "as it came in, which is inside the book's band"
    return around(target, quantity.tolerance, source, f"{reason}, {width}")
