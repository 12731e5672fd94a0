"""What keeps a bow from going back to its owner."""

from collections.abc import Mapping
from dataclasses import dataclass

from bowcore.accessories.on_the_bow import ARROW
from bowcore.evidence.facts import Facts
from bowcore.learning.settling import DRAWS_TO_SETTLE
from bowcore.measurement.bands import Band, BandSide, judge_as_shown
from bowcore.quantities.catalogue import LEANS
from bowcore.stages.back_to_spec.step import BackToSpecStep, required_of
from bowcore.stages.baseline.step import BaselineStep
from bowcore.stages.course import Course, Progress, course
from bowcore.stages.fit.fit_needs import arrow_too_light, fit_asks
from bowcore.stages.fit.step import FitStep
from bowcore.stages.inspection.step import InspectionStep
from bowcore.stages.replace.step import ReplaceStep
from bowcore.stages.shooting_in.step import PaperStep
from bowcore.stages.shooting_in.tuning import say_paper
from bowcore.stages.work.step import WorkStep, work_open
from bowcore.work_order import cautions
from bowcore.work_order.holds import HOLDS
from bowcore.work_order.needs import mark, readings_needed
from bowcore.work_order.services import service_replacing

RECHECK_DAYS = 21
RECHECK_SHOTS, RECHECK_SOON = 100, 30
"""New threads settle over the first dozens of shots, those that were not drawn in over the first thirty
(common practice, no published source)."""


@dataclass(frozen=True)
class Blocker:
    """What keeps a bow from its owner, in words, and the step where it is mended; `at` is the quantity that
    is opened there, `thing` what is written down anew instead."""

    words: str
    step: str
    at: str = ""
    thing: str = ""


def blockers(facts: Facts, bands: Mapping[str, Band]) -> list[Blocker]:
    """What keeps this bow from its owner, what is mended first at the top; empty when nothing does."""
    now = course(facts, bands)
    here, found = now.next.step, []
    if facts.press is not None:
        found.append(Blocker("The press is open.", here))
    found += [
        Blocker(f"Hold: {HOLDS[key].name.lower()}.", InspectionStep.key)
        for key in facts.holds
        if HOLDS[key].danger
    ]
    if not facts.inspected:
        found.append(Blocker("It has not been inspected.", InspectionStep.key))
    found += [Blocker(_stale_line(name, facts), BaselineStep.key, name) for name in now.unread]
    found += _unreached(facts, bands, now)
    found += [Blocker(f"{one.name}: not done yet.", FitStep.key) for one in now.situation.to_tie]
    found += [
        Blocker(f"{mark(key).name}: not written down as done.", WorkStep.key)
        for key in work_open(facts)
    ]
    found += [Blocker(stop, here, thing=ARROW)] if (stop := arrow_too_light(facts)) else []
    if PaperStep.key in _open_steps(now):
        found.append(Blocker(_say_paper_open(facts, bands), PaperStep.key))
    found += [
        Blocker(f"Asked for and not done: {service_replacing(role).name.lower()}.", ReplaceStep.key)
        for role in facts.still_to_replace
    ]
    return found


def _unreached(facts: Facts, bands: Mapping[str, Band], now: Course) -> list[Blocker]:
    """What is to be read again, and what is outside its band."""
    spec, fit = BackToSpecStep.key, FitStep.key
    unread = [(name, spec) for name in now.to_read if name not in now.unread]
    unread += [(name, fit) for name in now.situation.fit_unread if name not in now.to_read]
    outside = [(n, spec) for n in now.outside] + [(n, fit) for n in now.situation.fit_outside]
    return [
        *(Blocker(_stale_line(name, facts), step, name) for name, step in unread),
        *(
            Blocker(outside_line(name, facts, bands), step)
            for name, step in outside
            if name not in now.to_read
        ),
    ]


def _open_steps(now: Course) -> set[str]:
    """Steps of the job that are not done."""
    return {state.step.key for state in now.steps if state.progress is not Progress.DONE}


def _say_paper_open(facts: Facts, bands: Mapping[str, Band]) -> str:
    shown = say_paper(facts, bands)
    return f"Not shot in yet. {shown}".rstrip()


def stands_on_the_sheet(facts: Facts) -> tuple[str, ...]:
    """Quantities that go with the bow in print: what this job read, had to reach, and fitted."""
    asked = (*readings_needed(facts.setup), *required_of(facts), *fit_asks(facts))
    leans = (name for name in LEANS if (now := facts.current(name)) and now.summary)
    return tuple(dict.fromkeys((*asked, *leans)))


def say_at_hand_over(facts: Facts) -> tuple[str, ...]:
    """What is printed for the customer; how a new string settles only where one is on."""
    settles = (cautions.NEW_STRING_SETTLES,) if facts.replaced else ()
    return (*settles, *cautions.AT_HAND_OVER)


def left_as_they_are(facts: Facts, bands: Mapping[str, Band]) -> list[str]:
    """What goes out unread or outside its band, each with the reason of whoever stands for it."""
    found = []
    for name, reason in facts.left.items():
        now = facts.current(name)
        if name in bands and now and now.summary:
            value = facts.estimates.get(name, now.summary.value)
            inside = judge_as_shown(facts.named(name), bands[name], value).inside
            line = facts.named(name).name if inside else outside_line(name, facts, bands)[:-1]
            found.append(f"{line}. Left on purpose: {reason}.")
    for name in stands_on_the_sheet(facts):
        now = facts.current(name)
        if now is not None and now.summary is None and now.reason and now.stale is None:
            found.append(f"{facts.named(name).name} was not read: {now.reason}.")
    return found


def recheck_shots(facts: Facts) -> int:
    """Shots after which the bow is looked at again: soon where new threads are still to settle."""
    counts = facts.draws_counted
    settled = counts is None or sum(counts) >= DRAWS_TO_SETTLE
    return RECHECK_SHOTS if settled else RECHECK_SOON


def overridable(facts: Facts) -> bool:
    """Whether a manager may hand over in spite of the blockers: never with a press open or danger."""
    return facts.press is None and not any(HOLDS[key].danger for key in facts.holds)


def _stale_line(name: str, facts: Facts) -> str:
    current = facts.current(name)
    if current is None:
        return f"{facts.named(name).name} was never read."
    if current.skipped:
        return f"{facts.named(name).name} was skipped."
    if current.summary is None:
        return f"{facts.named(name).name} could not be read: {current.reason}."
    if current.apart and current.stale is None:
        return f"{facts.named(name).name} was read between other points than the baseline."
    return f"{facts.named(name).name} was read before the last change."


def outside_line(name: str, facts: Facts, bands: Mapping[str, Band]) -> str:
    """By how much a number is outside its band, and which way, in words."""
    quantity, value = facts.named(name), facts.best(name)
    assert value is not None
    verdict = judge_as_shown(quantity, bands[name], value)
    if verdict.inside:
        return f"{quantity.name} is inside its band."
    word = quantity.low_word if verdict.side is BandSide.LOW else quantity.high_word
    return f"{quantity.name} is {quantity.say_size(bands[name].off(verdict))} {word}."
