"""The course of a job: its steps as data, and where a job stands by its facts."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import LEANS, REQUIRED
from bowcore.service.facts import Facts
from bowcore.service.inspection import HoldKind, stopped_by
from bowcore.service.needs import mark, marks_needed, readings_needed


class State(StrEnum):
    """Where one step stands."""

    DONE = "done"
    NOW = "now"
    TODO = "to do"
    AGAIN = "again"
    HELD = "held"


@dataclass(frozen=True)
class Step:
    """A step as the trade knows it. `minutes` is a usual figure, for the rack's load."""

    key: str
    name: str
    why: str
    minutes: int


STEPS = (
    Step("check_in", "Check in", "Who, which bow, what for, when.", 5),
    Step("look_over", "Look over", "A broken strand or a cracked limb is never drawn.", 5),
    Step(
        "baseline", "Baseline", "What this bow is now outranks the book when you put it back.", 15
    ),
    Step("set", "Set and parts", "A part that is not to length is found before it is on.", 5),
    Step("replace", "Replace", "One part at a time tells which one is long or short.", 25),
    Step("spec", "Back to spec", "Every number fresh and inside its band.", 25),
    Step("hand_over", "Hand over", "The sheet goes with the bow.", 10),
)


@dataclass(frozen=True)
class StepState:
    """One step of this job: its state and a few words beneath it."""

    step: Step
    state: State
    note: str = ""


@dataclass(frozen=True)
class NextAct:
    """The one next thing to do, and the step where it is done."""

    text: str
    step: str


@dataclass(frozen=True)
class Course:
    """Where the job stands: steps in order, what is next, what must be read, what is outside."""

    steps: tuple[StepState, ...]
    next: NextAct
    unread: tuple[str, ...]
    to_read: tuple[str, ...]
    outside: tuple[str, ...]
    unmarked: tuple[str, ...] = ()

    @property
    def minutes_left(self) -> int:
        return sum(s.step.minutes for s in self.steps if s.state is not State.DONE)

    @property
    def progress(self) -> int:
        """Number of steps that lie behind: those before the present one."""
        for position, state in enumerate(self.steps):
            if state.state in (State.NOW, State.HELD):
                return position
        return len(self.steps)


def course(facts: Facts, bands: Mapping[str, Band]) -> Course:
    """Where a job stands.

    Parameters
    ----------
    facts : Facts
        What is known of it.
    bands : mapping of str to Band
        What its numbers must reach.

    Returns
    -------
    Course
        Exactly one step is `now`, unless the job is handed over.
    """
    unread, unmarked = baseline_missing(facts), marks_missing(facts)
    to_read = () if unread else needs_reading(facts)
    outside = tuple(name for name in judged_by(facts) if _outside(name, facts, bands))
    if not (unread or to_read or outside):
        to_read = last_readings(facts)
    done = {
        "check_in": True,
        "look_over": facts.looked_over,
        "baseline": facts.looked_over and (not (unread or unmarked) or bool(facts.changes)),
        "set": True,
        "replace": not (facts.still_to_replace or facts.unchecked or _press_for(facts, "replace")),
        "spec": not to_read and not outside and facts.press is None and not unread,
        "hand_over": facts.handed_over,
    }
    now = next((s.key for s in STEPS if not done[s.key]), "hand_over")
    if facts.press is not None and now not in ("look_over", "baseline"):
        now = "replace" if facts.press.purpose == "replace" else "spec"
    states = tuple(
        _state(step, done, now, facts, (unread + unmarked, to_read, outside))
        for step in steps_of(facts)
    )
    next_act = _next_act(now, facts, unread + unmarked, to_read, outside)
    return Course(states, next_act, unread, to_read, outside, unmarked)


def steps_of(facts: Facts) -> tuple[Step, ...]:
    """The steps that this job has: nothing is replaced where nothing was asked to be."""
    return tuple(s for s in STEPS if s.key not in ("set", "replace") or facts.to_replace)


def baseline_missing(facts: Facts) -> tuple[str, ...]:
    """Baseline quantities not read often enough nor said to be unreadable, in order of work."""
    found = [(name, facts.baseline(name)) for name in readings_needed(facts.setup)]
    return tuple(name for name, current in found if current is None or not current.enough)


def marks_missing(facts: Facts) -> tuple[str, ...]:
    """Marks that this path needs before the press and that nobody has written down."""
    return tuple(key for key in marks_needed(facts.setup) if key not in facts.marks)


