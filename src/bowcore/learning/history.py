"""What happened to a bow, in order, and what it teaches: readings, turns, replaced parts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.learning.belief import Belief, Innovation
from bowcore.learning.first_stop_effect import closer_in
from bowcore.learning.gap_model import GapChange, GapModel
from bowcore.measurement.bands import Band
from bowcore.measurement.freshness import stale_after
from bowcore.mechanics.specification import STRING
from bowcore.quantities.changes import Change
from bowcore.response.matrix import Response

GAP = "stop_gap"


@dataclass(frozen=True)
class Read:
    """A quantity was read: its value and standard uncertainty, from how many takes."""

    quantity: str
    value: float
    sigma: float
    takes: int = 1


@dataclass(frozen=True)
class Turned:
    """Steps of each adjuster, signed."""

    steps: Steps


@dataclass(frozen=True)
class Replaced:
    """A part was exchanged for a new one of unknown true length."""

    part: str


@dataclass(frozen=True)
class OpenedAgain:
    """Something was changed that is not an adjuster: what it moves is open again."""

    what: str
    moves: tuple[str, ...]


HistoryEvent = Read | Turned | Replaced | OpenedAgain


@dataclass(frozen=True)
class Lesson:
    """What the first readings after one change said against what was expected."""

    steps: Steps
    innovations: tuple[Innovation, ...]


@dataclass
class Learned:
    """What is known of a bow after its history."""

    belief: Belief
    lessons: list[Lesson] = field(default_factory=list)
    absurd: list[Innovation] = field(default_factory=list)
    spent: dict[str, int] = field(default_factory=dict)
    takes: dict[str, int] = field(default_factory=dict)
    replaced: tuple[str, ...] = ()
    gap_log: list[GapChange] = field(default_factory=list)
    book: Response | None = None
    _before: tuple[Steps, float, float] | None = None

    @property
    def taught(self) -> Belief:
        """The belief with the gap's slope in the middle: what another bow can learn from it."""
        model = self._gap_model()
        if model is None:
            return self.belief
        return self.belief.with_row(GAP, *model.row(model.towards(0.0, 0.0)))

    def _gap(self) -> tuple[float, float] | None:
        """The stop gap and its uncertainty, if it has been read."""
        return self.belief.readings().get(GAP)

    def _gap_model(self) -> GapModel | None:
        if self.belief.curves is None or self.book is None:
            return None
        gap, log = self._gap(), list(self.gap_log)
        if self._before and gap and self.takes.get(GAP):
            steps, before, sigma = self._before
            log.append(GapChange(steps, before, gap[0], float(np.hypot(sigma, gap[1]) / 2**0.5)))
        return GapModel(self.belief.curves, self.book, log)

    def towards(self, bands: Mapping[str, Band]) -> Belief:
        """The belief with the gap's slope on the way to the middle of its band."""
        model, gap = self._gap_model(), self._gap()
        if model is None or gap is None or GAP not in bands:
            return self.belief
        slope = model.towards(gap[0], bands[GAP].target)
        return self.belief.with_row(GAP, *model.row(slope))

    def turn(self, steps: Steps) -> None:
        """Take in a change."""
        model, gap = self._gap_model(), self._gap()
        if model is not None and gap is not None:
            self.gap_log = list(model.log)
            self.belief = self.belief.with_row(GAP, *model.row(model.after(gap[0], steps)))
            self._before = (steps, *gap)
        self.belief = self.belief.change(steps)
        after = self._gap()
        if gap is not None and after is not None:
            self.belief = self.belief.shifted(
                {
                    name: slope * closer_in(name, gap[0], after[0])
                    for name, slope in self.belief.first_stop_effect.items()
                }
            )
        for key, count in steps.items():
            self.spent[key] = self.spent.get(key, 0) + count

    def open_again(self, names: tuple[str, ...] | None = None) -> None:
        """Take in a change that is not an adjuster's, which moved these numbers or all."""
        model = self._gap_model()
        self.gap_log = list(model.log) if model else []
        self._before = None
        self.belief = self.belief.forget_values(names)

    def replace_part(self, part: str) -> None:
        """Take in a new part of unknown true length."""
        self.open_again(_moved_by_new(part))
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
        Belief, lessons, absurd readings, steps spent since each part was fitted, takes per
        quantity since the last change.
    """
    now = Learned(belief, book=belief.response())
    steps = NO_STEPS
    seen: list[Innovation] = []
    for event in events:
        if isinstance(event, Read):
            now.belief, innovation = now.belief.observe(event.quantity, event.value, event.sigma)
            if innovation.absurd:
                now.absurd.append(innovation)
                continue
            now.takes[event.quantity] = now.takes.get(event.quantity, 0) + event.takes
            if steps and all(innovation.quantity != s.quantity for s in seen):
                seen.append(innovation)
            continue
        if steps:
            now.lessons.append(Lesson(steps, tuple(seen)))
        seen, steps = [], NO_STEPS
        if isinstance(event, Turned):
            now.turn(event.steps)
            steps = event.steps
        elif isinstance(event, Replaced):
            now.replace_part(event.part)
        else:
            now.open_again(event.moves)
        stale = _stale(event, belief)
        now.takes = {name: count for name, count in now.takes.items() if name not in stale}
    if steps:
        now.lessons.append(Lesson(steps, tuple(seen)))
    return now


def _moved_by_new(part: str) -> tuple[str, ...]:
    """Quantities that a new part of this role moves."""
    return stale_after(Change.STRING if part == STRING else Change.CABLE)


def _stale(event: HistoryEvent, belief: Belief) -> set[str]:
    """Quantities that have to be read again after an event."""
    if isinstance(event, OpenedAgain):
        return set(event.moves)
    if isinstance(event, Replaced):
        return set(_moved_by_new(event.part))
    assert isinstance(event, Turned)
    turned = {one.change for one in belief.adjusters if event.steps.get(one.key)}
    return {name for change in turned for name in stale_after(change)}
