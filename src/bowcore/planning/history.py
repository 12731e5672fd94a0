"""What happened to a bow, in order, and what it teaches: readings, turns, replaced parts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from bowcore.measurement.bands import Band
from bowcore.measurement.freshness import TABLE
from bowcore.mechanics.response import Response
from bowcore.planning.estimator import Belief, Innovation, closer_in
from bowcore.planning.gap import GapAnswer, GapChange
from bowcore.planning.problem import SENSIBLE_HALF_TWISTS, Problem, School

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

    steps: Mapping[str, int]


@dataclass(frozen=True)
class Replaced:
    """A part was exchanged for a new one of unknown true length."""

    part: str


@dataclass(frozen=True)
class Changed:
    """Something was changed that no adjuster stands for: what it moves is open again."""

    what: str
    moves: tuple[str, ...]


Event = Read | Turned | Replaced | Changed


@dataclass(frozen=True)
class Lesson:
    """What the first readings after one change said against what was expected."""

    steps: Mapping[str, int]
    innovations: tuple[Innovation, ...]


@dataclass
class Learned:
    """Where a bow stands after its history."""

    belief: Belief
    lessons: list[Lesson] = field(default_factory=list)
    absurd: list[Innovation] = field(default_factory=list)
    spent: dict[str, int] = field(default_factory=dict)
    takes: dict[str, int] = field(default_factory=dict)
    replaced: tuple[str, ...] = ()
    gap_log: list[GapChange] = field(default_factory=list)
    book: Response | None = None
    _before: tuple[Mapping[str, int], float, float] | None = None

    def problem(
        self,
        bands: Mapping[str, Band],
        school: School,
        limits: Mapping[str, tuple[int, int]],
        limit: int = SENSIBLE_HALF_TWISTS,
    ) -> Problem:
        """The planner's question at this point of the history."""
        belief = self._towards(bands)
        return Problem(
            belief.readings(), bands, belief.response(), self.spent, self.replaced,
            school, limit, limits=limits, blocks=belief.blocks(),
            takes={name: self.takes.get(name, 0) for name in belief.quantities},
            process_share=belief.process_share, doubted=dict(belief.doubted),
            kinks=belief.kinks,
        )  # fmt: skip

    @property
    def taught(self) -> Belief:
        """The belief with the gap's slope in the middle: what another bow can learn from it."""
        answer = self._answer()
        if answer is None:
            return self.belief
        return self.belief.with_row(GAP, *answer.row(answer.towards(0.0, 0.0)))

    def _gap(self) -> tuple[float, float] | None:
        """The stop gap and its uncertainty, if it has been read."""
        return self.belief.readings().get(GAP)

    def _answer(self) -> GapAnswer | None:
        if self.belief.curves is None or self.book is None:
            return None
        gap, log = self._gap(), list(self.gap_log)
        if self._before and gap and self.takes.get(GAP):
            steps, before, sigma = self._before
            log.append(GapChange(steps, before, gap[0], float(np.hypot(sigma, gap[1]) / 2**0.5)))
        return GapAnswer(self.belief.curves, self.book, log)

    def _towards(self, bands: Mapping[str, Band]) -> Belief:
        """The belief with the gap's slope on the way to the middle of its band."""
        answer, gap = self._answer(), self._gap()
        if answer is None or gap is None or GAP not in bands:
            return self.belief
        slope = answer.towards(gap[0], bands[GAP].target)
        return self.belief.with_row(GAP, *answer.row(slope))

    def turn(self, steps: Mapping[str, int]) -> None:
        """Take in a change."""
        answer, gap = self._answer(), self._gap()
        if answer is not None and gap is not None:
            self.gap_log = list(answer.log)
            self.belief = self.belief.with_row(GAP, *answer.row(answer.after(gap[0], steps)))
            self._before = (steps, *gap)
        self.belief = self.belief.change(steps)
        after = self._gap()
        if gap is not None and after is not None:
            self.belief = self.belief.shifted({
                name: slope * closer_in(name, gap[0], after[0])
                for name, slope in self.belief.kinks.items()
            })  # fmt: skip
        for key, count in steps.items():
            self.spent[key] = self.spent.get(key, 0) + count

    def open_again(self, names: tuple[str, ...] | None = None) -> None:
        """Take in a change that no adjuster stands for, which moved these numbers or all."""
        answer = self._answer()
        self.gap_log = list(answer.log) if answer else []
        self._before = None
        self.belief = self.belief.forget_values(names)

    def replace_part(self, part: str) -> None:
        """Take in a new part of unknown true length."""
        self.open_again(TABLE["string" if part == "string" else "cable"])
        self.spent |= {key: 0 for key in self.spent if key.startswith(f"{part}.")} | {part: 0}
        self.replaced = (*self.replaced, part)


def learn(belief: Belief, events: Sequence[Event]) -> Learned:
    """Replay a bow's history.

    Parameters
    ----------
    belief : Belief
        The model's prior.
    events : sequence of Event
        In the order in which they happened.

    Returns
    -------
    Learned
        Belief, lessons, absurd readings, steps spent since each part was fitted, takes per
        quantity since the last change.
    """
    now = Learned(belief, book=belief.response())
    steps: Mapping[str, int] = {}
    seen: list[Innovation] = []
    for event in events:
        if isinstance(event, Read):
            now.belief, told = now.belief.observe(event.quantity, event.value, event.sigma)
            if told.absurd:
                now.absurd.append(told)
                continue
            now.takes[event.quantity] = now.takes.get(event.quantity, 0) + event.takes
            if steps and all(told.quantity != s.quantity for s in seen):
                seen.append(told)
            continue
        if steps:
            now.lessons.append(Lesson(steps, tuple(seen)))
        seen, steps = [], {}
        if isinstance(event, Turned):
            now.turn(event.steps)
            steps = event.steps
        elif isinstance(event, Replaced):
            now.replace_part(event.part)
        else:
            now.open_again(event.moves)
        stale = _stale_after(event, belief)
        now.takes = {name: count for name, count in now.takes.items() if name not in stale}
    if steps:
        now.lessons.append(Lesson(steps, tuple(seen)))
    return now


def _stale_after(event: Event, belief: Belief) -> set[str]:
    """Quantities that have to be read again."""
    if isinstance(event, Changed):
        return set(event.moves)
    if isinstance(event, Replaced):
        return set(TABLE["string" if event.part == "string" else "cable"])
    assert isinstance(event, Turned)
    turned = {a.change for a in belief.adjusters if event.steps.get(a.key)}
    return {name for change in turned for name in TABLE[change]}
