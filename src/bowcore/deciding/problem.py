"""The question put to the planner, and the shape of its answer."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Adjuster, Needs
from bowcore.adjusters.steps import Steps
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.bow.modules import Module
from bowcore.errors import BadInput
from bowcore.learning.belief import PROCESS_SHARE, Belief
from bowcore.learning.gap_bend import GapBend
from bowcore.learning.history import Learned
from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.matrix import Response


@dataclass(frozen=True)
class TuningPolicy:
    """How this shop turns things, where good technicians differ.

    `keep_length` shortens one cable as much as it lengthens another, so that axle to axle stays;
    `leave` names adjusters that are not touched (a served buss cable, say); `top_first_in` is how
    much the top stop of a hybrid should lead; `upright` wants cams without lean at full draw, also
    on a bow that came in leaning; `trial_first` turns one small step on a bow that has not shown yet
    what a change does; `top_open` would rather leave the top stop open than the bottom one;
    `gap_as_was` puts the stop gap back as it came in.
    """

    half_twists: bool = True
    shorten_only: bool = False
    keep_length: bool = False
    leave: tuple[str, ...] = ()
    top_first_in: float = 0.0
    upright: bool = False
    trial_first: bool = False
    top_open: bool = False
    gap_as_was: bool = False


TAKES_ON_IT, ON_IT_IN = 3, 1 / 256
"""So many takes that all show the tolerance itself: it is left alone (common practice)."""


@dataclass(frozen=True)
class Problem:
    """Where the bow is, where it should be, and what may be turned.

    `readings` holds value and standard uncertainty per quantity; `spent` the steps already in each
    adjuster, which count against the limit; `suspects` the parts that are new. `limits` narrows an
    adjuster's total to (least, most) steps. `blocks` is the covariance of value and responses per
    quantity, (quantities, 1 + adjusters, 1 + adjusters), where it is known; `takes` how often each
    quantity was read since the last change, where reading again is worth asking for;
    `left_out` by quantity the share of what a part moves that the response may leave out and what
    every change adds, in its unit, `process_share` that share where nothing is said; `unconfirmed` the
    readings that were too far from what was expected to be believed at once; `surprising` those
    that were believed but rest on one take far from it; `modules` what else could give another draw
    length; `first_stop_effect` how much a reading falls off for each inch of gap, where it is read
    at the first stop; `bend` how the gap answers where not in a straight line; `to_come` how far
    each number will still move while new threads settle, and its standard uncertainty; `answered`
    whether this bow has shown what a change does to it, `seen` the adjusters that it has shown;
    `tried` the changes that would only bring it back to where it was read and found outside.
    """

    readings: Mapping[str, tuple[float, float]]
    bands: Mapping[str, Band]
    response: Response
    spent: Mapping[str, int] = field(default_factory=dict)
    suspects: tuple[str, ...] = ()
    policy: TuningPolicy = TuningPolicy()
    limit: int = MOST_HALF_TWISTS
    limits: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    blocks: NDArray[np.float64] | None = None
    takes: Mapping[str, int] = field(default_factory=dict)
    process_share: float = PROCESS_SHARE
    left_out: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    unconfirmed: Mapping[str, float] = field(default_factory=dict)
    modules: tuple[Module, ...] = ()
    first_stop_effect: Mapping[str, float] = field(default_factory=dict)
    bend: GapBend | None = None
    surprising: Mapping[str, float] = field(default_factory=dict)
    to_come: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    answered: bool = False
    seen: frozenset[str] = frozenset()
    tried: tuple[Steps, ...] = ()
    on_tolerance: bool = False
    """Every take of the gap shows its tolerance to the hair, three takes and more."""

    def __post_init__(self) -> None:
        absent = [name for name in self.planned if name not in self.readings]
        if absent:
            names = ", ".join(QUANTITIES[name].name.lower() for name in absent)
            raise BadInput(f"Read these first: {names}.", "readings")

    @property
    def planned(self) -> tuple[str, ...]:
        """Quantities that have a band and answer to the adjusters, in a fixed order."""
        return tuple(name for name in self.response.quantities if name in self.bands)

    def steps_of(self, key: str) -> list[int]:
        """Step counts that the limits and the policy allow for one adjuster, zero left out."""
        if key in self.policy.leave:
            return []
        adjuster = self.adjuster(key)
        found = adjuster.possible_steps(self.spent.get(key, 0), self.limits.get(key), self.limit)
        if adjuster.twisted and self.policy.shorten_only:
            found = [count for count in found if count > 0]
        if adjuster.twisted and not self.policy.half_twists:
            found = [count for count in found if count % 2 == 0]
        return found

    @property
    def open_keys(self) -> list[str]:
        """Adjusters that limits and policy leave to be turned."""
        return [one.key for one in self.response.adjusters if self.steps_of(one.key)]

    def adjuster(self, key: str) -> Adjuster:
        """The adjuster of that key."""
        return self.response.adjusters[self.response.column(key)]

    @property
    def whole_parts(self) -> list[str]:
        """Keys of the whole strings and cables."""
        return [one.key for one in self.response.adjusters if isinstance(one, StringOrCable)]

    def effort(self, key: str, count: int) -> int:
        """What so many steps of one adjuster are to the hands, in half twists."""
        return self.adjuster(key).effort(self.spent.get(key, 0), count)

    def worth(self, key: str, count: int) -> float:
        """So many steps of one adjuster from where it is, in steps of the usual size."""
        return self.adjuster(key).worth(self.spent.get(key, 0), count)

    def turned(self, steps: Steps) -> list[tuple[Adjuster, int]]:
        """The adjusters that are turned, each with its steps, in the order of work: lean first, because
        a yoke leg moves timing too; then lengths; spacers last."""
        turned = [(self.adjuster(key), count) for key, count in steps.items()]
        return sorted(turned, key=lambda one: one[0].order)

    def presses(self, keys: Iterable[str]) -> int:
        """Press cycles that a change of these adjusters takes."""
        return int(any(self.adjuster(key).needs is not Needs.NOTHING for key in keys))

    def binding(self, option: "Option") -> tuple[str, ...]:
        """Adjusters that an option turns as far as they may go."""
        at_end = []
        for key, count in option.steps.items():
            allowed = self.steps_of(key)
            if len(allowed) > 1 and count in (allowed[0], allowed[-1]):
                at_end.append(key)
        return tuple(at_end)


LIKELY = 0.5
"""A change that is less likely than this to bring everything home is offered as a try."""


class PlanKind(StrEnum):
    """What sort of answer a plan is."""

    LEAVE = "leave"
    CHANGE = "change"
    UNREACHABLE = "unreachable"
    READ_AGAIN = "read again"


@dataclass(frozen=True)
class Option:
    """One way to go: steps per adjuster, and what the readings should be afterwards.

    `predicted` holds value and standard uncertainty; `chance` is the probability that every
    planned quantity ends inside its band; `off_middle` the mean squared distance from the middle
    of the bands, in half widths; `effort` what it is to the hands, in half twists;
    `outside` the squared distance outside of the bands, in half widths, and `left` how many numbers
    are outside, 0 when it reaches; `presses` the press cycles it takes: limb bolts are turned and
    nock points tied without a press; `minutes` what is to be expected until the bow is done;
    `nearly` the probability that no number ends outside by more than a hair, and `pressed` that of `chance`
    as far as a press decides it: how unsure the settling is left aside.
    """

    steps: Steps
    predicted: Mapping[str, tuple[float, float]]
    chance: float
    reaches: bool
    off_middle: float
    effort: int = 0
    outside: float = 0.0
    left: int = 0
    flips_stop: bool = False
    presses: int = 0
    minutes: float = 0.0
    nearly: float = 1.0
    pressed: float = 1.0


@dataclass(frozen=True)
class ShimFlip:
    """A lean that no shim brings home: it goes from one side to the other between two neighbours.

    `nearer` and `further` are the shims that come nearest on either side, in words, `leaves` the
    lean that each leaves. [in]
    """

    adjuster: str
    quantity: str
    nearer: str
    further: str
    leaves: tuple[float, float]


@dataclass(frozen=True)
class Shortfall:
    """A part that cannot get there: by how much its own length is off, and which way.

    `off_in` is positive when the part is too short, negative when it is too long. [in]
    """

    adjuster: str
    off_in: float


@dataclass(frozen=True)
class Plan:
    """The answer: the best option, other kinds of option, and what stands in the way.

    `part_way`: it stops short on purpose, because the gap answers more steeply further on; `trial`: it
    is one small step, to see what it does; `later`: the leans whose shims come after it.
    """

    kind: PlanKind
    best: Option
    alternatives: tuple[Option, ...] = ()
    shortfall: Shortfall | None = None
    flip: ShimFlip | None = None
    read_again: str = ""
    part_way: bool = False
    trial: bool = False
    later: tuple[str, ...] = ()

    @property
    def to_try(self) -> bool:
        """A change that more likely than not is followed by another one: turn it and read."""
        return self.kind is PlanKind.CHANGE and self.best.chance < LIKELY and not self.later


def _on_tolerance(shown: Sequence[float], bands: Mapping[str, Band]) -> bool:
    band = bands.get("stop_gap")
    if band is None or len(shown) < TAKES_ON_IT:
        return False
    ends = (band.low, band.high)
    return all(min(abs(take - end) for end in ends) < ON_IT_IN for take in shown)


def problem_after(
    known: Learned,
    bands: Mapping[str, Band],
    policy: TuningPolicy,
    limits: Mapping[str, tuple[int, int]],
    limit: int = MOST_HALF_TWISTS,
) -> Problem:
    """The planner's question at a point of a bow's history.

    Parameters
    ----------
    known : Learned
        What the history has shown.
    bands : mapping of str to Band
        Where the numbers should be.
    policy : TuningPolicy
        The shop's choices.
    limits : mapping of str to (int, int)
        Least and most steps in all, where the usual limits do not hold.
    limit : int
        Half twists that a part may take either way.

    Returns
    -------
    Problem
        With the gap's answer along its way.
    """
    belief = known.belief
    waiting = {name: belief.expected(name) for name in known.disbelieved}
    return Problem(
        waiting | belief.readings(),
        bands,
        belief.response(bands),
        known.spent,
        known.replaced,
        policy,
        limit,
        limits=limits,
        blocks=belief.blocks(bands),
        takes={name: known.takes.get(name, 0) for name in belief.quantities},
        left_out=belief.left_out(bands),
        unconfirmed=known.disbelieved,
        surprising=known.surprising,
        first_stop_effect=belief.first_stop_effect,
        bend=belief.bend(bands),
        to_come=_to_come(belief),
        answered=bool(known.lessons),
        seen=frozenset(key for lesson in known.lessons for key in lesson.steps),
        tried=tuple(
            one.away(known.spent) for one in known.visited if _outside(one.readings, bands)
        ),
        on_tolerance=_on_tolerance(known.shown.get("stop_gap", ()), bands),
    )


def _outside(readings: Mapping[str, tuple[float, float]], bands: Mapping[str, Band]) -> bool:
    """Whether a bow that read so was more likely outside its bands than not."""
    return any(
        bands[name].chance_inside(*reading) < 0.5
        for name, reading in readings.items()
        if name in bands
    )


def unread_leans(
    adjusters: Iterable[Adjuster], bands: Mapping[str, Band], totals: Mapping[str, int]
) -> dict[str, tuple[int, int]]:
    """What tilts a cam stays where it is, in steps in all, while its lean is not read: one leg moves
    lean and timing at once."""
    return {
        one.key: (totals.get(one.key, 0),) * 2
        for one in adjusters
        if one.leans and one.leans not in bands
    }


def _to_come(belief: Belief) -> dict[str, tuple[float, float]]:
    """How far each number will move until new threads have settled, and how unsure that is."""
    if not belief.draws:
        return {}
    settled = belief.settled()
    found = {}
    for name, (now, sigma) in belief.readings().items():
        then, unsure = settled.expected(name)
        found[name] = (then - now, max(unsure**2 - sigma**2, 0.0) ** 0.5)
    return found
