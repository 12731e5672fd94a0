"""A job as the core sees it: facts, bands, course and advice."""

from dataclasses import replace
from functools import cached_property
from typing import Any

from bowcore import __version__ as core_version
from bowcore.book_case import read_spec
from bowcore.casefile import Case
from bowcore.errors import BadInput
from bowcore.measurement.bands import Band
from bowcore.mechanics.adjusters import adjusters_of
from bowcore.mechanics.response import Adjuster
from bowcore.mechanics.specification import BowSpec, Family
from bowcore.planning.estimator import Belief
from bowcore.planning.problem import School
from bowcore.planning.record import answer_record, problem_record
from bowcore.quantities.catalogue import LEANS
from bowcore.service.advice import Advice, advise
from bowcore.service.facts import Check, Facts, OpenPress
from bowcore.service.needs import readings_needed
from bowcore.service.order import ReplaceSchool
from bowcore.service.press_plan import Limbs, Press, PressBow, PressPlan, press_plan
from bowcore.service.references import known_places
from bowcore.service.steps import Course, course
from bowcore.service.targets import Tolerances, Wishes, bands
from shop.accounts.models import SCHOOL, Shop, school_of
from shop.jobs.models import Hold, Job
from shop.ledger.models import Adjustment, PartCheck, PressCycle
from shop.measurements.models import Noted, Reading
from shop.sets.models import StringSet
from shop.tuning.fitting import fitted_prior_of
from shop.tuning.pooling import pooled_prior
from shop.tuning.priors import prior_of
from shop.tuning.rows import change_of, takes_of

BOLTS_BACK = "bolts_back"
"""Kept among the marks: the press cycle after which both limb bolts were turned back in."""


