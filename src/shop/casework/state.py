"""A job as the core sees it: facts, bands, course and advice, computed once per request."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cached_property

from bowcore.bow.specification import BowSpec, Family
from bowcore.deciding.policies import CHOICES, tuning_policy
from bowcore.deciding.problem import TuningPolicy
from bowcore.evidence.facts import Facts
from bowcore.learning.belief import Belief
from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import LEANS
from bowcore.response.matrix import Response
from bowcore.stages.back_to_spec.advice import Advice, advise, best_estimates
from bowcore.stages.back_to_spec.step import needs_reading
from bowcore.stages.back_to_spec.targets import Tolerances, Wishes, bands
from bowcore.stages.back_to_spec.timing_at_rest import DRAWN_GAP, gap_now, stands_in
from bowcore.stages.course import Course, course
from bowcore.stages.fit.fit_advice import fit_estimates
from bowcore.stages.fit.fit_bow import FitBow, PeepElsewhere
from bowcore.stages.fit.fit_by_hand import cord_up_now
from bowcore.stages.fit.fit_needs import is_fitted
from bowcore.work_order.needs import CARRY_OVER
from shop.casework.engine.curve_fits import fitted_prior_of, newest_fit, outdated
from shop.casework.engine.pooling import pooled_prior
from shop.casework.engine.priors import (
    book_prior,
    twin_at_hand,
)
from shop.casework.job_facts import JobFacts
from shop.schema.jobs.models import Job

MOST_ESTIMATES = 500
_ESTIMATES: dict[tuple[object, ...], dict[str, float]] = {}
"""By all that they depend on: the rack asks for the same ones again and again."""


class JobState(JobFacts):
    """Everything the core says of one job.

    The rack reads the rows of many jobs at once and hands them in; a job's own screens do not.
    """

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


def job_state(job: Job) -> JobState:
    """The core's view of a job."""
    return JobState(job)
