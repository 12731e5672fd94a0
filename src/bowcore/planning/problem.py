"""The question put to the planner, and the shape of its answer."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Adjuster, Needs
from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput
from bowcore.learning.history import Learned
from bowcore.measurement.bands import Band
from bowcore.mechanics.modules import Module
from bowcore.response.matrix import Response


@dataclass(frozen=True)
class TuningPolicy:
    """How this shop turns things, where good technicians differ.

    `keep_length` shortens one cable as much as it lengthens another, so that axle to axle stays;
    `leave` names adjusters that are not touched (a served buss cable, say); `top_first_in` is how
    much the top stop of a hybrid should lead; `upright` wants cams without lean at full draw, also
    on a bow that came in leaning.
    """

    half_twists: bool = True
    shorten_only: bool = False
    keep_length: bool = False
    leave: tuple[str, ...] = ()
    top_first_in: float = 0.0
    upright: bool = False


@dataclass(frozen=True)
class Problem:
    """Where the bow is, where it should be, and what may be turned.

    `readings` holds value and standard uncertainty per quantity; `spent` the steps already in each
    adjuster, which count against the limit; `suspects` the parts that are new. `limits` narrows an
    adjuster's total to (least, most) steps. `blocks` is the covariance of value and responses per
    quantity, (quantities, 1 + adjusters, 1 + adjusters), where it is known; `takes` how often each
    quantity was read since the last change, where reading again is worth asking for;
    `process_share` how much of a predicted change the response may leave out; `unconfirmed` the
    readings that were too far from what was expected to be believed at once; `modules` what else
    could give another draw length; `first_stop_effect` how much a reading falls off for each inch
    of gap, where it is read at the first stop.
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
    process_share: float = 0.10
    unconfirmed: Mapping[str, float] = field(default_factory=dict)
    modules: tuple[Module, ...] = ()
    first_stop_effect: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        absent = [name for name in self.planned if name not in self.readings]
        if absent:
            raise BadInput("Read these first: " + ", ".join(absent) + ".", "readings")

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

    def effort(self, key: str, count: int) -> int:
        """What so many steps of one adjuster are to the hands, in half twists."""
        return self.adjuster(key).effort(self.spent.get(key, 0), count)

    def turned(self, steps: Steps) -> list[tuple[Adjuster, int]]:
        """The adjusters that are turned, each with its steps."""
        return [(self.adjuster(key), count) for key, count in steps.items()]

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
    nock points tied without a press.
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
    """The answer: the best option, other kinds of option, and what stands in the way."""

    kind: PlanKind
    best: Option
    alternatives: tuple[Option, ...] = ()
    shortfall: Shortfall | None = None
    flip: ShimFlip | None = None
    read_again: str = ""


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
        With the gap's slope on the way to the middle of its band.
    """
    belief = known.towards(bands)
    return Problem(
        belief.readings(),
        bands,
        belief.response(),
        known.spent,
        known.replaced,
        policy,
        limit,
        limits=limits,
        blocks=belief.blocks(),
        takes={name: known.takes.get(name, 0) for name in belief.quantities},
        process_share=belief.process_share,
        unconfirmed=dict(belief.unconfirmed),
        first_stop_effect=belief.first_stop_effect,
    )
