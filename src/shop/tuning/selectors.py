"""A job as the core sees it: facts, bands, course and advice."""

from dataclasses import asdict
from functools import cached_property
from typing import Any

from bowcore import __version__ as core_version
from bowcore.casefile import Case
from bowcore.cases import option_json, read_spec
from bowcore.measurement.bands import Band
from bowcore.mechanics.specification import BowSpec
from bowcore.service.advice import Advice, advise
from bowcore.service.facts import Change, Facts, OpenPress, Take
from bowcore.service.needs import readings_needed
from bowcore.service.steps import Course, course
from bowcore.service.targets import Tolerances, Wishes, bands
from shop.accounts.models import Shop
from shop.jobs.models import Hold, Job
from shop.ledger.models import Adjustment, PressCycle
from shop.measurements.models import Noted, Reading
from shop.tuning.priors import prior_of


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
    ):
        self.job = job
        self._readings, self._adjustments, self._presses = readings, adjustments, presses
        self._noted = noted

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
    def press(self) -> PressCycle | None:
        presses = self._presses
        if presses is None:
            presses = list(PressCycle.objects.filter(job=self.job, let_down=None).order_by("seq"))
        return presses[-1] if presses else None

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
            changes=tuple(map(_change, self.adjustments)),
            press=self._open_press(),
            handed_over=self.job.handed_over_at is not None,
            path=self.job.path,
            fitted=tuple(self.job.fitted),
            marks=self.marks,
        )

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
        wanted = self.job.wanted_weight_lbf
        wishes = Wishes(float(wanted) if wanted is not None else None)
        allowed = Tolerances(**self.job.spec.get("tolerances", {}))
        return bands(self.spec, self.facts, wishes, allowed)

    @cached_property
    def course(self) -> Course:
        return course(self.facts, self.bands)

    @cached_property
    def advice(self) -> Advice:
        """What to turn now; needs every planned reading fresh."""
        school = Shop.current().school
        return advise(self.spec, self.facts, self.bands, school, prior_of(self.spec))

    def _open_press(self) -> OpenPress | None:
        if self.press is None:
            return None
        mine = [row for row in self.adjustments if row.press_id == self.press.pk]
        roles = tuple(role for role, _ in self.press.planned)
        return OpenPress(self.press.seq, self.press.purpose, roles, bool(mine))


def takes_of(readings: list[Reading]) -> list[Take]:
    """The readings that count, each at the moment it speaks of.

    A correction speaks of the moment of what it corrects.
    """
    replaced = {row.corrects_id for row in readings if row.corrects_id}
    by_pk = {row.pk: row for row in readings}
    return [_take(row, _moment(row, by_pk)) for row in readings if row.pk not in replaced]


def _moment(row: Reading, by_pk: dict[int, Reading]) -> int:
    while row.corrects_id:
        row = by_pk[row.corrects_id]
    return row.seq


def _take(row: Reading, seq: int) -> Take:
    value = None if row.value is None else float(row.value)
    sheet = "baseline" if row.sheet.after_id is None else row.sheet.kind
    return Take(seq, row.quantity, value, sheet, row.reason, row.start, row.end)


def _change(row: Adjustment) -> Change:
    return Change(row.seq, row.change, row.role, row.half_twists, row.replaced)


def view_of(job: Job) -> View:
    """The core's view of a job."""
    return View(job)


def advice_record(advice: Advice) -> dict[str, Any]:
    """Advice as it is stored: what went in, what came out, and the core's version."""
    problem = advice.problem
    inputs = {
        "readings": {name: list(pair) for name, pair in problem.readings.items()},
        "bands": {name: asdict(band) for name, band in problem.bands.items()},
        "spent": dict(problem.spent),
        "school": asdict(problem.school),
        "response": problem.response.mean.tolist(),
        "suspects": list(problem.suspects),
        "quantities": list(problem.response.quantities),
        "adjusters": [asdict(adjuster) for adjuster in problem.response.adjusters],
        "blocks": None if problem.blocks is None else problem.blocks.tolist(),
        "takes": dict(problem.takes),
    }
    answer = {
        "kind": advice.plan.kind.value,
        "sentence": advice.sentence,
        "why": list(advice.why),
        "best": option_json(problem, advice.plan.best),
        "alternatives": [option_json(problem, o) for o in advice.plan.alternatives],
    }
    return {"core_version": core_version, "inputs": inputs, "answer": answer}
