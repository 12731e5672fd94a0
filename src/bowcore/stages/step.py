"""What a step is: when it applies, when it is done, what holds it, and what to do next in it."""

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import ClassVar

from bowcore.evidence.facts import Facts, OpenPress
from bowcore.measurement.bands import Band
from bowcore.work_order.holds import HoldKind, stopped_by
from bowcore.work_order.services import Service


@dataclass(frozen=True)
class Situation:
    """A job's facts with what follows from them: what every step asks.

    `unread` and `unmarked` are missing from the baseline; `to_read` must be read again; `outside`
    is outside its band; `to_draw` draws new threads want before that; `fit_unread` and `fit_outside` are
    the numbers of the fit; `to_tie` what was asked to be tied or moved and has not been.
    """

    facts: Facts
    bands: Mapping[str, Band]
    unread: tuple[str, ...] = ()
    unmarked: tuple[str, ...] = ()
    to_read: tuple[str, ...] = ()
    outside: tuple[str, ...] = ()
    to_draw: int = 0
    fit_unread: tuple[str, ...] = ()
    fit_outside: tuple[str, ...] = ()
    to_tie: tuple[Service, ...] = ()


class Step(ABC):
    """A step as the trade knows it. The key is also the name of its screen.

    `minutes` is a usual figure, for the load of the rack. A step that is not `blocking` may be
    passed over: the next one does not wait for it.
    """

    key: ClassVar[str]
    name: ClassVar[str]
    why: ClassVar[str]
    minutes: ClassVar[int]
    blocking: ClassVar[bool] = True
    acts: ClassVar[tuple[str, ...]] = ()
    """What must be allowed for it: a hold that stops one of these holds the step."""

    def applies(self, facts: Facts) -> bool:
        """Whether this job has the step."""
        return True

    @abstractmethod
    def done(self, now: Situation) -> bool:
        """Whether nothing is left to do in it."""

    @abstractmethod
    def next_act(self, now: Situation) -> str:
        """The one next thing to do in it, when it is the present step and nothing holds it."""

    def note(self, now: Situation) -> str:
        """A few words beneath its name."""
        return ""

    def again(self, now: Situation) -> bool:
        """Whether it was done and has to be done again."""
        return False

    def stays_with(self, press: OpenPress) -> bool:
        """Whether an open press belongs to this step."""
        return False

    def held_by(self, facts: Facts) -> HoldKind | None:
        """The first hold that stops it, or None."""
        stopping = (stopped_by(facts.holds, act) for act in self.acts)
        return next((hold for hold in stopping if hold is not None), None)
