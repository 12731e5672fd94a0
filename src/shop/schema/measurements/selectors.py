"""Questions about what was written down."""

from bowcore.adjusters.adjuster import NOT_KNOWN, ON_THE_PHOTO
from bowcore.work_order.needs import MARKS
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import MarkEntry

_MARK_KEYS = frozenset(one.key for one in MARKS)


def marks_of_last_visit(job: Job) -> dict[str, str]:
    """What was written down last on the bow's earlier jobs, by mark; answers that nobody knew are left
    out, and so is what only a photograph of that visit shows."""
    rows = MarkEntry.objects.filter(job__bow=job.bow_id, job__lt=job.pk).order_by(
        "job", "seq", "pk"
    )
    found = {row.mark: row.value for row in rows if row.mark in _MARK_KEYS}
    return {key: value for key, value in found.items() if value not in (NOT_KNOWN, ON_THE_PHOTO)}
