"""A job's rows as the core's facts, built in one place."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from bowcore.accessories.on_the_bow import ARROW, OnTheBow, thing
from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.limb_bolt import turns_out
from bowcore.adjusters.registry import adjuster_in, adjusters_of, fit_adjusters_of
from bowcore.bow.lay import Lay, mixed
from bowcore.bow.specification import STRING, BowSpec, length_of
from bowcore.evidence.facts import Facts, LeftWith, LengthCheck, OpenPress
from bowcore.evidence.references import known_places
from bowcore.evidence.shooting_policy import USUAL_SHOOTING_POLICY, ShootingPolicy
from bowcore.io.book import KeptBook
from bowcore.io.edge import validated
from bowcore.quantities.catalogue import TIMED_AT_REST
from bowcore.quantities.changes import Change
from bowcore.stages.back_to_spec.other_changes import other_change
from bowcore.stages.hand_over.blockers import stands_on_the_sheet
from bowcore.stages.replace.gates import BowInPress
from bowcore.stages.replace.press_plan import PressBow, PressKind, PressPlan, press_plan
from bowcore.stages.shooting_in.tear_lessons import ShownByModel
from bowcore.work_order.needs import readings_needed
from bowcore.work_order.replacement import ReplacementPolicy
from bowcore.work_order.services import SHOOT_IN
from shop.casework.engine.priors import (
    cable_moves_at_hand,
    cable_moves_of,
    gap_ratio_of,
)
from shop.casework.engine.tear_pooling import tears_of_model
from shop.schema.core_values import as_measured, ledger_entry, looked_at, shots_of, takes_of
from shop.schema.press.models import Adjustment, PressCycle
from shop.schema.rows import JobRows

BOLTS_BACK = "bolts_back"
"""Kept among the marks: the press cycle after which both limb bolts were turned back in."""
MOST_VISITS = 500
_LEFT_WITH: dict[tuple[object, ...], dict[str, LeftWith]] = {}
"""By the last visit: what the bow left with."""


@dataclass(frozen=True)
class LedgerLine:
    """A ledger entry with its words."""

    row: Adjustment
    words: str


class JobFacts(JobRows):
    """The facts of one job, its book, and what can be turned on it."""

    @cached_property
    def book(self) -> KeptBook:
        """The book as it was when the bow came in."""
        return validated(KeptBook, self.job.spec)

    @cached_property
    def spec(self) -> BowSpec:
        """The book, with its cams as a caliper gave them on this job."""
        return as_measured(self.book.spec(), self.cams)

    @cached_property
    def ledger(self) -> list[LedgerLine]:
        """Every ledger entry with its words."""
        return [LedgerLine(row, self._entry_words(row)) for row in self.adjustments]

    @property
    def in_press(self) -> BowInPress:
        """What decides which points the gate asks for."""
        in_use = [change for change in Change if self.facts.in_use(change)]
        bolts_out = self.press is not None and any(self.press.bolts_out)
        parts = tuple(self.press.parts) if self.press else ()
        return BowInPress(self.spec, in_use, bolts_out, self.tray, parts)

    def _places(self) -> Mapping[str, float]:
        """Places of known reference points, found when two readings were taken between unlike points."""

        def known() -> dict[str, float]:
            return known_places(self.spec.part(STRING).strands, self.on_bow)

        found: Any = SimpleLazyObject(known)
        return found  # type: ignore[no-any-return]

    @cached_property
    def facts(self) -> Facts:
        return Facts(
            family=self.spec.family,
            services=tuple(self.job.services),
            inspected=self.job.inspected,
            holds=tuple(hold.kind for hold in self.holds),
            liftable=tuple(hold.kind for hold in self.liftable),
            takes=tuple(takes_of(self.readings)),
            changes=tuple(map(ledger_entry, self.adjustments_made)),
            press=self._open_press(),
            handed_over=self.job.closed,
            path=self.job.path,
            fitted=tuple(self.job.fitted),
            marks=self.marks,
            replacement=ReplacementPolicy(self.job.replacement or self.shop.replacement),
            checks=tuple(
                LengthCheck(c.seq, c.role, c.wrong_part, c.steps) for c in self.part_checks
            ),
            bolts_backed_off=self._bolts_backed_off(),
            set_state=self._set_state(),
            places=self._places(),
            shots=shots_of(self.shot_rows),
            spines=self._spines(),
            looked_at=looked_at(self.looked_at_rows),
            left_handed=self.job.bow.hand == "left",
            adjusters=self.adjusters if SHOOT_IN in self.job.services else (),
            cable_moves=self._cable_moves(),
            shooting_policy=self._shooting_policy(),
            most_bolt_turns=self.most_turns,
            shimmed=bool(self.spec.shim_kits),
            left_with=self._left_with(),
            sticker_lbf=self.spec.peak_weight_lbf,
            draw_asked=self.job.wanted_draw_in is not None,
            draw_in=self.shop.draw_in,
            takes_wanted=self.shop.takes,
            supply=self.job.supply,
            came=self._came(),
            harnessed=tuple(length_of(part.role) for part in self.spec.harnesses),
            left=self.left,
            on_bow=self.on_bow,
            gap_per_turn=self._gap_per_turn(),
        )

    def _gap_per_turn(self) -> float | None:
        """By the book's twin, where timing was read at rest."""
        read = any(row.quantity in TIMED_AT_REST and row.value is not None for row in self.readings)
        return gap_ratio_of(self.spec) if read else None

    def _left_with(self) -> Mapping[str, LeftWith]:
        """What the bow left with at its last visit, by quantity, read when it is asked for."""
        found: Any = SimpleLazyObject(self._of_last_visit)
        return found  # type: ignore[no-any-return]

    def _of_last_visit(self) -> dict[str, LeftWith]:
        """By the cache, or read; a job that is closed does not change."""
        last = self.last_job
        if last is None:
            return {}
        key = (last.pk, last.version)
        if key not in _LEFT_WITH:
            if len(_LEFT_WITH) >= MOST_VISITS:
                _LEFT_WITH.clear()
            _LEFT_WITH[key] = _read_at_hand_over(JobFacts(last))
        return _LEFT_WITH[key]

    def _spines(self) -> dict[str, float]:
        """Of arrows that were written down for this bow, by name; looked up only where it is shot in."""
        if SHOOT_IN not in self.job.services:
            return {}

        def known() -> dict[str, float]:
            rows = [row.details for row in self.thing_rows if row.thing == ARROW]
            bows = [OnTheBow({ARROW: one}) for one in rows if thing(ARROW).usable(one)]
            return {str(one.of(ARROW)["name"]): one.arrow.spine for one in bows if one.arrow}

        found: Any = SimpleLazyObject(known)
        return found  # type: ignore[no-any-return]

    def _cable_moves(self) -> dict[str, dict[str, float]]:
        """What half a twist in each cable does, by the book, where the bow is shot in; the rack does not wait
        for it to be computed."""
        if SHOOT_IN not in self.job.services:
            return {}
        moves_of = cable_moves_at_hand if self.many_at_once else cable_moves_of
        found: Any = SimpleLazyObject(lambda: moves_of(self.spec))
        return found  # type: ignore[no-any-return]

    def _shooting_policy(self) -> ShootingPolicy:
        """How this bow is shot in: the shop's way, and what bows of its model have shown."""
        if SHOOT_IN not in self.job.services:
            return USUAL_SHOOTING_POLICY

        def shown() -> ShownByModel:
            return tears_of_model(self.job, self.spec, self.shop.share_models)

        shares: Any = SimpleLazyObject(lambda: shown().shares)
        rates: Any = SimpleLazyObject(lambda: shown().rates)
        return replace(self.shop.shooting_policy, shares=shares, rates=rates)

    @cached_property
    def adjusters(self) -> tuple[Adjuster, ...]:
        """Everything that can be turned or moved on this bow."""
        planned = adjusters_of(self.spec)
        known = {one.key for one in planned}
        fitted = fit_adjusters_of(self.spec, self.string_lay)
        return (*planned, *(one for one in fitted if one.key not in known))

    def adjuster(self, key: str) -> Adjuster:
        """One of them; BadInput if this bow does not have it."""
        return adjuster_in(self.adjusters, key)

    def lays_of(self, keys: Iterable[str]) -> dict[str, Lay | None]:
        """How the threads run of every string and cable that these adjusters turn, by its label."""
        roles = dict.fromkeys(a.part for a in map(self.adjuster, keys) if a.twisted and a.part)
        return {self.spec.part(role).label.lower(): self._lay_of(role) for role in roles}

    @cached_property
    def mixed_lays(self) -> str:
        """A caution where the parts that are on now do not all run the same way."""
        return mixed({part.label: self._lay_of(part.role) for part in self.spec.parts})

    @cached_property
    def press_plan(self) -> PressPlan:
        """How this bow is pressed in this shop's press, from where its bolts are."""
        press = self.book.press
        counted = turns_out(self.facts)
        bow = PressBow(
            press.limbs,
            press.two_stage,
            None if counted is None else (counted[0], counted[1]),
            self.most_turns,
            press.back_off or self.shop.back_off,
        )
        return press_plan(self.press_kind, bow)

    @property
    def press_kind(self) -> PressKind:
        """The press that this job is done in."""
        return PressKind(self.job.press or self.shop.press)

    @property
    def most_turns(self) -> float:
        """How far the maker lets a limb bolt out, by the book of this job."""
        return self.book.press.bolt_turns_max

    @cached_property
    def needed(self) -> tuple[str, ...]:
        """Quantities of this job's baseline, in the order of work."""
        return readings_needed(self.facts.setup)

    def _entry_words(self, row: Adjustment) -> str:
        if row.part is not None:
            source = f", {row.note}" if row.note else ""
            return f"New {row.part.label.lower()}, {row.part.strands} strands{source}"
        if not row.adjuster:
            return f"{other_change(row.change).name}: {row.note}"
        adjuster = self.adjuster(row.adjuster)
        if row.takes_part_off:
            return f"The new {adjuster.label.lower()} did not go on: {row.note}"
        if row.corrects is not None:
            return f"{adjuster.label}: {row.note}"
        return f"{adjuster.label}: {row.note or adjuster.say(row.steps)}"

    def _set_state(self) -> str:
        """The newest set's state, where one was asked for; the rack does not show it."""
        if not self.job.services:
            return ""
        newest = max((one.set for one in self.components), key=lambda one: one.pk, default=None)
        return newest.state if newest else ""

    def _came(self) -> tuple[str, ...]:
        """Roles of new parts that lie ready; the rack does not show them."""
        if not self.job.services:
            return ()
        return tuple(
            one.role for one in self.components
            if one.came_in is not None and one.part_id is None and not one.goes_back
        )  # fmt: skip

    def _bolts_backed_off(self) -> tuple[float, ...]:
        """Turns that both bolts are still out from the last press cycle, none when they are back."""
        if self.press is not None or not self.presses:
            return ()
        last = self.presses[-1]
        back = self.marks.get(BOLTS_BACK) == str(last.pk)
        return () if back or not any(last.bolts_out) else tuple(last.bolts_out)

    def _open_press(self) -> OpenPress | None:
        if self.press is None:
            return None
        mine = [row for row in self.adjustments_made if row.press_id == self.press.pk]
        done = bool(mine)
        if self.press.purpose == PressCycle.REPLACE:
            done = {row.role for row in mine} >= set(self.press.parts)
        return OpenPress(self.press.seq, self.press.purpose, tuple(self.press.parts), done)


def _read_at_hand_over(state: JobFacts) -> dict[str, LeftWith]:
    """What stood on the sheet of a job, freshly read."""
    day = timezone.localdate(state.job.handed_over_at)
    found = {}
    for name in stands_on_the_sheet(state.facts):
        now = state.facts.current(name)
        if now is not None and now.fresh and now.summary is not None:
            found[name] = LeftWith(
                now.summary.value, now.summary.sigma, now.points, f"{day.day} {day:%B %Y}"
            )
    return found
