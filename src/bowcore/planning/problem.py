"""The question put to the planner, and the shape of its answer."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from bowcore.errors import BadInput
from bowcore.measurement.bands import Band
from bowcore.mechanics.modules import Module
from bowcore.mechanics.response import Adjuster, Response

ENDLESS = 1_000_000
SENSIBLE_HALF_TWISTS = 8
"""Four twists either way; beyond that a part is the wrong length (common practice)."""


USUAL_LIMITS = {
    "left": (-4, 4), "right": (-4, 4), "nock_point": (-4, 4),
    "limb_bolts": (0, 0), "bolt_top": (0, 0), "bolt_bottom": (0, 0),
}  # fmt: skip
"""Sensible totals, by the last part of an adjuster's key: a leg takes up to two twists; limb bolts
go only within what the maker's limit is known to allow."""
BOLTS = ("limb_bolts", "bolt_top", "bolt_bottom")
NO_PRESS = (*BOLTS, "nock_point")


@dataclass(frozen=True)
class School:
    """How this shop turns things. Each choice is a school of its own among good technicians.

    `keep_length` shortens one cable as much as it lengthens another, so that axle to axle stays;
    `leave` names parts that are not touched (a served buss cable, say); `top_first_in` is how much
    the top stop of a hybrid should lead; `upright` wants cams without lean at full draw, also on a
    bow that came in leaning.
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

    `readings` holds value and standard uncertainty per quantity; `spent` the half twists already
    in each adjuster, which count against the limit; `suspects` the parts that are new. `limits`
    narrows an adjuster's total to (least, most) steps. `blocks` is the covariance of value and
    responses per quantity, (quantities, 1 + adjusters, 1 + adjusters), where it is known; `takes`
    how often each quantity was read since the last change, where reading again is worth asking
    for; `process_share` how much of a predicted change the response may leave out; `doubted` the
    readings that were too far from what was expected to be believed at once; `modules` what else
    could give another draw length; `kinks` what is read at the first stop and so falls off by so
    much for each inch of gap.
    """

    readings: Mapping[str, tuple[float, float]]
    bands: Mapping[str, Band]
    response: Response
    spent: Mapping[str, int] = field(default_factory=dict)
    suspects: tuple[str, ...] = ()
    school: School = School()
    limit: int = SENSIBLE_HALF_TWISTS
    limits: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    blocks: NDArray[np.float64] | None = None
    takes: Mapping[str, int] = field(default_factory=dict)
    process_share: float = 0.10
    doubted: Mapping[str, float] = field(default_factory=dict)
    modules: tuple[Module, ...] = ()
    kinks: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        absent = [name for name in self.planned if name not in self.readings]
        if absent:
            raise BadInput("Read these first: " + ", ".join(absent) + ".", "readings")

    @property
    def planned(self) -> tuple[str, ...]:
        """Quantities that have a band and answer to the adjusters, in a fixed order."""
        return tuple(name for name in self.response.quantities if name in self.bands)

    def steps_of(self, key: str) -> list[int]:
        """Step counts that the limits and the school allow for one adjuster, nought left out."""
        if key in self.school.leave:
            return []
        spent, twisted = self.spent.get(key, 0), key not in NO_PRESS
        positions = self.adjuster(key).positions
        if positions:
            least, most = self.limits.get(key, (-ENDLESS, ENDLESS))
            totals = [one.total for one in positions if least <= one.total <= most]
            return [total - spent for total in totals if total != spent]
        usual = USUAL_LIMITS.get(key.rpartition(".")[2] or key, (-self.limit, self.limit))
        least, most = self.limits.get(key, usual)
        low, high = least - spent, most - spent
        if self.school.shorten_only and twisted:
            low = max(low, 0)
        stride = 1 if self.school.half_twists or not twisted else 2
        return [n for n in range(low, high + 1) if n and n % stride == 0]

    @property
    def open_keys(self) -> list[str]:
        """Adjusters that limits and school leave to be turned."""
        return [one.key for one in self.response.adjusters if self.steps_of(one.key)]

    def adjuster(self, key: str) -> Adjuster:
        """The adjuster of that key."""
        return self.response.adjusters[self.response.column(key)]

    def effort(self, key: str, count: int) -> int:
        """What so many steps of one adjuster are to the hands, in half twists."""
        if not count:
            return 0
        position = self.adjuster(key).position(self.spent.get(key, 0) + count)
        return position.effort if position else abs(count)

    def binding(self, option: "Option") -> tuple[str, ...]:
        """Adjusters that an option turns as far as they may go."""
        at_end = []
        for key, count in option.steps:
            allowed = self.steps_of(key)
            if len(allowed) > 1 and count in (allowed[0], allowed[-1]):
                at_end.append(key)
        return tuple(at_end)


class Kind(StrEnum):
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
    are, nought when it reaches.
    """

    steps: tuple[tuple[str, int], ...]
    predicted: Mapping[str, tuple[float, float]]
    chance: float
    reaches: bool
    off_middle: float
    effort: int = 0
    outside: float = 0.0
    left: int = 0
    flips_stop: bool = False

    @property
    def presses(self) -> int:
        """Limb bolts are turned and nock points tied without a press."""
        return int(any(key not in NO_PRESS for key, _ in self.steps))


@dataclass(frozen=True)
class Flip:
    """A lean that no shim brings home: it goes from one side to the other between two neighbours.

    `stays` and `next` are the shims that come nearest on either side, in words, `ends` the lean
    that each leaves. [in]
    """

    adjuster: str
    quantity: str
    stays: str
    next: str
    ends: tuple[float, float]


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

    kind: Kind
    best: Option
    alternatives: tuple[Option, ...] = ()
    shortfall: Shortfall | None = None
    flip: Flip | None = None
    read_again: str = ""
