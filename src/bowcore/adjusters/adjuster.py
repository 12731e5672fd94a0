"""What an adjuster is: everything that the rest of the program asks of it is in one object.

Each kind is a subclass in a module of its own, registered in `registry.py`. Signs: positive steps
of a string or cable make it shorter; positive steps of a limb bolt turn it out.
"""

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import ClassVar, Protocol

from bowcore.bow.specification import BowSpec
from bowcore.bow.twin import Changes
from bowcore.errors import Refused
from bowcore.quantities.changes import Change

ANY_TOTAL = 1_000_000
MOST_HALF_TWISTS = 8
"""Four twists either way; a string or cable that needs more is the wrong length (common practice)."""
_COUNTS = {1: "one", 2: "two", 3: "three", 4: "four"}


class Needs(StrEnum):
    """What a change of an adjuster needs before it can be made."""

    NOTHING = "nothing"
    PRESS = "press"
    AXLE_OUT = "axle out"


@dataclass(frozen=True)
class Position:
    """One way in which a kit can be put in: its total in the adjuster's steps, and it in words.

    `effort` counts what is handled for it, to be compared with half twists.
    """

    total: int
    words: str
    effort: int = 1


@dataclass(frozen=True)
class Trial:
    """A small change of the twin from which an adjuster's response is found by differences.

    `per_step` is how many trials one step is. `beside` is what one step moves that the plane model
    does not have, by quantity. [in]
    """

    changes: Changes
    per_step: float
    beside: Mapping[str, float] = field(default_factory=dict)


class BowNow(Protocol):
    """What an adjuster asks of the bow on the bench."""

    @property
    def marks(self) -> Mapping[str, str]:
        """What was written down, by mark."""

    @property
    def most_bolt_turns(self) -> float:
        """How far the maker lets a limb bolt out, in turns from bottomed."""

    def net_steps(self, key: str) -> int:
        """Steps of an adjuster since the part it turns was fitted."""


NOT_KNOWN = "unknown"
"""An answer like any other: nobody can say."""
ON_THE_PHOTO = "on the photo"
"""It was not put into words: the photograph of it shows it."""


def written_down(now: BowNow, mark: str) -> str | None:
    """What a mark says of the bow; None where it was not written down or nobody knows."""
    text = now.marks.get(mark)
    return None if text in (NOT_KNOWN, ON_THE_PHOTO) else text


class TurnableBow(Protocol):
    """What an adjuster does to a simulated bow."""

    def twist(self, part: str, half_twists: int) -> None:
        """Twist a string or cable."""

    def pull(self, part: str, inches: float) -> None:
        """Make a string or cable shorter in another way than by twisting. [in]"""

    def tilt_by_leg(self, quantity: str, half_twists: int) -> None:
        """Tilt a cam by a yoke leg; positive to the right."""

    def tilt_by_shim(self, quantity: str, steps: int) -> None:
        """Tilt a cam by moving it along its axle; positive to the right."""

    def turn_bolts(self, top: int, bottom: int) -> None:
        """Turn limb bolts out, in half turns."""

    def raise_nock(self, inches: float) -> None:
        """Tie the nock point higher on the string. [in]"""

    def move_rest(self, way: str, inches: float) -> None:
        """Move the rest: `way` is the key of one of its adjusters. [in]"""

    def turn_peep(self, minutes: float) -> None:
        """Turn the peep, clockwise seen from above, as on a clock's face."""


