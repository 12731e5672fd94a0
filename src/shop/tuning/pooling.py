"""What the shop's finished bows of one model have shown, for the next one."""

from datetime import datetime

from django.conf import settings
from django.db import transaction

from bowcore.mechanics.specification import BowSpec
from bowcore.planning.estimator import Belief, belief_from_json, belief_to_json, pool
from bowcore.planning.history import learn
from bowcore.service.advice import history
from bowcore.service.facts import Facts
from shop.jobs.models import Job
from shop.ledger.models import Adjustment
from shop.measurements.models import Reading
from shop.tuning.aside import aside
from shop.tuning.models import ModelPrior
from shop.tuning.priors import fingerprint, prior_of
from shop.tuning.rows import change_of, takes_of

MOST_JOBS = 12
"""The newest that count; older ones add little."""
MOST_KEPT = 100
_KEPT: dict[str, Belief] = {}


def pooled_prior(job: Job, spec: BowSpec, prior: Belief) -> Belief:
    """The model's prior after the jobs that were handed over before this one came in.

    They stay the same while the job is open, so that its advice does not change by itself.
    """
    jobs = _finished(job)
    return (
        _pooled(spec, fingerprint(spec, [str(one) for one in jobs]), jobs, prior) if jobs else prior
    )


def warm(job: Job, spec: BowSpec) -> None:
    """Compute a bow's prior in the background, so that it is there when the plan is asked for."""
    if settings.WARM_PRIORS:
        aside(_warm, job, spec)


def _warm(job: Job, spec: BowSpec) -> None:
    prior = prior_of(spec)
    if prior is not None:
        pooled_prior(job, spec, prior)


def _pooled(spec: BowSpec, key: str, jobs: list[tuple[int, datetime]], prior: Belief) -> Belief:
    if key in _KEPT:
        return _KEPT[key]
    row = ModelPrior.objects.filter(fingerprint=key).first()
    if row is not None and row.data is not None:
        belief = belief_from_json(row.data)
    else:
        taught = [_taught(pk, spec, prior) for pk, _ in jobs]
        belief = pool(prior, [one for one in taught if one is not None]).belief
        values = {"name": f"{spec.name}, pooled", "data": belief_to_json(belief)}
        with transaction.atomic():
            ModelPrior.objects.get_or_create(fingerprint=key, defaults=values)
    if len(_KEPT) >= MOST_KEPT:
        _KEPT.clear()
    _KEPT[key] = belief
    return belief


def _finished(job: Job) -> list[tuple[int, datetime]]:
    """Jobs on other bows of the model with something turned in them, and when they were done."""
    turned = Adjustment.objects.exclude(half_twists=0).values("job")
    found = Job.objects.filter(
        bow__entry=job.bow.entry_id, handed_over_at__lt=job.opened_at, pk__in=turned
    ).exclude(bow=job.bow_id)
    rows = found.order_by("-handed_over_at").values_list("pk", "handed_over_at")[:MOST_JOBS]
    return sorted((pk, at) for pk, at in rows if at is not None)


def _taught(pk: int, spec: BowSpec, prior: Belief) -> Belief | None:
    """What one job taught; None where it turned something that this bow does not have."""
    entries = Adjustment.objects.filter(job=pk).order_by("seq", "pk")
    changes = tuple(change_of(row) for row in entries)
    known = {adjuster.key for adjuster in prior.adjusters}
    if any(change.half_twists and change.part not in known for change in changes):
        return None
    readings = Reading.objects.filter(job=pk).select_related("sheet").order_by("seq", "pk")
    takes = tuple(takes_of(list(readings)))
    facts = Facts(spec.family, (), takes=takes, changes=changes)
    return learn(prior, history(facts, prior.quantities)).taught