def needs_reading(facts: Facts) -> tuple[str, ...]:
    """Required quantities that are stale or were never read with success, in order.

    Lean too where it was read at the start: a leg moves it and the timing together.
    """
    found = [(name, facts.current(name)) for name in (*REQUIRED, *_lean(facts))]
    return tuple(name for name, now in found if now is None or not now.fresh or not now.enough)


def last_readings(facts: Facts) -> tuple[str, ...]:
    """What was read at the start and has moved since: read once more when the rest is home."""
    found = []
    for name in readings_needed(facts.setup):
        before, now = facts.baseline(name), facts.current(name)
        if name not in REQUIRED and before and before.summary and now and not now.fresh:
            found.append(name)
    return tuple(found)


def judged_by(facts: Facts) -> tuple[str, ...]:
    """Quantities that must be inside now: the required ones, and what else is freshly read."""
    others = [name for name in readings_needed(facts.setup) if name not in REQUIRED]
    others += _lean(facts)
    fresh = [name for name in others if (now := facts.current(name)) and now.fresh]
    return (*REQUIRED, *fresh)


def _lean(facts: Facts) -> tuple[str, ...]:
    return tuple(n for n in LEANS if (before := facts.baseline(n)) and before.summary)


def _outside(name: str, facts: Facts, bands: Mapping[str, Band]) -> bool:
    current = facts.current(name)
    if current is None or current.summary is None or name not in bands:
        return False
    return not bands[name].judge(current.summary.value).inside


def _press_for(facts: Facts, purpose: str) -> bool:
    return facts.press is not None and facts.press.purpose == purpose


def _state(
    step: Step,
    done: Mapping[str, bool],
    now: str,
    facts: Facts,
    open_ends: tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]],
) -> StepState:
    unread, to_read, outside = open_ends
    note = ""
    if step.key == "set" and facts.set_state != "here" and facts.still_to_replace:
        return StepState(step, State.TODO, facts.set_state or "not ordered")
    if step.key == "baseline" and unread and not facts.changes:
        asked = len(readings_needed(facts.setup)) + len(marks_needed(facts.setup))
        note = f"{asked - len(unread)} of {asked} on record"
    if step.key == "spec" and facts.changes and to_read:
        note = f"{len(to_read)} to read again"
    elif step.key == "spec" and outside and not unread:
        note = f"{len(outside)} outside"
    if step.key == now and not facts.handed_over:
        return StepState(step, State.HELD if _held(now, facts) else State.NOW, note)
    if done[step.key] and _comes_before(step.key, now):
        return StepState(step, State.DONE, note)
    again = step.key == "spec" and bool(facts.changes) and bool(to_read)
    return StepState(step, State.AGAIN if again else State.TODO, note)


def _comes_before(key: str, now: str) -> bool:
    order = [step.key for step in STEPS]
    return order.index(key) <= order.index(now)


_ACTS_OF = {
    "baseline": ("press",),
    "replace": ("press", "replace"),
    "spec": ("draw",),
    "hand_over": ("hand_over",),
}
"""What a step needs to be allowed; the baseline goes on at rest unless the bow must not be touched."""


def _held(now: str, facts: Facts) -> HoldKind | None:
    """The first hold that stops the present step, or None."""
    stopping = (stopped_by(facts.holds, act) for act in _ACTS_OF.get(now, ()))
    return next((hold for hold in stopping if hold is not None), None)


def _next_act(
    now: str,
    facts: Facts,
    unread: tuple[str, ...],
    to_read: tuple[str, ...],
    outside: tuple[str, ...],
) -> NextAct:
    if facts.handed_over:
        return NextAct("Handed over", "hand_over")
    if facts.press is not None:
        text = "Gate, then let down" if facts.press.done else "Press is open: make the change"
        return NextAct(text, now)
    if facts.bolts_away:
        return NextAct("Limb bolts back in", now)
    if now == "look_over":
        return NextAct("Look it over", now)
    danger = _held(now, facts)
    if danger and danger.key == "set":
        return NextAct(danger.name, "set")
    if danger:
        return NextAct(f"Held: {danger.name.lower()}" if danger.danger else danger.name, now)
    if now == "baseline":
        if unread[0] in marks_needed(facts.setup):
            return NextAct(f"Write down: {mark(unread[0]).name.lower()}", now)
        return NextAct(f"Read {facts.named(unread[0]).name.lower()}", now)
    if now == "replace" and facts.unchecked:
        return NextAct("See what the new part says", now)
    if now == "replace":
        return NextAct("Open the press and replace", now)
    if now == "spec" and to_read:
        return NextAct(f"Read {facts.named(to_read[0]).name.lower()} again", now)
    if now == "spec" and outside:
        return NextAct("Plan, then press", now)
    return NextAct("Hand it over", "hand_over")
