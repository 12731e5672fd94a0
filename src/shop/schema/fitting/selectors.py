"""Questions about what is on bows."""

from bowcore.accessories.on_the_bow import ARROW, LOOP, thing
from bowcore.quantities.catalogue import quantity
from bowcore.stages.fit.sight_marks import SpeedRead
from shop.schema.fitting.models import ThingOnBow
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading

MOST_LOOPS = 20


def arrows_of(job: Job) -> list[ThingOnBow]:
    """The customer's arrows by name, each as it was written down last, the newest first."""
    rows = ThingOnBow.objects.filter(thing=ARROW, job__bow__customer=job.bow.customer_id)
    newest: dict[str, ThingOnBow] = {}
    for row in rows.order_by("-pk"):
        if thing(ARROW).usable(row.details):
            newest.setdefault(row.details["name"], row)
    return list(newest.values())


def speed_of_last_visit(job: Job) -> SpeedRead | None:
    """The arrow's speed as it was read last on an earlier visit with the arrow that the bow has now."""
    what = quantity("arrow_speed")
    rows = Reading.objects.filter(quantity=what.key, value__range=what.limits)
    row = rows.filter(job__bow=job.bow_id, job__lt=job.pk).order_by("-job", "-seq").first()
    if row is None or row.value is None or _another_arrow_since(job, row.job_id):
        return None
    return SpeedRead(float(row.value), what.precision.sigma, "at its last visit")


def _another_arrow_since(job: Job, visit: int) -> bool:
    """Whether another arrow was named after a visit."""
    rows = ThingOnBow.objects.filter(thing=ARROW, job__bow=job.bow_id)
    then = rows.filter(job__lte=visit).order_by("-pk").values_list("details", flat=True).first()
    now = rows.filter(job__lte=job.pk).order_by("-pk").values_list("details", flat=True).first()
    return then != now


def peep_of_another_bow(job: Job) -> Reading | None:
    """The newest nock to peep of another bow of this customer."""
    rows = Reading.objects.filter(quantity="nock_to_peep", value__isnull=False)
    theirs = rows.filter(job__bow__customer=job.bow.customer_id).exclude(job__bow=job.bow_id)
    return theirs.select_related("job__bow__entry").order_by("-pk").first()


def loops_tied(cord: str) -> list[tuple[float, float]]:
    """Cord cut and finished length of the loops of this cord that were tied here. [in]"""
    rows = list(ThingOnBow.objects.filter(thing=LOOP).order_by("-pk")[:MOST_LOOPS])
    tied = [r for r in rows if r.details.get("cord", "") == cord and "cut_in" in r.details]
    if not tied:
        return []
    what = quantity("loop_length")
    read = Reading.objects.filter(
        job__in={row.job_id for row in tied}, quantity=what.key, value__range=what.limits
    )
    reads = list(read.order_by("seq").values_list("job", "seq", "value"))
    found = []
    for row in tied:
        after = (v for job, seq, v in reads if job == row.job_id and seq > row.seq)
        if (finished := next(after, None)) is not None:
            found.append((float(row.details["cut_in"]), float(finished)))
    return found
