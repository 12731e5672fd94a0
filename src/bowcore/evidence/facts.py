"""What is known of a job, in the order it happened. The rules of the service read only this."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import sqrt
from typing import Any, TypeVar

from bowcore.accessories.on_the_bow import NOTHING_WRITTEN_DOWN, OnTheBow
from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.limb_bolt import BOTH_BOLTS
from bowcore.bow.specification import CABLES, HARNESSES, STRING, Family, length_of
from bowcore.evidence.looked_at import LookedAt
from bowcore.evidence.references import Points, shift_in
from bowcore.evidence.shooting_policy import USUAL_SHOOTING_POLICY, ShootingPolicy
from bowcore.evidence.shots import Shot
from bowcore.measurement.freshness import ChangeMade, stale_since
from bowcore.measurement.repeats import RepeatSummary, summarise
from bowcore.quantities.catalogue import shown
from bowcore.quantities.changes import Change, kind_of_legs
from bowcore.quantities.precision import Precision
from bowcore.quantities.quantity import Quantity
from bowcore.work_order.holds import stopped_by
from bowcore.work_order.needs import NEW_SETUP, BowSetup
from bowcore.work_order.replacement import ReplacementPolicy
from bowcore.work_order.services import is_small, parts_to_replace
from bowcore.work_order.supply import declined, not_in_hand

_Computed = TypeVar("_Computed")
SKIPPED = "skipped"
"""The reason of a reading that was passed over: not read, and asked for again where it is needed."""
SAME_SHARE = 0.01
"""Uncertainties nearer than this share are one."""


@dataclass(frozen=True)
class Take:
    """One reading as recorded. `value` is None when it could not be read (`reason` says why).

    `sigma` is its standard uncertainty as it was recorded: by the tool that read it, "a little over", the
    difference of two; None for the usual one of its quantity.
    """

    seq: int
    quantity: str
    value: float | None
    sheet: str = "baseline"
    reason: str = ""
    start: str = ""
    end: str = ""
    sigma: float | None = None


def precision_of(what: Quantity, takes: Iterable[Take]) -> Precision:
    """Of one of these takes: the quantity's usual one, in proportion to what they were recorded with."""
    usual = what.precision
    shares = [(take.sigma or usual.sigma) / usual.sigma for take in takes if take.value is not None]
    if not shares or all(abs(share - 1) < SAME_SHARE for share in shares):
        return usual
    return usual.scaled(sqrt(sum(share**2 for share in shares) / len(shares)))


@dataclass(frozen=True)
class LeftWith:
    """A number that the bow left with at its last visit: the next one's target. `on` is the day in words."""

    value: float
    sigma: float
    points: Points = ("", "")
    on: str = ""


@dataclass(frozen=True)
class LedgerEntry:
    """One entry of the ledger: signed `steps` of an adjuster, a new part, or another change.

    `part` is the role of the string or cable that it concerns, "" if none; with `replaced` a new
    one is on the bow. Of draws and shots `steps` is the number. An adjuster with no steps was looked
    at and found as written.
    """

    seq: int
    change: Change
    adjuster: str = ""
    part: str = ""
    steps: int = 0
    replaced: bool = False

    def decides(self, role: str) -> bool:
        """Whether it is a new part that decides the length of this string or cable."""
        return self.replaced and length_of(self.part) == role


@dataclass(frozen=True)
class OpenPress:
    """The press cycle that is open: what it was opened for and what has been done in it."""

    seq: int
    purpose: str
    parts: tuple[str, ...] = ()
    done: bool = False

    @property
    def for_new_parts(self) -> bool:
        """To put them on or to bring them home, which the replace step is about."""
        return self.purpose in ("replace", "home")


@dataclass(frozen=True)
class LengthCheck:
    """What a new part was found to be after a let-down: `steps` half twists would bring it home;
    `wrong` if it goes back."""

    seq: int
    part: str
    wrong: bool = False
    steps: int = 0


