"""A job as the core sees it: facts, bands, course and advice, computed once per request."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from bowcore.accessories.on_the_bow import ARROW, REST, THINGS, OnTheBow, thing
from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.limb_bolt import turns_out
from bowcore.adjusters.registry import adjuster_in, adjusters_of, fit_adjusters_of
from bowcore.bow.lay import Lay, lay_of, mixed
from bowcore.bow.specification import STRING, BowSpec, Family, length_of
from bowcore.deciding.policies import CHOICES, tuning_policy
from bowcore.deciding.problem import TuningPolicy
from bowcore.evidence.facts import Facts, LeftWith, LengthCheck, OpenPress
from bowcore.evidence.references import known_places
from bowcore.evidence.shooting_policy import USUAL_SHOOTING_POLICY, ShootingPolicy
from bowcore.io.book import KeptBook
from bowcore.io.edge import validated
from bowcore.learning.belief import Belief
from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import LEANS, TIMED_AT_REST
from bowcore.quantities.changes import Change
from bowcore.response.matrix import Response
from bowcore.stages.back_to_spec.advice import Advice, advise, best_estimates
from bowcore.stages.back_to_spec.other_changes import other_change
from bowcore.stages.back_to_spec.step import needs_reading
from bowcore.stages.back_to_spec.targets import Tolerances, Wishes, bands
from bowcore.stages.back_to_spec.timing_at_rest import DRAWN_GAP, gap_now, stands_in
from bowcore.stages.course import Course, course
from bowcore.stages.fit.fit_advice import fit_estimates
from bowcore.stages.fit.fit_bow import FitBow, PeepElsewhere
from bowcore.stages.fit.fit_by_hand import cord_up_now
from bowcore.stages.fit.fit_needs import is_fitted
from bowcore.stages.hand_over.blockers import stands_on_the_sheet
from bowcore.stages.replace.gates import BowInPress
from bowcore.stages.replace.press_plan import PressBow, PressKind, PressPlan, press_plan
from bowcore.stages.shooting_in.tear_lessons import ShownByModel
from bowcore.work_order.holds import may_be_lifted
from bowcore.work_order.needs import CARRY_OVER, REST_CORD, readings_needed
from bowcore.work_order.replacement import ReplacementPolicy
from bowcore.work_order.services import SHOOT_IN, parts_to_replace
from bowcore.work_order.supply import not_in_hand
from shop.accounts.models import Shop
from shop.bows.models import Part
from shop.engine.adapters import as_measured, cams_of, ledger_entry, looked_at, shots_of, takes_of
from shop.engine.curve_fits import fitted_prior_of, newest_fit, outdated
from shop.engine.pooling import pooled_prior
from shop.engine.priors import (
    book_prior,
    cable_moves_at_hand,
    cable_moves_of,
    gap_ratio_of,
    twin_at_hand,
)
from shop.engine.tear_pooling import tears_of_model
from shop.fitting.models import ThingOnBow
from shop.jobs.models import Hold, Job
from shop.measurements.models import CamByCaliper, LeftOnPurpose, MarkEntry, Reading
from shop.press.models import Adjustment, PartCheck, PressCycle
from shop.string_sets.models import Component
from shop.tuning.models import ShotFired, SuspectLookedAt

BOLTS_BACK = "bolts_back"
"""Kept among the marks: the press cycle after which both limb bolts were turned back in."""

MOST_ESTIMATES = 500
_LEFT_WITH: dict[tuple[object, ...], dict[str, LeftWith]] = {}
"""By the last visit: what the bow left with."""
_ESTIMATES: dict[tuple[object, ...], dict[str, float]] = {}
"""By all that they depend on: the rack asks for the same ones again and again."""


@dataclass(frozen=True)
class JobRows:
    """The rows of one job, where many jobs are read at once. Each list in order."""

    readings: list[Reading]
    adjustments: list[Adjustment]
    presses: list[PressCycle]
    marks: list[MarkEntry]
    cams: list[CamByCaliper]
    checks: list[PartCheck]
    left: list[LeftOnPurpose]
    things: list[ThingOnBow]
    shots: list[ShotFired]
    looked_at: list[SuspectLookedAt]
    last_job: Job | None


@dataclass(frozen=True)
class LedgerLine:
    """A ledger entry with its words."""

    row: Adjustment
    words: str


class JobState:
    """Everything the core says of one job.

    The rack reads the rows of many jobs at once and hands them in; a job's own screens do not.
    """

    def __init__(self, job: Job, rows: JobRows | None = None, shop: Shop | None = None):
        self.job = job
        self._rows = rows
        self._shop = shop

    @cached_property
    def book(self) -> KeptBook:
        """The book as it was when the bow came in."""
        return validated(KeptBook, self.job.spec)

    @cached_property
    def spec(self) -> BowSpec:
        """The book, with its cams as a caliper gave them on this job."""
        return as_measured(self.book.spec(), self.cams)

    @cached_property
    def cams(self) -> list[CamByCaliper]:
        """Every measure of its cams on this job, the newest last."""
        return cams_of(self.job) if self._rows is None else self._rows.cams

    @cached_property
    def shop(self) -> Shop:
        return self._shop or self.job.shop

    @cached_property
    def adjustments(self) -> list[Adjustment]:
        if self._rows is not None:
            return self._rows.adjustments
        rows = Adjustment.objects.filter(job=self.job).select_related("by", "part", "corrects")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def adjustments_made(self) -> list[Adjustment]:
        """What was done to the bow: without parts that were logged and never went on."""
        rows = self.adjustments
        never = {row.corrects_id for row in rows if row.takes_part_off}
        return [row for row in rows if row.pk not in never and not row.takes_part_off]

    @property
    def just_put_on(self) -> list[Adjustment]:
        """New parts whose entry can be taken back: the newest of a role, nothing done to it since."""
        judged = {check.part_id for check in self.part_checks}
        last = {row.role: row for row in self.adjustments_made if row.role}
        return [row for row in last.values() if row.replaced and row.part_id not in judged]

    @cached_property
    def ledger(self) -> list[LedgerLine]:
        """Every ledger entry with its words."""
        return [LedgerLine(row, self._entry_words(row)) for row in self.adjustments]

    @cached_property
    def readings(self) -> list[Reading]:
        """Every reading, corrected ones included, in order."""
        if self._rows is not None:
            return self._rows.readings
        rows = Reading.objects.filter(job=self.job).select_related("by", "sheet", "corrects")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def presses(self) -> list[PressCycle]:
        """Every press cycle, in order, each with its let-down if there was one."""
        if self._rows is not None:
            return self._rows.presses
        rows = PressCycle.objects.filter(job=self.job).select_related("let_down", "by")
        return list(rows.order_by("seq"))

    @property
    def press(self) -> PressCycle | None:
        """The press cycle that is open."""
        last = self.presses[-1] if self.presses else None
        return None if last is None or hasattr(last, "let_down") else last

    @cached_property
    def tray(self) -> tuple[str, ...]:
        """Small parts that are out of the bow while the press is open, each once."""
        if self.press is None:
            return ()
        return tuple(dict.fromkeys(self.press.tray.order_by("pk").values_list("name", flat=True)))

    @property
    def in_press(self) -> BowInPress:
        """What decides which points the gate asks for."""
        in_use = [change for change in Change if self.facts.in_use(change)]
        bolts_out = self.press is not None and any(self.press.bolts_out)
        parts = tuple(self.press.parts) if self.press else ()
        return BowInPress(self.spec, in_use, bolts_out, self.tray, parts)

    @cached_property
    def holds(self) -> list[Hold]:
        return [hold for hold in self.job.holds.all() if hold.lifted_at is None]

    @property
    def do_not_draw(self) -> str:
        """Why this bow must not be drawn, "" while it may be."""
        return next((hold.reason for hold in self.holds if hold.danger), "")

    @cached_property
    def liftable(self) -> list[Hold]:
        """Holds whose parts are new since they were placed, the press let down."""
        return [
            hold
            for hold in self.holds
            if may_be_lifted(hold.parts, self._new_since(hold), self.press is not None)
        ]

    @cached_property
    def part_checks(self) -> list[PartCheck]:
        if self._rows is not None:
            return self._rows.checks
        if not any(row.part_id for row in self.adjustments):
            return []
        return list(PartCheck.objects.filter(job=self.job).order_by("-seq"))

    @cached_property
    def left(self) -> dict[str, str]:
        """What is left outside its band on purpose, by quantity, with the reason."""
        if self._rows is not None:
            rows = self._rows.left
        else:
            rows = list(LeftOnPurpose.objects.filter(job=self.job).order_by("seq", "pk"))
        newest = {row.quantity: row.reason for row in rows}
        return {name: reason for name, reason in newest.items() if reason}

    @cached_property
    def on_bow(self) -> OnTheBow:
        """What is on the bow: written down on this job, or on an earlier visit; read when it is asked for."""
        things: Any = SimpleLazyObject(self._things)
        return OnTheBow(things)

    def _places(self) -> Mapping[str, float]:
        """Places of known reference points, found when two readings were taken between unlike points."""

        def known() -> dict[str, float]:
            return known_places(self.spec.part(STRING).strands, self.on_bow)

        found: Any = SimpleLazyObject(known)
        return found  # type: ignore[no-any-return]

    @cached_property
    def _thing_rows(self) -> list[ThingOnBow]:
        """What was written down of the bow, on this job or an earlier visit, the newest last."""
        if self._rows is not None:
            return self._rows.things
        found = ThingOnBow.objects.filter(job__bow=self.job.bow_id, job__lte=self.job.pk)
        return list(found.order_by("job", "seq", "pk"))

    @cached_property
    def shot_rows(self) -> list[ShotFired]:
        """Every shot, in order; none are asked for where nobody is to shoot it in."""
        if self._rows is not None:
            return self._rows.shots
        if SHOOT_IN not in self.job.services:
            return []
        return list(ShotFired.objects.filter(job=self.job).order_by("seq", "pk"))

    @cached_property
    def _looked_at(self) -> list[SuspectLookedAt]:
        if self._rows is not None:
            return self._rows.looked_at
        if SHOOT_IN not in self.job.services:
            return []
        return list(SuspectLookedAt.objects.filter(job=self.job).order_by("seq", "pk"))

    def _things(self) -> dict[str, dict[str, object]]:
        known = {one.key: one for one in THINGS}
        return {
            r.thing: r.details
            for r in self._thing_rows
            if r.thing in known and known[r.thing].usable(r.details)
        }

    @cached_property
    def marks(self) -> dict[str, str]:
        """What was written down last, by mark. The rest that was written down on this visit says where its
        cord goes."""
        found = {row.mark: row.value for row in self._mark_rows}
        if REST in self.job.fitted and REST_CORD not in found:
            rests = [
                row for row in self._thing_rows if row.thing == REST and row.job_id == self.job.pk
            ]
            if rests and thing(REST).usable(rests[-1].details):
                found[REST_CORD] = thing(REST).say(rests[-1].details)
        return found

    @cached_property
    def _mark_rows(self) -> list[MarkEntry]:
        if self._rows is not None:
            return self._rows.marks
        return list(MarkEntry.objects.filter(job=self.job).order_by("seq", "pk"))

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
            looked_at=looked_at(self._looked_at),
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

    @cached_property
    def last_job(self) -> Job | None:
        """The bow's last visit, if it was handed over."""
        if self._rows is not None:
            return self._rows.last_job
        before = Job.objects.filter(bow=self.job.bow_id, pk__lt=self.job.pk)
        closed = before.exclude(handed_over_at=None).select_related("bow__entry", "shop")
        return closed.order_by("-pk").first()

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
            if len(_LEFT_WITH) >= MOST_ESTIMATES:
                _LEFT_WITH.clear()
            _LEFT_WITH[key] = _read_at_hand_over(JobState(last))
        return _LEFT_WITH[key]

    def _spines(self) -> dict[str, float]:
        """Of arrows that were written down for this bow, by name; looked up only where it is shot in."""
        if SHOOT_IN not in self.job.services:
            return {}

        def known() -> dict[str, float]:
            rows = [row.details for row in self._thing_rows if row.thing == ARROW]
            bows = [OnTheBow({ARROW: one}) for one in rows if thing(ARROW).usable(one)]
            return {str(one.of(ARROW)["name"]): one.arrow.spine for one in bows if one.arrow}

        found: Any = SimpleLazyObject(known)
        return found  # type: ignore[no-any-return]

    def _cable_moves(self) -> dict[str, dict[str, float]]:
        """What half a twist in each cable does, by the book, where the bow is shot in; the rack does not wait
        for it to be computed."""
        if SHOOT_IN not in self.job.services:
            return {}
        moves_of = cable_moves_of if self._rows is None else cable_moves_at_hand
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

    def fit_bow(
        self,
        loops: Sequence[tuple[float, float]] = (),
        peep_elsewhere: PeepElsewhere | None = None,
    ) -> FitBow:
        """The bow as the fit sees it, with what is known from loops tied here and from another bow."""
        return self._fit_bow_by(self.judged, loops, peep_elsewhere)

    def _fit_bow_by(
        self,
        facts: Facts,
        loops: Sequence[tuple[float, float]] = (),
        peep_elsewhere: PeepElsewhere | None = None,
    ) -> FitBow:
        def response() -> Response | None:
            return None if self.prior is None else self.prior.response()

        twin = twin_at_hand(self.spec)
        lay = self.string_lay
        return FitBow(self.spec, facts, self.bands, twin, response, lay, loops, peep_elsewhere)

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

    @property
    def string_lay(self) -> Lay | None:
        """How the string's threads run; None where nobody has looked."""
        return self._lay_of(STRING)

    def _lay_of(self, role: str) -> Lay | None:
        """Of the part that is on now: as it came, else as somebody has looked since."""
        new = [row for row in self.adjustments_made if row.role == role and row.part is not None]
        if new and new[-1].part and new[-1].part.lay:
            return lay_of(new[-1].part.lay)
        on_since = new[-1].seq if new else 0
        looked = [r for r in self._mark_rows if r.mark == f"lay_{role}" and r.seq > on_since]
        return lay_of(looked[-1].value) if looked else None

    def fitted_part(self, role: str) -> Part:
        """The newest part that decides the length of this string or cable."""
        row = next(
            r for r in reversed(self.adjustments_made) if r.replaced and length_of(r.role) == role
        )
        assert row.part is not None
        return row.part

    @property
    def policy(self) -> TuningPolicy:
        """The shop's, except where this job differs."""
        return self.policy_if({})

    @cached_property
    def usual_policy(self) -> dict[str, bool]:
        """What the shop would do with this bow: a book that wants the top stop first gets it."""
        book = self._allowed.top_first_in > 0
        return {key: getattr(self.shop, key) or (key == "top_first" and book) for key in CHOICES}

    @property
    def chosen_policy(self) -> dict[str, bool]:
        """How this job is done, choice by choice; only those that make a difference on this bow."""
        mine = self.usual_policy | self.job.policy
        idle = {"top_open" if self.spec.family is Family.HYBRID else "top_first"}
        if self.spec.one_cam:
            idle |= {"top_open", "top_first"}
        if self.spec.one_cam or self.job.path != CARRY_OVER:
            idle.add("gap_as_was")
        if not any(name in self.bands for name in LEANS):
            idle.add("upright")
        return {name: value for name, value in mine.items() if name not in idle}

    def policy_if(self, otherwise: Mapping[str, bool]) -> TuningPolicy:
        """This job's policy if some of its choices were others."""
        chosen = self.usual_policy | self.job.policy | dict(otherwise)
        return tuning_policy(chosen, self._allowed.top_first_in)

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

    @cached_property
    def bands(self) -> dict[str, Band]:
        return self._bands_by(self.policy)

    @cached_property
    def course(self) -> Course:
        return course(self.judged, self.bands)

    @cached_property
    def judged(self) -> Facts:
        """The facts with the best estimates that the plan goes by, once something has been turned
        and everything is read; the timing by what the cams show at rest, where that stands in for it."""
        at_rest = gap_now(self.facts)
        found = {DRAWN_GAP: at_rest.gap_in} if at_rest else {}
        turned = any(change.steps and change.adjuster for change in self.facts.changes)
        if turned and not needs_reading(self.facts):
            found |= self._estimates() | self._cord()
        if turned and is_fitted(self.facts):
            found |= fit_estimates(self._fit_bow_by(self.facts))
        return replace(self.facts, estimates=found) if found else self.facts

    def _cord(self) -> dict[str, float]:
        """When the rest's arm comes up after the last twist, by the twin; nothing where it was read since."""
        read = self.facts.current("cord_up")
        if read is None or read.fresh or self.facts.on_bow.clamp is None:
            return {}
        up = cord_up_now(self._fit_bow_by(self.facts))
        return {} if up is None else {"cord_up": up}

    @cached_property
    def advice(self) -> Advice:
        """What to turn now; needs every planned reading fresh."""
        return self.advised_by(self.policy)

    def advised_by(self, policy: TuningPolicy) -> Advice:
        """What to turn now by some policy."""
        return advise(self.spec, self.facts, self._bands_by(policy), policy, self.prior)

    def advised_with(self, spec: BowSpec) -> Advice:
        """What to turn if the book said something else of this bow."""
        policy, prior = self.policy, self._prior_by(spec)
        return advise(spec, self.facts, self._bands_by(policy), policy, prior)

    @cached_property
    def prior(self) -> Belief | None:
        """What is believed of this bow before it has answered: from its own curve, else from its book
        and what the shop's other bows of the model have shown; None without a twin."""
        return fitted_prior_of(self.job) or self._prior_by(self.spec)

    @property
    def outdated_fit(self) -> str:
        """Why the fit to its newest curve is not used any more; "" while it is, and without a fit."""
        fit = newest_fit(self.job)
        return outdated(fit) if fit else ""

    def _prior_by(self, spec: BowSpec) -> Belief | None:
        book = book_prior(spec)
        return None if book is None else pooled_prior(self.job, spec, book)

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

    def _bands_by(self, policy: TuningPolicy) -> dict[str, Band]:
        job = self.job
        wanted = (job.wanted_weight_lbf, job.wanted_draw_in, job.wanted_gap_in)
        wishes = Wishes(*(None if figure is None else float(figure) for figure in wanted))
        allowed = replace(
            self._allowed,
            top_first_in=policy.top_first_in,
            upright=policy.upright,
            top_open=policy.top_open,
            gap_as_was=policy.gap_as_was,
        )
        return bands(self.spec, self.facts, wishes, allowed)

    @cached_property
    def _allowed(self) -> Tolerances:
        return self.book.allowed()

    def _estimates(self) -> dict[str, float]:
        """By the cache, or computed; none without a twin."""
        key = (self.spec, self.facts.takes, self.facts.changes, stands_in(self.facts))
        if key not in _ESTIMATES:
            if len(_ESTIMATES) >= MOST_ESTIMATES:
                _ESTIMATES.clear()
            known = self.prior
            _ESTIMATES[key] = {} if known is None else best_estimates(self.facts, known)
        return _ESTIMATES[key]

    def _new_since(self, hold: Hold) -> set[str]:
        """Roles of the parts that went on since a hold was placed."""
        made = self.adjustments_made
        return {row.role for row in made if row.replaced and row.at > hold.placed_at}

    def _set_state(self) -> str:
        """The newest set's state, where one was asked for; the rack does not show it."""
        if self._rows is not None or not self.job.services:
            return ""
        newest = max((one.set for one in self._components), key=lambda one: one.pk, default=None)
        return newest.state if newest else ""

    @cached_property
    def _components(self) -> list[Component]:
        """Of every set of this job, with the set; none where every part is in hand without an order."""
        if not not_in_hand(parts_to_replace(self.job.services), self.job.supply):
            return []
        return list(Component.objects.filter(set__job=self.job).select_related("set"))

    def _came(self) -> tuple[str, ...]:
        """Roles of new parts that lie ready; the rack does not show them."""
        if self._rows is not None or not self.job.services:
            return ()
        return tuple(
            one.role for one in self._components
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


def _read_at_hand_over(state: JobState) -> dict[str, LeftWith]:
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


def job_state(job: Job) -> JobState:
    """The core's view of a job."""
    return JobState(job)
