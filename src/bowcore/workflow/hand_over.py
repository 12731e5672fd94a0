"""What keeps a bow from going back to its owner."""

from collections.abc import Mapping

from bowcore.learning.settling import DRAWS_TO_SETTLE
from bowcore.measurement.bands import Band, BandSide
from bowcore.workflow.facts import Facts
from bowcore.workflow.fit_needs import arrow_too_light
from bowcore.workflow.holds import HOLDS
from bowcore.workflow.services import service_replacing
from bowcore.workflow.steps.back_to_spec import required_of
from bowcore.workflow.steps.course import Course, Progress, course
from bowcore.workflow.steps.paper import PaperStep
from bowcore.workflow.tuning import say_paper

RECHECK_DAYS = 21
RECHECK_SHOTS, RECHECK_SOON = 100, 30
"""New threads settle over the first dozens of shots, those that were not drawn in over the first thirty
(common practice, no published source)."""


def blockers(facts: Facts, bands: Mapping[str, Band]) -> list[str]:
    """What keeps this bow from its owner, in words; empty when nothing does."""
    now = course(facts, bands)
    found = []
    if facts.press is not None:
        found.append("The press is open.")
    found += [f"Hold: {HOLDS[key].name.lower()}." for key in facts.holds if HOLDS[key].danger]
    if not facts.inspected:
        found.append("It has not been inspected.")
    found += [f"{facts.named(name).name} was never read." for name in now.unread]
    found += [_stale_line(name, facts) for name in now.to_read if name not in now.unread]
    found += [outside_line(n, facts, bands) for n in now.every_outside if n not in now.to_read]
    found += [_stale_line(name, facts) for name in now.situation.fit_unread]
    found += [stop] if (stop := arrow_too_light(facts)) else []
    found += [_say_paper_open(facts, bands)] if PaperStep.key in _open_steps(now) else []
    found += [
        f"Asked for and not done: {service_replacing(role).name.lower()}."
        for role in facts.still_to_replace
    ]
    return found


def _open_steps(now: Course) -> set[str]:
    """Steps of the job that are not done."""
    return {state.step.key for state in now.steps if state.progress is not Progress.DONE}


def _say_paper_open(facts: Facts, bands: Mapping[str, Band]) -> str:
    shown = say_paper(facts, bands)
    return f"Not shot in yet. {shown}".rstrip()


def left_as_they_are(facts: Facts, bands: Mapping[str, Band]) -> list[str]:
    """What goes out unread or outside its band, each with the reason of whoever stands for it."""
    found = []
    for name, reason in facts.left.items():
        now = facts.current(name)
        if name in bands and now and now.summary:
            inside = bands[name].judge(facts.estimates.get(name, now.summary.value)).inside
            line = facts.named(name).name if inside else outside_line(name, facts, bands)[:-1]
            found.append(f"{line}. Left on purpose: {reason}.")
    for name in required_of(facts):
        now = facts.current(name)
        if now is not None and now.cannot_be_read:
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
    if current.summary is None:
        return f"{facts.named(name).name} could not be read: {current.reason}."
    if current.apart and current.stale is None:
        return f"{facts.named(name).name} was read between other points than the baseline."
    return f"{facts.named(name).name} was read before the last change."


def outside_line(name: str, facts: Facts, bands: Mapping[str, Band]) -> str:
    """By how much a number is outside its band, and which way, in words."""
    quantity, current = facts.named(name), facts.current(name)
    assert current is not None and current.summary is not None
    verdict = bands[name].judge(facts.estimates.get(name, current.summary.value))
    if verdict.inside:
        return f"{quantity.name} is at the very edge of its band."
    word = quantity.low_word if verdict.side is BandSide.LOW else quantity.high_word
    return f"{quantity.name} is {quantity.say_size(verdict.by)} {word}."