@dataclass(frozen=True)
class Current:
    """The newest value of one quantity: its takes of one moment, whether it is still true.

    Taken between other points than the baseline, it has been moved by `shift_in` to be compared with
    it; `apart` if that cannot be done. `wanted` is how many takes the shop wants; `agreed` that fewer
    are enough, or that somebody has passed over the rest of them.
    """

    quantity: str
    seq: int
    summary: RepeatSummary | None
    reason: str = ""
    stale: ChangeMade | None = None
    sheet: str = "baseline"
    points: Points = ("", "")
    shift_in: float = 0.0
    apart: bool = False
    wanted: int = 1
    agreed: bool = False

    @property
    def fresh(self) -> bool:
        return self.summary is not None and self.stale is None and not self.apart

    @property
    def skipped(self) -> bool:
        """Passed over before the press; what needs it later asks again."""
        return self.summary is None and self.reason == SKIPPED

    @property
    def cannot_be_read(self) -> bool:
        """Whoever stands for it has said why it cannot be read now."""
        refused = self.summary is None and bool(self.reason) and self.stale is None
        return refused and not self.skipped

    @property
    def settled(self) -> bool:
        """Read often enough since the last change, or said to be unreadable with the reason."""
        return self.cannot_be_read or (self.fresh and self.enough)

    @property
    def enough(self) -> bool:
        """Taken as often as the shop wants, fewer where takes agree, or said to be unreadable."""
        return self.summary is None or self.agreed or self.summary.takes >= self.wanted


