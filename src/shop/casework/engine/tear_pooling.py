"""What finished bows of one model have shown of their tears, for the next one.

As with lengths, what leaves this module is a count and a rate, never a shot or a customer.
"""

from bowcore.adjusters.registry import adjusters_of
from bowcore.bow.specification import BowSpec
from bowcore.evidence.facts import Facts
from bowcore.evidence.shooting_policy import USUAL_SHOOTING_POLICY
from bowcore.stages.shooting_in.tear_lessons import ShownByModel, TearLesson, tear_lesson, together
from bowcore.stages.shooting_in.tear_levers import levers_of
from bowcore.stages.shooting_in.tear_response import drift_lever
from bowcore.work_order.services import SHOOT_IN
from shop.casework.engine.pooling import finished_jobs
from shop.casework.engine.priors import cable_moves_of
from shop.schema.core_values import ledger_entry, looked_at, shots_of, takes_of
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from shop.schema.press.models import Adjustment
from shop.schema.tenancy.here import every_shop
from shop.schema.tuning.models import ShotFired, SuspectLookedAt

MOST_TEARS_KEPT = 200
_KEPT: dict[tuple[object, ...], ShownByModel] = {}
"""By the job that it is for, and whether its shop shares: what was handed over before it came in stays."""


def tears_of_model(job: Job, spec: BowSpec, shared: bool) -> ShownByModel:
    """What bows of the model have shown that were handed over before this one came in.

    Parameters
    ----------
    job : Job
        That it is for.
    spec : BowSpec
        Its model.
    shared : bool
        Whether its shop shares with others.
    """
    key = (job.pk, job.opened_at, shared)
    if key not in _KEPT:
        if len(_KEPT) >= MOST_TEARS_KEPT:
            _KEPT.clear()
        with every_shop():
            jobs = [pk for pk, _ in finished_jobs(job)]
            shot = ShotFired.objects.filter(job__in=jobs, job__bow__hand=job.bow.hand)
            shot_in = set(shot.values_list("job", flat=True))
            _KEPT[key] = _shown(sorted(shot_in), spec, job.bow.hand == "left")
    return _KEPT[key]


def _shown(jobs: list[int], spec: BowSpec, left_handed: bool) -> ShownByModel:
    """Of bows of the same hand: what goes left on a right-handed bow goes right on a left-handed one."""
    before = _facts_of(None, spec, left_handed)
    levers = (*levers_of(before, {}), drift_lever(left_handed))
    return together([_lesson(pk, spec, left_handed) for pk in jobs], levers)


def _lesson(pk: int, spec: BowSpec, left_handed: bool) -> TearLesson:
    return tear_lesson(_facts_of(pk, spec, left_handed), {})


def _facts_of(pk: int | None, spec: BowSpec, left_handed: bool) -> Facts:
    """What counts for tears of a finished job; of none where there is no job."""
    turned = Adjustment.objects.filter(job=pk).order_by("seq", "pk") if pk else ()
    read = Reading.objects.filter(job=pk).select_related("sheet") if pk else ()
    shots = ShotFired.objects.filter(job=pk).order_by("seq", "pk") if pk else ()
    looked = SuspectLookedAt.objects.filter(job=pk).order_by("seq", "pk") if pk else ()
    return Facts(
        spec.family,
        (SHOOT_IN,),
        takes=tuple(takes_of(list(read))),
        changes=tuple(map(ledger_entry, turned)),
        shots=shots_of(shots),
        looked_at=looked_at(looked),
        left_handed=left_handed,
        adjusters=adjusters_of(spec),
        cable_moves=cable_moves_of(spec),
        shooting_policy=USUAL_SHOOTING_POLICY,
    )
