"""What happened to a bow, in order, and what it teaches: readings, turns, replaced parts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from bowcore.adjusters.registry import adjuster_in
from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import STRING
from bowcore.learning.belief import Belief, Innovation
from bowcore.learning.mislog import Mislog, mislog
from bowcore.learning.takes import believed
from bowcore.measurement.freshness import stale_after
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change, kind_of_legs
from bowcore.quantities.precision import Precision

SURPRISING = 3.0
"""A single reading further off than so many standard deviations is read again (common practice)."""


@dataclass(frozen=True)
class Read:
    """A quantity was read: all takes of one moment, in its unit.

    `precision` is that of one take; the quantity's usual tool's if absent.
    """

    quantity: str
    takes: tuple[float, ...]
    precision: Precision | None = None


@dataclass(frozen=True)
class Turned:
    """Steps of each adjuster, signed."""

    steps: Steps


@dataclass(frozen=True)
class Replaced:
    """A part was exchanged for a new one of unknown true length."""

    part: str


@dataclass(frozen=True)
class Drawn:
    """The bow was drawn or shot so many times: new threads settle."""

    draws: int


@dataclass(frozen=True)
class OpenedAgain:
    """Something was changed that is not an adjuster: what it moves is open again."""

    what: str
    moves: tuple[str, ...]


HistoryEvent = Read | Turned | Replaced | Drawn | OpenedAgain


@dataclass(frozen=True)
class Lesson:
    """What the first readings after one change said against what was expected.

    `before` is what was believed when it was made, kept for the last change only, and `spent` what was
    in each adjuster; `reads` what was read after it.
    """

    steps: Steps
    innovations: tuple[Innovation, ...]
    before: Belief | None = None
    spent: Mapping[str, int] = field(default_factory=dict)
    reads: tuple[tuple[str, float, float], ...] = ()


@dataclass(frozen=True)
class Visited:
    """Steps in every adjuster at some time, and what the bow read then, with its uncertainty."""

    spent: Mapping[str, int]
    readings: Mapping[str, tuple[float, float]]

    def away(self, spent: Mapping[str, int]) -> Steps:
        """What would have to be turned to get back there."""
        keys = {*self.spent, *spent}
        return Steps({key: self.spent.get(key, 0) - spent.get(key, 0) for key in sorted(keys)})


@dataclass
class Learned:
    """What is known of a bow after its history.

    `takes` counts what was believed of each quantity since the last change, `shown` is that; `odd` are the
    innovations of takes that taught nothing; `surprising` what was read once, and far from where it
    was expected; `disbelieved` the same, so far that it was not taken in at all; `visited` where the
    bow has been with these parts on.
    """

    belief: Belief
    lessons: list[Lesson] = field(default_factory=list)
    odd: list[Innovation] = field(default_factory=list)
    spent: dict[str, int] = field(default_factory=dict)
    takes: dict[str, int] = field(default_factory=dict)
    shown: dict[str, tuple[float, ...]] = field(default_factory=dict)
    surprising: dict[str, float] = field(default_factory=dict)
    disbelieved: dict[str, float] = field(default_factory=dict)
    replaced: tuple[str, ...] = ()
    visited: list[Visited] = field(default_factory=list)

    @property
    def doubted(self) -> Mislog | None:
        """The last change, if the bow moved as after another one that people mistake it for."""
        last = self.lessons[-1] if self.lessons else None
        if last is None or last.before is None:
            return None
        return mislog(last.before, last.steps, last.spent, last.reads)

    def read(self, event: Read, precision: Precision) -> tuple[Innovation, float]:
        """Take in what was read of one quantity at one moment; its own uncertainty comes with it."""
        name = event.quantity
        one = self.belief.expected(name, precision.sigma)
        what = QUANTITIES[name]
        kept = believed(event.takes, precision, *one, apart=bool(what.take_names), usual=what.takes)
        for take in kept.odd:
            self.odd.append(Innovation(name, *one, take, disbelieved=True))
        self.disbelieved.pop(name, None)
        self.surprising.pop(name, None)
        if not kept.takes:
            self.disbelieved[name] = event.takes[-1]
            return Innovation(name, *one, event.takes[-1], disbelieved=True), one[1]
        value, sigma = kept.mean, precision.of_mean(len(kept.takes))
        innovation = Innovation(name, *self.belief.expected(name, sigma), value)
        if len(kept.takes) == 1 and innovation.off_sigmas > SURPRISING:
            self.surprising[name] = value
        self.belief = self.belief.observe(name, value, sigma)
        self.takes[name] = self.takes.get(name, 0) + len(kept.takes)
        self.shown[name] = (*self.shown.get(name, ()), *kept.takes)
        return innovation, sigma

    def turn(self, steps: Steps) -> None:
        """Take in a change."""
        self.visited.append(Visited(dict(self.spent), self.belief.readings()))
        self.belief = self.belief.change(self.worth(steps))
        for key, count in steps.items():
            self.spent[key] = self.spent.get(key, 0) + count

    def worth(self, steps: Steps) -> dict[str, float]:
        """Steps of a change in steps of the usual size, from where each adjuster is."""
        adjusters = self.belief.adjusters
        return {
            key: adjuster_in(adjusters, key).worth(self.spent.get(key, 0), count)
            for key, count in steps.items()
        }

    def replace_part(self, part: str) -> None:
        """Take in a new part of unknown true length."""
        self.belief = self.belief.fitted(part, _moved_by_new(part))
        self.spent |= {one.key: 0 for one in self.belief.adjusters if one.part == part}
        self.replaced = (*self.replaced, part)


def learn(belief: Belief, events: Sequence[HistoryEvent]) -> Learned:
    """Replay a bow's history.

    Parameters
    ----------
    belief : Belief
        The model's prior.
    events : sequence of HistoryEvent
        In the order in which they happened.

    Returns
    -------
    Learned
        Belief, lessons, odd readings, steps spent since each part was fitted, takes per quantity
        since the last change.
    """
    now = Learned(belief)
    precision = _precision_of(events)
    lesson: Lesson | None = None
    for event in _changes_joined(events):
        if isinstance(event, Read):
            found, sigma = now.read(event, event.precision or precision[event.quantity])
            if lesson and not found.disbelieved:
                lesson = _with(lesson, found, sigma)
            continue
        if lesson:
            now.lessons.append(replace(lesson, before=None))
        lesson = _begun(now, event.steps) if isinstance(event, Turned) else None
        _change(now, event)
        stale = _stale(event, now.belief)
        for kept in (now.takes, now.shown, now.surprising, now.disbelieved):
            for name in stale & set(kept):
                kept.pop(name)
    if lesson:
        now.lessons.append(lesson)
    return now


def _begun(now: Learned, steps: Steps) -> Lesson:
    return Lesson(steps, (), now.belief, dict(now.spent))


def _change(now: Learned, event: Turned | Replaced | Drawn | OpenedAgain) -> None:
    if isinstance(event, Turned):
        now.turn(event.steps)
        return
    now.visited.clear()
    if isinstance(event, Replaced):
        now.replace_part(event.part)
    elif isinstance(event, Drawn):
        now.belief = now.belief.drawn(event.draws)
    else:
        now.belief = now.belief.forget_values(event.moves)


def _changes_joined(events: Sequence[HistoryEvent]) -> list[HistoryEvent]:
    """Changes logged one by one with nothing read in between are one change: a surprise afterwards
    belongs to all of them. What was read at one moment is one reading; a change of no steps, as one that was
    corrected away, divides nothing."""
    found: list[HistoryEvent] = []
    for event in events:
        last = found[-1] if found else None
        if isinstance(event, Turned) and not event.steps:
            continue
        if isinstance(event, Turned) and isinstance(last, Turned):
            found[-1] = Turned(last.steps + event.steps)
        elif isinstance(event, Read):
            at = _same_moment(found, event)
            if at is None:
                found.append(event)
            else:
                before = found[at]
                assert isinstance(before, Read)
                found[at] = Read(event.quantity, before.takes + event.takes, event.precision)
        else:
            found.append(event)
    return found


def _same_moment(found: list[HistoryEvent], event: Read) -> int | None:
    """Where this quantity was read before, with no change since that touched it."""
    for at in range(len(found) - 1, -1, -1):
        before = found[at]
        if not isinstance(before, Read):
            return None
        if before.quantity == event.quantity:
            return at
    return None


def _precision_of(events: Sequence[HistoryEvent]) -> dict[str, Precision]:
    """How much repeats of each quantity scatter on this job, by its usual tool and by themselves."""
    groups: dict[str, list[tuple[float, ...]]] = {name: [] for name in QUANTITIES}
    for event in _changes_joined(events):
        if isinstance(event, Read) and len(event.takes) > 1:
            groups[event.quantity].append(event.takes)
    return {
        name: one.precision if one.take_names else one.precision.learned(groups[name])
        for name, one in QUANTITIES.items()
    }


def _with(lesson: Lesson, found: Innovation, sigma: float) -> Lesson:
    if any(found.quantity == one.quantity for one in lesson.innovations):
        return lesson
    read = (found.quantity, found.value, sigma)
    return replace(lesson, innovations=(*lesson.innovations, found), reads=(*lesson.reads, read))


def _moved_by_new(part: str) -> tuple[str, ...]:
    """Quantities that a new part of this role moves."""
    return stale_after(Change.STRING if part == STRING else Change.CABLE)


def _stale(event: HistoryEvent, belief: Belief) -> set[str]:
    """Quantities that have to be read again after an event."""
    if isinstance(event, OpenedAgain):
        return set(event.moves)
    if isinstance(event, Replaced):
        return set(_moved_by_new(event.part))
    if isinstance(event, Drawn):
        drawn = Change.SHOTS if STRING in belief.draws else Change.CABLE
        return set(stale_after(drawn)) if belief.draws else set()
    assert isinstance(event, Turned)
    return {name for change in _kinds_of(event, belief) for name in stale_after(change)}


def _kinds_of(event: Turned, belief: Belief) -> set[Change]:
    """What was changed: the legs of one yoke are one change, as they were turned together."""
    legs: dict[str, list[int]] = {}
    kinds = set()
    for one in belief.adjusters:
        count = event.steps.get(one.key, 0)
        if count and one.change is Change.YOKE_LEG:
            legs.setdefault(one.part, []).append(count)
        elif count:
            kinds.add(one.change)
    return kinds | {kind_of_legs(steps) for steps in legs.values()}
