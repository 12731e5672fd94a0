"""Timing where there is no draw board: what the cams show at rest stands in for the gap at full draw."""

from bowcore.bow.static_timing import GapEstimate, gap_from_ratio
from bowcore.evidence.facts import Facts
from bowcore.quantities.catalogue import QUANTITIES, TIMED_AT_REST, say_gap
from bowcore.quantities.precision import Precision
from bowcore.stages.back_to_spec.order_rules import order_reasons

DRAWN_GAP = "stop_gap"
METHOD_OF = dict(zip(TIMED_AT_REST, ("marks", "tip", "sight_hole"), strict=True))
"""How each of these readings is turned into a gap, by its key."""


def gap_by(facts: Facts, key: str, value: float) -> GapEstimate | None:
    """The gap at full draw that a reading at rest means; None where the bow has no twin to say so.

    Raises
    ------
    Refused
        The limb bolts are not bottomed: marks at rest mean nothing then.
    """
    if facts.gap_per_turn is None:
        return None
    return gap_from_ratio(facts.gap_per_turn, METHOD_OF[key], value, _bottomed(facts))


def stands_in(facts: Facts) -> str:
    """The reading at rest that stands in for a gap that cannot be read; "" where none does.

    The drawn reading wins: as long as it can be read, nothing stands in for it.
    """
    drawn = facts.current(DRAWN_GAP)
    if facts.gap_per_turn is None or drawn is None or drawn.summary is not None or not drawn.reason:
        return ""
    return newest_at_rest(facts) if _bottomed(facts) else ""


def newest_at_rest(facts: Facts) -> str:
    """The way of reading timing at rest that was used last; "" if none was."""
    read = [key for key in TIMED_AT_REST if (now := facts.current(key)) and now.summary]
    return max(read, key=lambda key: _seq(facts, key), default="")


def gap_now(facts: Facts) -> GapEstimate | None:
    """The gap by what the cams show at rest, where that stands in for it and is still true."""
    key = stands_in(facts)
    now = facts.current(key) if key else None
    if now is None or not now.fresh or now.summary is None:
        return None
    return gap_by(facts, key, now.summary.value)


def as_precision(found: GapEstimate) -> Precision:
    """How sure such a gap is, as the estimator takes it: it does not average out."""
    return Precision(0.0, found.sigma_in)


def say_at_rest(facts: Facts) -> str:
    """What the plan has to say of a timing that was read at rest; "" where the drawn one was read."""
    drawn = facts.current(DRAWN_GAP)
    if drawn is None or drawn.summary is not None or not drawn.reason or drawn.skipped:
        return ""
    found = gap_now(facts)
    if found is None and newest_at_rest(facts) and not _bottomed(facts):
        name = QUANTITIES[newest_at_rest(facts)].name
        return f"{name}: it says nothing until both limb bolts are counted and bottomed."
    if found is None:
        return (
            "Cam timing cannot be read here: nothing is said of it. Marks, tips or sight holes at rest would "
            "give it roughly; both limb bolts bottomed first."
        )
    name = QUANTITIES[stands_in(facts)].name
    return f"{name}: {say_estimate(found)}"


def say_estimate(found: GapEstimate) -> str:
    """The gap with its doubt, in a sentence."""
    size = QUANTITIES[DRAWN_GAP].say_size(found.sigma_in)
    return f"at full draw about {say_gap(found.gap_in)}, give or take {size}. A drawn reading wins."


def _bottomed(facts: Facts) -> bool:
    return "timing_at_rest" not in order_reasons(facts)


def _seq(facts: Facts, key: str) -> int:
    now = facts.current(key)
    return now.seq if now else 0