@dataclass(frozen=True)
class Adjuster(ABC):
    """Something that can be turned or set, in whole steps.

    Attributes
    ----------
    key, label : str
        Its identity in the ledger, and its name in the shop's words.
    part : str
        Role of the string or cable that it belongs to: with a new one its count starts anew.
    axle : str
        "top", "bottom" or "both": where it sits, if that matters.
    side : str
        "left" or "right", seen from behind the bow, if that matters.
    length_step_in : float
        How much shorter one step makes the part; 0 where length is not what it changes. [in]
    positions : tuple of Position
        The ways in which a kit can be put in; empty where any number of steps is possible.
    doubt : float
        How far one step may be off beyond what the bow itself leaves open, as a share.
    raises_in : float
        How far one step raises the nock point. [in]
    """

    key: str
    label: str
    part: str = ""
    axle: str = ""
    side: str = ""
    length_step_in: float = 0.0
    positions: tuple[Position, ...] = ()
    doubt: float = 0.0
    raises_in: float = 0.0

    kind: ClassVar[str]
    step_word: ClassVar[str]
    needs: ClassVar[Needs] = Needs.PRESS
    minutes: ClassVar[float] = 2.0
    """What one change of it takes at the bench, the press left out (common practice)."""
    order: ClassVar[int] = 2
    """Its turn among several that are set in one go: what tilts a cam first, then length, then the rest."""
    twisted: ClassVar[bool] = False
    """Counted in half twists: the shop's policies on half twists and on letting out apply."""
    cautions: ClassVar[tuple[str, ...]] = ()

    @property
    @abstractmethod
    def change(self) -> Change:
        """The kind of change that a step of it is: what it makes stale."""

    @classmethod
    @abstractmethod
    def all_on(cls, spec: BowSpec, twisted: Mapping[str, int]) -> "list[Adjuster]":
        """Those of this kind that a bow has. `twisted`: half twists already in each part."""

    @abstractmethod
    def trial(self) -> Trial:
        """The change of the twin that shows what a step does."""

    @abstractmethod
    def turn_on(self, bow: TurnableBow, count: int) -> None:
        """Turn it by so many steps on a simulated bow."""

    @abstractmethod
    def say(self, count: int) -> str:
        """Steps in words: `half a twist in`."""

    @property
    def leans(self) -> str:
        """The quantity that shows how it tilts a cam; "" if it tilts none."""
        return ""

    @property
    def marks(self) -> tuple[str, ...]:
        """The marks in which is written down where it is."""
        return ()

    def position(self, total: int) -> Position | None:
        """The way in which the kit is in at a total; None where no kit has it."""
        return next((one for one in self.positions if one.total == total), None)

    @property
    def place(self) -> str:
        """Where on the bow it is: the role of a string or cable, else the cam or pocket of an axle."""
        return self.part or f"{self.axle or 'top'} cam"

    def say_set(self, before: int, count: int) -> str:
        """Steps from where it is: what a kit is set to, or how far the rest is turned."""
        position = self.position(before + count)
        return position.words if position else self.say(count)

    def say_total(self, total: int) -> str:
        """Where it is: the kit's position, or all that was turned; "" for nothing."""
        position = self.position(total)
        return position.words if position else (self.say(total) if total else "")

    def usual_totals(self, most: int) -> tuple[int, int]:
        """Least and most steps in all that are sensible; `most` is the limit for a whole part."""
        return -most, most

    def gentlest_steps(self, spent: int, count: int) -> int:
        """Steps that show first, the same way, what a kit does: its thinnest or smallest that moves at all,
        and of those as far as wanted. `count` itself where there is no kit.

        Parameters
        ----------
        spent : int
            Steps in it now.
        count : int
            Steps that are wanted.
        """
        ways = [
            (one.effort, abs(one.total - spent - count), one.total - spent)
            for one in self.positions
            if (one.total - spent) * count > 0 and abs(one.total - spent) <= abs(count)
        ]
        return min(ways)[2] if ways else count

    def possible_steps(self, spent: int, totals: tuple[int, int] | None, most: int) -> list[int]:
        """Steps that it can take from where it is, zero left out.

        Parameters
        ----------
        spent : int
            Steps in it now.
        totals : pair of int, optional
            Least and most steps in all; the usual ones if absent.
        most : int
            The limit for a whole part.

        Returns
        -------
        list of int
            Rising.
        """
        if self.positions:
            least, top = totals or (-ANY_TOTAL, ANY_TOTAL)
            found = [one.total for one in self.positions if least <= one.total <= top]
            return [total - spent for total in found if total != spent]
        least, top = totals or self.usual_totals(most)
        return [count for count in range(least - spent, top - spent + 1) if count]

    def effort(self, spent: int, count: int) -> int:
        """What so many steps are to the hands, in half twists."""
        if not count:
            return 0
        position = self.position(spent + count)
        return position.effort if position else abs(count)

    def worth(self, spent: int, count: int) -> float:
        """So many steps from where it is, in steps of the usual size."""
        return float(count)

    def start(self, now: BowNow) -> int | None:
        """Where it was when the bow came in; None if nobody wrote it down."""
        return 0

    def total(self, now: BowNow) -> int:
        """Where it is now, in its own steps."""
        return (self.start(now) or 0) + now.net_steps(self.key)

    def totals_allowed(self, now: BowNow) -> tuple[int, int] | None:
        """Least and most steps in all on this bow now; None where the usual limits hold."""
        return None

    def require_possible(self, now: BowNow, count: int) -> None:
        """Refuse steps that cannot be made on this bow.

        Raises
        ------
        Refused
            Says why, and what would allow it.
        """
        require_not_too_far(self, count)

    def marks_after(self, now: BowNow, count: int) -> dict[str, str]:
        """What is written down about where it is after so many steps, by mark."""
        return {}

    def where(self, now: BowNow) -> str:
        """Where it is on this bow, in words for a list of choices."""
        position = self.position(self.total(now))
        return f"now {position.words}" if position else self.step_word

    def offered(self, now: BowNow, most: int) -> list[int]:
        """The steps that a technician may choose on the screen, highest first."""
        spent = self.total(now)
        if self.positions:
            found = [one.total - spent for one in reversed(self.positions)]
        else:
            least, top = self.totals_allowed(now) or self.usual_totals(most)
            found = list(range(top - spent, least - spent - 1, -1))
        return [count for count in found if count]

    def how_to(self, count: int, total: int) -> tuple[str, ...]:
        """How it is done, where that needs saying, for steps that end at a total."""
        return ()

    @classmethod
    def remarks(cls, steps: "Sequence[tuple[Adjuster, int]]") -> list[str]:
        """What is said about steps of this kind together, as part of a plan's reasons."""
        return []

    @classmethod
    def gate_point(cls, spec: BowSpec, in_use: bool) -> str:
        """What the gate asks for this kind; "" for nothing. `in_use`: any of them is turned."""
        return ""


def require_not_too_far(adjuster: Adjuster, count: int) -> None:
    """Refuse more steps at once than anybody turns.

    Raises
    ------
    Refused
        More than twice what is sensible in all.
    """
    if not adjuster.positions and abs(count) > 2 * MOST_HALF_TWISTS:
        raise Refused(f"{adjuster.label}: that is more than anybody turns at once.")


def say_half_twists(count: int) -> str:
    """Signed half twists in words: `half a twist in`, `one and a half twists out`."""
    return _say_halves(count, "twist", ("in", "out"))


def say_half_turns(count: int) -> str:
    """Signed half turns of a bolt in words: `half a turn out`."""
    return _say_halves(count, "turn", ("out", "in"))


def _say_halves(count: int, noun: str, ways: tuple[str, str]) -> str:
    way = ways[0] if count > 0 else ways[1]
    whole, half = divmod(abs(count), 2)
    if not whole:
        return f"half a {noun} {way}" if half else f"no {noun}"
    number = _COUNTS.get(whole, str(whole))
    if half:
        return f"{number} and a half {noun}s {way}"
    return f"{number} {noun}{'s' if whole > 1 else ''} {way}"