class View:
    """Everything the core says of one job, computed once per request.

    The rack reads the facts of many jobs at once and hands them in; a job's own screens do not.
    """

    def __init__(
        self,
        job: Job,
        readings: list[Reading] | None = None,
        adjustments: list[Adjustment] | None = None,
        presses: list[PressCycle] | None = None,
        noted: list[Noted] | None = None,
        checks: list[PartCheck] | None = None,
    ):
        self.job = job
        self._readings, self._adjustments, self._presses = readings, adjustments, presses
        self._noted, self._checks = noted, checks

    @cached_property
    def spec(self) -> BowSpec:
        return read_spec(Case(self.job.spec))

    @cached_property
    def adjustments(self) -> list[Adjustment]:
        if self._adjustments is not None:
            return self._adjustments
        rows = Adjustment.objects.filter(job=self.job).select_related("by", "part", "job")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def readings(self) -> list[Reading]:
        """Every reading, corrected ones included, in order."""
        if self._readings is not None:
            return self._readings
        rows = Reading.objects.filter(job=self.job).select_related("by", "sheet", "corrects")
        return list(rows.order_by("seq", "pk"))

    @cached_property
    def presses(self) -> list[PressCycle]:
        """Every press cycle, in order, each with its let-down if there was one."""
        if self._presses is not None:
            return self._presses
        rows = PressCycle.objects.filter(job=self.job).select_related("let_down", "by")
        return list(rows.order_by("seq"))

    @property
    def press(self) -> PressCycle | None:
        """The press cycle that is open."""
        last = self.presses[-1] if self.presses else None
        return None if last is None or hasattr(last, "let_down") else last

    @cached_property
    def holds(self) -> list[Hold]:
        return [hold for hold in self.job.holds.all() if hold.lifted_at is None]

    @cached_property
    def facts(self) -> Facts:
        return Facts(
            family=self.spec.family,
            services=tuple(self.job.services),
            looked_over=self.job.looked_over,
            holds=tuple(hold.kind for hold in self.holds),
            takes=tuple(takes_of(self.readings)),
            changes=tuple(map(change_of, self.adjustments)),
            press=self._open_press(),
            handed_over=self.job.handed_over_at is not None,
            path=self.job.path,
            fitted=tuple(self.job.fitted),
            marks=self.marks,
            school=ReplaceSchool(self.job.replace_school or self.shop.replace_school),
            checks=tuple(Check(c.seq, c.role, c.wrong_part) for c in self.part_checks),
            bolts_away=self._bolts_away(),
            set_state=self._set_state(),
            places=known_places(self.spec.part("string").strands),
            most_bolt_turns=self.most_turns,
            shimmed=bool(self.spec.shim_kits),
        )

    @cached_property
    def adjusters(self) -> tuple[Adjuster, ...]:
        """Everything that can be turned on this bow."""
        return adjusters_of(self.spec)

    def adjuster(self, key: str) -> Adjuster:
        """One of them; BadInput if this bow has none of that name."""
        for adjuster in self.adjusters:
            if adjuster.key == key:
                return adjuster
        raise BadInput(f"This bow has no '{key}'.", "adjuster")

    @property
    def school(self) -> School:
        """The shop's, but for what this job does otherwise."""
        return self.school_if({})

    @cached_property
    def usual(self) -> dict[str, bool]:
        """What the shop would do with this bow: a book that wants the top stop first has it so."""
        book = self._allowed.top_first_in > 0
        return {n: getattr(self.shop, n) or (n == "top_first" and book) for n in SCHOOL}

    @property
    def chosen(self) -> dict[str, bool]:
        """How this job is done, choice by choice; only those that make a difference on this bow."""
        mine = self.usual | self.job.school
        idle = set() if self.spec.family is Family.HYBRID else {"top_first"}
        if not any(name in self.bands for name in LEANS):
            idle.add("upright")
        return {name: value for name, value in mine.items() if name not in idle}

    def school_if(self, otherwise: dict[str, bool]) -> School:
        """This job's school if some of its choices were others."""
        return school_of(self.usual | self.job.school | otherwise, self._allowed.top_first_in)

    @cached_property
    def shop(self) -> Shop:
        return Shop.current()

    @cached_property
    def part_checks(self) -> list[PartCheck]:
        if self._noted is not None:
            return self._checks or []
        return list(PartCheck.objects.filter(job=self.job).order_by("-seq"))

    def _set_state(self) -> str:
        """The newest set's state, where one was asked for; the rack does not show it."""
        if self._presses is not None or not any(
            s.startswith("replace_") for s in self.job.services
        ):
            return ""
        newest = StringSet.objects.filter(job=self.job).order_by("-pk").first()
        return newest.state if newest else ""

    def _bolts_away(self) -> tuple[float, ...]:
        """Turns that both bolts still stand out from the last press cycle, none when they are back."""
        if self.press is not None or not self.presses:
            return ()
        last = self.presses[-1]
        back = self.marks.get(BOLTS_BACK) == str(last.pk)
        return () if back or not any(last.bolts_out) else tuple(last.bolts_out)

    @cached_property
    def press_plan(self) -> PressPlan:
        """How this bow is pressed in this shop's press, from where its bolts stand."""
        kept = self.job.spec.get("press", {})
        stands = [float(self.marks.get(key, 0)) for key in ("bolts_top", "bolts_bottom")]
        bow = PressBow(
            Limbs(kept.get("limbs", Limbs.ORDINARY.value)), kept.get("two_stage", False),
            (stands[0], stands[1]), self.most_turns, self.shop.back_off,
        )  # fmt: skip
        return press_plan(Press(self.shop.press), bow)

    @property
    def most_turns(self) -> float:
        """How far the maker lets a limb bolt out, by the book of this job."""
        return float(self.job.spec.get("press", {}).get("bolt_turns_max", 6.0))

    @cached_property
    def marks(self) -> dict[str, str]:
        """What was written down last, by mark."""
        rows = self._noted
        if rows is None:
            rows = list(Noted.objects.filter(job=self.job).order_by("seq", "pk"))
        return {row.mark: row.value for row in rows}

    @cached_property
    def needed(self) -> tuple[str, ...]:
        """Quantities of this job's baseline, in the order of work."""
        return readings_needed(self.facts.setup)

    @cached_property
    def bands(self) -> dict[str, Band]:
        return self._bands_by(self.school)

    def _bands_by(self, school: School) -> dict[str, Band]:
        wanted = (self.job.wanted_weight_lbf, self.job.wanted_draw_in)
        wishes = Wishes(*(None if figure is None else float(figure) for figure in wanted))
        allowed = replace(self._allowed, top_first_in=school.top_first_in, upright=school.upright)
        return bands(self.spec, self.facts, wishes, allowed)

    @cached_property
    def _allowed(self) -> Tolerances:
        return Tolerances(**self.job.spec.get("tolerances", {}))

    @cached_property
    def course(self) -> Course:
        return course(self.facts, self.bands)

    @cached_property
    def advice(self) -> Advice:
        """What to turn now; needs every planned reading fresh."""
        return self.advised_by(self.school)

    def advised_by(self, school: School) -> Advice:
        """What to turn now by some school."""
        aims = self._bands_by(school)
        return advise(self.spec, self.facts, aims, school, self.prior)

    @cached_property
    def prior(self) -> Belief | None:
        """What is believed of this bow before it has answered: from its own curve, else from its book
        and what the shop's other bows of the model have shown; None without a twin."""
        mine = fitted_prior_of(self.job)
        book = None if mine else prior_of(self.spec)
        return mine if book is None else pooled_prior(self.job, self.spec, book)

    def _open_press(self) -> OpenPress | None:
        if self.press is None:
            return None
        mine = [row for row in self.adjustments if row.press_id == self.press.pk]
        roles = tuple(role for role, _ in self.press.planned)
        done = bool(mine)
        if self.press.purpose == "replace":
            done = {row.role for row in mine} >= set(roles)
        return OpenPress(self.press.seq, self.press.purpose, roles, done)


def view_of(job: Job) -> View:
    """The core's view of a job."""
    return View(job)


def advice_record(advice: Advice) -> dict[str, Any]:
    """Advice as it is stored: what went in, what came out, and the core's version."""
    inputs = problem_record(advice.problem)
    answer = answer_record(advice.problem, advice.plan)
    return {"core_version": core_version, "inputs": inputs, "answer": answer}
