"""What happened to a bow, in order, and what it teaches: readings, turns, replaced parts."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from bowcore.measurement.bands import Band
from bowcore.planning.estimator import Belief, Innovation
from bowcore.planning.problem import SENSIBLE_HALF_TWISTS, Problem, School


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


Event = Read | Turned | Replaced


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

    def problem(
        self,
        bands: Mapping[str, Band],
        school: School,
        limits: Mapping[str, tuple[int, int]],
        limit: int = SENSIBLE_HALF_TWISTS,
    ) -> Problem:
        """The planner's question at this point of the history."""
        return Problem(
            self.belief.readings(), bands, self.belief.response(), self.spent, self.replaced,
            school, limit, limits=limits, blocks=self.belief.blocks(),
            takes={name: self.takes.get(name, 0) for name in self.belief.quantities},
            process_share=self.belief.process_share, doubted=dict(self.belief.doubted),
        )  # fmt: skip


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
    now = Learned(belief)
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
        seen, now.takes, steps = [], {}, {}
        if isinstance(event, Turned):
            now.belief, steps = now.belief.change(event.steps), event.steps
            for key, count in event.steps.items():
                now.spent[key] = now.spent.get(key, 0) + count
        else:
            now.belief = now.belief.forget_values()
            now.spent[event.part] = 0
            now.replaced = (*now.replaced, event.part)
    if steps:
        now.lessons.append(Lesson(steps, tuple(seen)))
    return now
