"""What finished bows of one model have shown, for the next one.

The shops that share look through each other's jobs here; what leaves this module is a belief about a
model, never a reading or a customer.
"""

from datetime import datetime

from django.db import transaction
from django.db.models import Q

from bowcore.bow.specification import BowSpec
from bowcore.evidence.facts import Facts
from bowcore.learning.belief import Belief
from bowcore.learning.history import learn
from bowcore.learning.pooling import pool
from bowcore.learning.stored_belief import belief_from_json, belief_to_json
from bowcore.stages.back_to_spec.advice import history
from shop.casework.engine.models import ModelPrior
from shop.casework.engine.priors import fingerprint
from shop.schema.core_values import ledger_entry, takes_of
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from shop.schema.press.models import Adjustment
from shop.schema.tenancy.here import every_shop

MOST_JOBS = 12
"""The newest that count; older ones add little."""
MOST_KEPT = 100
_KEPT: dict[str, Belief] = {}


def pooled_prior(job: Job, spec: BowSpec, prior: Belief) -> Belief:
    """The model's prior after the jobs that were handed over before this one came in.

    They stay the same while the job is open, so that its advice does not change by itself.
    """
    with every_shop():
        jobs = finished_jobs(job)
        key = fingerprint(spec, [str(one) for one in jobs])
        return _pooled(spec, key, jobs, prior) if jobs else prior


def _pooled(spec: BowSpec, key: str, jobs: list[tuple[int, datetime]], prior: Belief) -> Belief:
    if key in _KEPT:
        return _KEPT[key]
    row = ModelPrior.objects.filter(fingerprint=key).first()
    if row is not None and row.data is not None:
        belief = belief_from_json(row.data)
    else:
        lessons = [_taught(pk, spec, prior) for pk, _ in jobs]
        belief = pool(prior, [one for one in lessons if one is not None]).belief
        values = {"name": f"{spec.name}, pooled", "data": belief_to_json(belief)}
        with transaction.atomic():
            ModelPrior.objects.get_or_create(fingerprint=key, defaults=values)
    if len(_KEPT) >= MOST_KEPT:
        _KEPT.clear()
    _KEPT[key] = belief
    return belief


def finished_jobs(job: Job) -> list[tuple[int, datetime]]:
    """Jobs on other bows of the model with something turned in them, and when they were done.

    A shop that does not share learns from its own alone, and no other learns from it.
    """
    shops = Q(shop=job.shop_id)
    if job.shop.share_models:
        shops |= Q(shop__share_models=True)
    turned = Adjustment.objects.exclude(steps=0).values("job")
    found = Job.objects.filter(
        shops, bow__entry=job.bow.entry_id, handed_over_at__lt=job.opened_at, pk__in=turned
    ).exclude(bow=job.bow_id)
    rows = found.order_by("-handed_over_at").values_list("pk", "handed_over_at")[:MOST_JOBS]
    return sorted((pk, at) for pk, at in rows if at is not None)


def _taught(pk: int, spec: BowSpec, prior: Belief) -> Belief | None:
    """What one job taught; None where it turned something that this bow does not have."""
    entries = Adjustment.objects.filter(job=pk).order_by("seq", "pk")
    changes = tuple(ledger_entry(row) for row in entries)
    known = {adjuster.key for adjuster in prior.adjusters}
    if any(change.steps and change.adjuster not in known for change in changes):
        return None
    readings = Reading.objects.filter(job=pk).select_related("sheet").order_by("seq", "pk")
    takes = tuple(takes_of(list(readings)))
    facts = Facts(spec.family, (), takes=takes, changes=changes)
    return learn(prior, history(facts, prior)).belief
