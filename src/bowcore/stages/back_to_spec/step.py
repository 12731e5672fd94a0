"""Back to spec: read, plan, press, read again, until every number is fresh and inside its band."""

from collections.abc import Mapping
from typing import ClassVar

from bowcore.evidence.facts import Current, Facts, OpenPress
from bowcore.measurement.bands import Band, judge_as_shown
from bowcore.quantities.catalogue import LEANS, QUANTITIES, REQUIRED
from bowcore.quantities.quantity import Asked
from bowcore.stages.back_to_spec.timing_at_rest import DRAWN_GAP, gap_now, stands_in
from bowcore.stages.fit.fit_needs import fit_asks
from bowcore.stages.step import Situation, Step
from bowcore.work_order.needs import readings_needed
from bowcore.work_order.services import reaches_of


def required_of(facts: Facts) -> tuple[str, ...]:
    """Quantities that must be fresh and inside before this bow goes back, in order.

    A small job has its own; a whole one has every required one. Draw length too where a string or cable is
    new or a figure was asked for: a string that is wrong shows there first (common practice).
    """
    found = set(reaches_of(facts.services, facts.family))
    if not facts.small:
        found |= {*REQUIRED}
    if facts.replaced or facts.draw_asked:
        found.add("draw_length")
    has = facts.setup.features
    order = (*REQUIRED, *(key for key in QUANTITIES if key not in REQUIRED))
    return tuple(key for key in order if key in found and QUANTITIES[key].needs in has)


def may_have_moved(facts: Facts) -> tuple[str, ...]:
    """Quantities that the changes of a small job may have moved and that it leaves unread, in order."""
    if not facts.small:
        return ()
    made = {one.change for one in facts.changes_made}
    own, has = {*required_of(facts), *fit_asks(facts)}, facts.setup.features
    return tuple(
        key
        for key, one in QUANTITIES.items()
        if key not in own and one.asked in (Asked.ALWAYS, Asked.CARRY_OVER) and one.needs in has
        if one.stale_after & made and not ((now := facts.current(key)) and now.fresh)
    )


def draws_wanted(facts: Facts) -> int:
    """Draws before the first reading, once all new parts are on and the bow may be drawn."""
    coming = facts.still_to_replace or facts.unchecked or facts.to_bring_home
    if coming or not facts.may_be_drawn:
        return 0
    return facts.draws_left


def needs_reading(facts: Facts) -> tuple[str, ...]:
    """Required quantities that are stale or were never read with success, in order.

    Lean too where it was read at the start: a leg moves it and the timing together, and one face of a cam
    alone says nothing. Timing at rest instead of the drawn one, where nobody can draw the bow on a board.
    """
    at_rest = stands_in(facts)
    names = [at_rest if at_rest and one == DRAWN_GAP else one for one in required_of(facts)]
    found = [(name, facts.current(name)) for name in (*names, *_leans(facts))]
    return tuple(name for name, now in found if now is None or not now.settled)


def last_readings(facts: Facts) -> tuple[str, ...]:
    """What was read at the start and has moved since: read once more when the rest is home. A small job
    leaves it: it is named at the hand-over."""
    if facts.small:
        return ()
    found, required = [], (*required_of(facts), *fit_asks(facts))
    for name in readings_needed(facts.setup):
        before, now = facts.baseline(name), facts.current(name)
        if name not in required and before and before.summary and now and not now.fresh:
            found.append(name)
    return tuple(found)


def judged_by(facts: Facts) -> tuple[str, ...]:
    """Quantities that must be inside now: the required ones that can be read, and what else is freshly
    read and does not belong to the fit. What is left on purpose is not judged."""
    required = [
        name
        for name in required_of(facts)
        if not _unreadable(facts.current(name)) or (name == DRAWN_GAP and gap_now(facts))
    ]
    fitted = fit_asks(facts)
    others = [n for n in readings_needed(facts.setup) if n not in required and n not in fitted]
    others += _leans(facts)
    fresh = [name for name in others if (now := facts.current(name)) and now.fresh]
    return tuple(name for name in (*required, *fresh) if name not in facts.left)


def outside_bands(facts: Facts, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """Quantities of `judged_by` that are outside their bands, by the best estimate where there is one."""
    return tuple(name for name in judged_by(facts) if _outside(name, facts, bands))


class BackToSpecStep(Step):
    """The loop of readings, plans and press cycles."""

    key: ClassVar[str] = "back_to_spec"
    name: ClassVar[str] = "Back to spec"
    why: ClassVar[str] = "Every number fresh and inside its band."
    minutes: ClassVar[int] = 25
    acts: ClassVar[tuple[str, ...]] = ("draw",)

    def applies(self, facts: Facts) -> bool:
        """Where anything is to be reached, or was turned."""
        turned = any(change.adjuster for change in facts.changes)
        return bool(required_of(facts)) or turned or facts.press is not None

    def done(self, now: Situation) -> bool:
        open_ends = now.to_read or now.outside or now.unread or now.to_draw
        return not open_ends and now.facts.press is None

    def note(self, now: Situation) -> str:
        if now.facts.changes and now.to_read:
            return f"{len(now.to_read)} to read again"
        return f"{len(now.outside)} outside" if now.outside and not now.unread else ""

    def again(self, now: Situation) -> bool:
        return bool(now.facts.changes) and bool(now.to_read)

    def stays_with(self, press: OpenPress) -> bool:
        return not press.for_new_parts

    def next_act(self, now: Situation) -> str:
        if now.to_draw:
            return f"Draw the new threads in, {now.to_draw} times"
        if now.to_read:
            return f"Read {now.facts.named(now.to_read[0]).name.lower()} again"
        return "Plan, then press"


def _unreadable(now: Current | None) -> bool:
    return now is not None and now.cannot_be_read


def _leans(facts: Facts) -> tuple[str, ...]:
    if facts.small:
        return ()
    return tuple(n for n in LEANS if (before := facts.baseline(n)) and before.summary)


def _outside(name: str, facts: Facts, bands: Mapping[str, Band]) -> bool:
    value = facts.best(name)
    if value is None or name not in bands:
        return False
    return not judge_as_shown(facts.named(name), bands[name], value).inside
