"""The course of a job: its steps in order, and where the job is by its facts."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band
from bowcore.stages.back_to_spec.step import (
    BackToSpecStep,
    draws_wanted,
    last_readings,
    needs_reading,
    outside_bands,
)
from bowcore.stages.baseline.step import BaselineStep, baseline_missing, marks_missing
from bowcore.stages.check_in.step import CheckInStep
from bowcore.stages.fit.fit_needs import (
    fit_outside,
    fit_unread,
    ties_open,
    unread_before_the_tear,
)
from bowcore.stages.fit.step import FitStep
from bowcore.stages.hand_over.step import HandOverStep
from bowcore.stages.inspection.step import InspectionStep
from bowcore.stages.replace.step import ReplaceStep
from bowcore.stages.shooting_in.shooting_in import shooting_act
from bowcore.stages.shooting_in.step import PaperStep
from bowcore.stages.step import Situation, Step
from bowcore.stages.string_set.step import StringSetStep
from bowcore.stages.work.step import WorkStep
from bowcore.work_order.services import SHOOT_IN

STEPS: tuple[Step, ...] = (
    CheckInStep(), InspectionStep(), BaselineStep(), StringSetStep(), ReplaceStep(),
    BackToSpecStep(), FitStep(), WorkStep(), PaperStep(), HandOverStep(),
)  # fmt: skip
"""In the order of work. A new step is a module beside this one and a place in this line."""


class Progress(StrEnum):
    """How far a step is."""

    DONE = "done"
    NOW = "now"
    TODO = "to do"
    AGAIN = "again"
    HELD = "held"


@dataclass(frozen=True)
class StepState:
    """One step of this job: how far it is, and a few words beneath it."""

    step: Step
    progress: Progress
    note: str = ""


@dataclass(frozen=True)
class NextAct:
    """The one next thing to do, and the step where it is done."""

    text: str
    step: str


@dataclass(frozen=True)
class Course:
    """Where the job is: steps in order, what is next, what must be read, what is outside."""

    steps: tuple[StepState, ...]
    next: NextAct
    situation: Situation

    @property
    def unread(self) -> tuple[str, ...]:
        return self.situation.unread

    @property
    def unmarked(self) -> tuple[str, ...]:
        return self.situation.unmarked

    @property
    def to_read(self) -> tuple[str, ...]:
        return self.situation.to_read

    @property
    def outside(self) -> tuple[str, ...]:
        return self.situation.outside

    @property
    def every_outside(self) -> tuple[str, ...]:
        """What is outside its band, back to spec and in the fit."""
        return (*self.situation.outside, *self.situation.fit_outside)

    @property
    def to_draw(self) -> int:
        return self.situation.to_draw

    @property
    def minutes_left(self) -> int:
        """Usual minutes of the steps that are not done. [min]"""
        return sum(one.step.minutes for one in self.steps if one.progress is not Progress.DONE)

    @property
    def steps_done(self) -> int:
        """Number of steps before the present one."""
        for position, state in enumerate(self.steps):
            if state.progress in (Progress.NOW, Progress.HELD):
                return position
        return len(self.steps)


def course(facts: Facts, bands: Mapping[str, Band]) -> Course:
    """Where a job is.

    Parameters
    ----------
    facts : Facts
        What is known of it.
    bands : mapping of str to Band
        What its numbers must reach.

    Returns
    -------
    Course
        Exactly one step is now or held, unless the job is handed over.
    """
    now = situation_of(facts, bands)
    steps = [step for step in STEPS if step.applies(facts)]
    present = _present(steps, now)
    states = tuple(StepState(step, _progress(step, present, now), step.note(now)) for step in steps)
    return Course(states, _next_act(present, now), now)


def situation_of(facts: Facts, bands: Mapping[str, Band]) -> Situation:
    """What follows from the facts for every step."""
    unread = () if facts.changes else baseline_missing(facts)
    to_read = () if unread else needs_reading(facts)
    outside = outside_bands(facts, bands)
    to_draw, to_fit = draws_wanted(facts), fit_unread(facts)
    if SHOOT_IN in facts.services and to_fit and not shooting_act(facts, bands).done:
        to_fit = unread_before_the_tear(facts, to_fit)
    now = Situation(
        facts, bands, unread, marks_missing(facts), to_read, outside, to_draw, to_fit,
        fit_outside(facts, bands), ties_open(facts),
    )  # fmt: skip
    if unread or to_read or now.outside:
        return now
    return replace(now, to_read=last_readings(facts))


def _present(steps: list[Step], now: Situation) -> Step:
    """The first step that is not done; the one to which the press belongs while it is open."""
    first = next((s for s in steps if s.blocking and not s.done(now)), steps[-1])
    press = now.facts.press
    if press is None or isinstance(first, InspectionStep | BaselineStep):
        return first
    return next(step for step in STEPS if step.stays_with(press))


def _progress(step: Step, present: Step, now: Situation) -> Progress:
    if step is present and not now.facts.handed_over:
        return Progress.HELD if step.held_by(now.facts) else Progress.NOW
    if step.done(now) and STEPS.index(step) <= STEPS.index(present):
        return Progress.DONE
    return Progress.AGAIN if step.again(now) else Progress.TODO


def _next_act(present: Step, now: Situation) -> NextAct:
    """What is open comes before what is next: the press, the bolts, a hold."""
    facts = now.facts
    if facts.handed_over:
        return NextAct(present.next_act(now), present.key)
    if facts.press is not None:
        text = "Gate, then let down" if facts.press.done else "Press is open: make the change"
        return NextAct(text, present.key)
    if facts.bolts_backed_off:
        return NextAct("Turn the limb bolts back in", present.key)
    hold = present.held_by(facts)
    if hold is None:
        return NextAct(present.next_act(now), present.key)
    if hold.key in facts.liftable:
        return NextAct("Lift the hold: the part is new", present.key)
    if hold.danger:
        return NextAct(f"Held: {hold.name.lower()}", present.key)
    return NextAct(hold.name, hold.lifted_at or present.key)
