"""Questions about shots."""

from shop.jobs.models import Job
from shop.tuning.models import ShotFired


def last_shot(job: Job) -> ShotFired | None:
    """The newest shot that counts."""
    rows = ShotFired.objects.filter(job=job, takes_out__isnull=True, taken_out_by__isnull=True)
    return rows.order_by("-seq", "-pk").first()