@dataclass(frozen=True)
class Facts:
    """Everything the rules need to know of a job."""

    family: Family
    services: tuple[str, ...]
    inspected: bool = False
    holds: tuple[str, ...] = ()
    liftable: tuple[str, ...] = ()
    """Of these, the ones whose parts have been replaced since."""
    takes: tuple[Take, ...] = ()
    changes: tuple[LedgerEntry, ...] = ()
    press: OpenPress | None = None
    handed_over: bool = False
    path: str = NEW_SETUP
    fitted: tuple[str, ...] = ("peep",)
    marks: Mapping[str, str] = field(default_factory=dict)
    replacement: ReplacementPolicy = ReplacementPolicy.STRIP
    checks: tuple[LengthCheck, ...] = ()
    bolts_backed_off: tuple[float, ...] = ()
    set_state: str = ""
    places: Mapping[str, float] = field(default_factory=dict)
    most_bolt_turns: float = 0.0
    shimmed: bool = False
    draw_asked: bool = False
    draw_in: int = 0
    takes_wanted: Mapping[str, int] = field(default_factory=dict)
    """How often the shop reads a quantity for one value, where it differs from what is usual."""
    harnessed: tuple[str, ...] = ()
    """Cables whose yoke is a harness of its own."""
    came: tuple[str, ...] = ()
    """Roles of new parts that came with an order, to length, and are not on yet."""
    supply: Mapping[str, str] = field(default_factory=dict)
    """Where each new part comes from, by role."""
    left: Mapping[str, str] = field(default_factory=dict)
    """What is left outside its band on purpose, by quantity, with the reason."""
    on_bow: OnTheBow = NOTHING_WRITTEN_DOWN
    """What is on the bow, with what is known of each thing."""
    shots: tuple[Shot, ...] = ()
    spines: Mapping[str, float] = field(default_factory=dict)
    """Classes of spine of arrows that are on file, by name. [thousandths]"""
    looked_at: tuple[LookedAt, ...] = ()
    """Suspects behind a tear that somebody looked at or mended."""
    left_handed: bool = False
    adjusters: tuple[Adjuster, ...] = ()
    """Everything that can be turned on this bow."""
    cable_moves: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    """What half a twist in each cable does to each number, by the cable's adjuster."""
    shooting_policy: ShootingPolicy = USUAL_SHOOTING_POLICY
    """How the shop shoots bows in, and what bows of this model have shown."""
    left_with: Mapping[str, LeftWith] = field(default_factory=dict)
    """What the bow left with at its last visit, by quantity."""
    sticker_lbf: float = 0.0
    """The weight on the sticker, 0 where nobody knows; used until the peak has been read."""
    gap_per_turn: float | None = None
    """Gap at full draw per radian that the top cam is behind the bottom one at rest, by the book's twin;
    None without one. [in/rad]"""
    estimates: Mapping[str, float] = field(default_factory=dict)
    """Best estimates from all readings together, of what has been read since the last change."""

    @property
    def setup(self) -> BowSetup:
        """What decides how much is asked of this bow."""
        return BowSetup(self.path, self.family, self.fitted, self.shimmed, self.services)

    @property
    def small(self) -> bool:
        """Whether only a part of the bow is set, and no string or cable is new."""
        return is_small(self.services) and not self.replaced

    def named(self, quantity: str) -> Quantity:
        """A quantity as it is called on this bow."""
        return shown(quantity, self.family is Family.SINGLE)

    def takes_wanted_of(self, what: Quantity) -> int:
        """How often a quantity is read for one value, by the shop or as is usual."""
        return self.takes_wanted.get(what.key, what.takes) if what.takes > 1 else what.takes

    @property
    def may_be_drawn(self) -> bool:
        """Whether no hold says that this bow is not to be drawn."""
        return stopped_by(self.holds, "draw") is None

    @property
    def to_replace(self) -> tuple[str, ...]:
        """Roles of the parts that the customer asked to have replaced and has not declined."""
        gone = declined(self.supply)
        return tuple(role for role in parts_to_replace(self.services) if role not in gone)

    @property
    def replaced(self) -> tuple[str, ...]:
        """Roles replaced so far."""
        return tuple(change.part for change in self.changes if change.replaced)

    @property
    def untouched(self) -> tuple[str, ...]:
        """Roles of parts, and the limb bolts, that are as they were, once something was replaced."""
        if not self.replaced:
            return ()
        turned = {c.adjuster for c in self.changes if c.steps and c.change is Change.LIMB_BOLT}
        bolts = () if any(self.net_steps(key) for key in turned) else (BOTH_BOLTS,)
        roles = (
            role
            for role in (*CABLES, STRING)
            if role not in map(length_of, self.replaced) and not self.net_steps(role)
        )
        return (*roles, *bolts)

    @property
    def draws_counted(self) -> list[int] | None:
        """Every count of draws and shots since the newest part went on; None while none is new."""
        fitted = max((c.seq for c in self.changes if c.replaced), default=None)
        if fitted is None:
            return None
        return [c.steps for c in self.changes if c.change is Change.SHOTS and c.seq > fitted]

    @property
    def draws_left(self) -> int:
        """Draws that new threads still want by the shop's policy before anything is read.

        New threads are short at first; what is set before they have settled moves afterwards. None
        are left when they were passed over: a count of zero was written down.
        """
        counts = self.draws_counted
        if counts is None or 0 in counts:
            return 0
        return max(self.draw_in - sum(counts), 0)

    @property
    def still_to_replace(self) -> tuple[str, ...]:
        """Parts that are old yet, or whose new one is the wrong length."""
        wrong = [r for r in self.to_replace if (c := self._check(length_of(r))) and c.wrong]
        return tuple(r for r in self.to_replace if r not in self.replaced or r in wrong)

    @property
    def to_order(self) -> tuple[str, ...]:
        """Of what is still to be replaced, what has to come with an order and has not."""
        return tuple(
            r for r in not_in_hand(self.still_to_replace, self.supply) if r not in self.came
        )

    @property
    def unchecked(self) -> tuple[str, ...]:
        """Strings and cables to be judged by their mark, where parts go on one at a time: new or with a
        new harness and not judged yet, or turned since they were found to be off."""
        if self.replacement is not ReplacementPolicy.ONE_BY_ONE:
            return ()
        roles = dict.fromkeys(map(length_of, self.replaced))
        return tuple(r for r in roles if (c := self._check(r)) is None or self._turned_since(c))

    @property
    def to_bring_home(self) -> LengthCheck | None:
        """The new part that was found to be off and has not been turned since: it is brought home
        before the next one goes on."""
        if self.replacement is not ReplacementPolicy.ONE_BY_ONE:
            return None
        checks = (self._check(role) for role in dict.fromkeys(map(length_of, self.replaced)))
        off = (c for c in checks if c and c.steps and not c.wrong and not self._turned_since(c))
        return next(off, None)

    def fitted_at(self, role: str) -> int:
        """When this string or cable, or its harness, last got a new part; 0 if all came with the bow."""
        return max((c.seq for c in self.changes if c.decides(role)), default=0)

    def first_fitted_at(self, role: str) -> int:
        """When the first new part of this role went on: what was read before that is of the old one."""
        return min((c.seq for c in self.changes if c.decides(role)), default=0)

    def _check(self, role: str) -> LengthCheck | None:
        """The newest check of the part of this role that is on now."""
        fitted = self.fitted_at(role)
        mine = (c for c in self.checks if c.part == role and c.seq > fitted)
        return max(mine, key=lambda c: c.seq, default=None)

    def _turned_since(self, check: LengthCheck) -> bool:
        return bool(check.steps) and any(
            c.adjuster == check.part and c.steps and c.seq > check.seq for c in self.changes
        )

    def net_steps(self, key: str) -> int:
        """Net steps of an adjuster since the part it turns was fitted.

        A new cable comes without the old one's spacers, its legs as they were made; where the legs are a
        harness of its own, they are as long as that harness is on.
        """
        turned = next((one for one in self.changes if one.adjuster == key), None)
        total = 0
        for entry in sorted(self.changes, key=lambda one: one.seq):
            if turned is not None and self._makes_new(entry, turned):
                total = 0
            elif entry.adjuster == key:
                total += entry.steps
        return total

    def _makes_new(self, entry: LedgerEntry, turned: LedgerEntry) -> bool:
        """Whether a new part brings a new one of what an adjuster turns."""
        if not turned.part or not entry.decides(turned.part):
            return False
        by_harness = turned.change is Change.YOKE_LEG and turned.part in self.harnessed
        return by_harness == (entry.part in HARNESSES)

    def in_use(self, change: Change) -> bool:
        """Whether any adjuster of that kind of change is in now: a spacer in a cable, say."""
        keys = {one.adjuster for one in self.changes if one.change is change and one.steps}
        return any(self.net_steps(key) for key in keys)

    def current(self, quantity: str) -> Current | None:
        """The newest group of takes of a quantity, judged for freshness; None if never read."""
        if quantity not in self._current:
            self._current[quantity] = self._compared(quantity)
        return self._current[quantity]

    @cached_property
    def _current(self) -> dict[str, Current | None]:
        return {}

    @cached_property
    def _computed(self) -> dict[tuple[str, int], tuple[object, Any]]:
        return {}

    def once(self, what: str, given: object, compute: Callable[[], _Computed]) -> _Computed:
        """What follows from these facts and one more object, computed the first time that it is asked for.

        Parameters
        ----------
        what : str
            Which of the things that are computed from them.
        given : object
            What it depends on besides: the very same object means the same answer.
        compute : callable
            Computes it.
        """
        key = (what, id(given))
        if key not in self._computed:
            self._computed[key] = (given, compute())  # kept with it, so that its id stays its own
        found: _Computed = self._computed[key][1]
        return found

    @cached_property
    def _baseline(self) -> dict[str, Current | None]:
        return {}

    def _compared(self, quantity: str) -> Current | None:
        now, before = self._latest(quantity, self.takes), self.baseline(quantity)
        if now is None or before is None or now.points == before.points:
            return now
        shift = shift_in(now.points, before.points, self.places)
        if shift is None or now.summary is None:
            return replace(now, apart=shift is None)
        moved = replace(now.summary, value=now.summary.value + shift)
        return replace(now, summary=moved, shift_in=shift)

    def baseline(self, quantity: str) -> Current | None:
        """What it read before anything was loosened, whatever happened since."""
        if quantity not in self._baseline:
            begun = min((change.seq for change in self.changes), default=None)
            takes = [
                take
                for take in self.takes
                if take.sheet == "baseline" and (begun is None or take.seq < begun)
            ]
            self._baseline[quantity] = self._latest(quantity, takes)
        return self._baseline[quantity]

    def passed_over(self, quantity: str) -> bool:
        """Whether somebody said at the baseline that it is not read there."""
        mine = (one for one in self.takes if one.quantity == quantity and one.sheet == "baseline")
        return any(one.value is None and one.reason == SKIPPED for one in mine)

    def best(self, quantity: str) -> float | None:
        """The best estimate of a number by all readings together, else its newest reading; None without
        either."""
        now = self.current(quantity)
        read = now.summary.value if now is not None and now.summary is not None else None
        return self.estimates.get(quantity, read)

    def last_visit(self, quantity: str) -> LeftWith | None:
        """What a quantity left with at the last visit, between the points that it is read between now; None
        where it was not on that sheet or was read between points that cannot be compared."""
        then = self.left_with.get(quantity)
        now = None if then is None else self.current(quantity)
        if then is None or now is None or now.summary is None or now.points == then.points:
            return then
        shift = shift_in(then.points, now.points, self.places)
        return None if shift is None else replace(then, value=then.value + shift)

    def read_before(self, quantity: str, seq: int) -> Current | None:
        """What was read last before a moment, whatever has happened since; None if nothing was."""
        return self._latest(quantity, [take for take in self.takes if take.seq < seq])

    @cached_property
    def changes_made(self) -> list[ChangeMade]:
        """What may have made readings stale: draws on an old string leave what sits on it where it is,
        and a new string has nothing on it that was read before."""
        made = [
            ChangeMade(one.seq, self._kind_of(one))
            for one in self.changes
            if one.steps or one.change is not Change.SHOTS
        ]
        new = (c.seq for c in self.changes if c.replaced and c.part == STRING)
        return made + [ChangeMade(seq, Change.NEW_STRING) for seq in new]

    def _kind_of(self, made: LedgerEntry) -> Change:
        """What a change is to what was read before it."""
        if made.change is Change.SHOTS and STRING not in self.replaced:
            return Change.CABLE
        if made.change is not Change.YOKE_LEG:
            return made.change
        at_once = (made.seq, made.change, made.part)
        return kind_of_legs(
            [one.steps for one in self.changes if (one.seq, one.change, one.part) == at_once]
        )

    def _latest(self, quantity: str, takes: Iterable[Take]) -> Current | None:
        mine = sorted((t for t in takes if t.quantity == quantity), key=lambda t: t.seq)
        if not mine:
            return None
        last = self._last_that_counts(mine)
        group = self._same_moment(mine, last)
        stale = stale_since(quantity, last.seq, self.changes_made)
        values = [take.value for take in group if take.value is not None]
        what = self.named(quantity)
        summary = summarise(values, precision_of(what, group)) if values else None
        no_more = mine[-1].value is None and last.value is not None
        reason = "" if values else last.reason
        return Current(
            quantity,
            last.seq,
            summary,
            reason,
            stale,
            last.sheet,
            (last.start, last.end),
            wanted=self.takes_wanted_of(what),
            agreed=summary is not None and (no_more or what.agreed(summary.takes, summary.spread)),
        )

    def _last_that_counts(self, takes: list[Take]) -> Take:
        """The newest take; one that was read before it, nothing changed between, outranks one that was not
        read."""
        last = takes[-1]
        if last.value is not None:
            return last
        read = [t for t in takes if t.value is not None and t.sheet == last.sheet]
        made = [e for e in self.changes_made if read and read[-1].seq < e.seq < last.seq]
        if not read or stale_since(last.quantity, read[-1].seq, made):
            return last
        return read[-1]

    def _same_moment(self, takes: list[Take], last: Take) -> list[Take]:
        """Takes with nothing between them and the last that would have changed the reading.

        A take between other points is another reading and does not mix.
        """
        events = self.changes_made
        return [
            take
            for take in takes
            if take.sheet == last.sheet
            and (take.start, take.end) == (last.start, last.end)
            and not stale_since(take.quantity, take.seq, [e for e in events if e.seq < last.seq])
        ]
