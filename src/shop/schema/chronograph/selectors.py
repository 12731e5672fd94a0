"""Questions about speeds."""

from bowcore.errors import BadInput
from bowcore.stages.speed.speed_strings import SpeedShot
from shop.schema.chronograph.models import ArrowSpeed
from shop.schema.jobs.models import Job


def last_speed(job: Job) -> ArrowSpeed | None:
    """The newest speed that counts and is not a reading."""
    rows = ArrowSpeed.objects.filter(job=job, takes_out__isnull=True, taken_out_by__isnull=True)
    return rows.order_by("-seq", "-pk").first()


def speeds_of(job: Job) -> list[SpeedShot]:
    """Every speed of a job that counts and is not a reading, in order; what no arrow has, as a record from
    elsewhere may hold, is left out."""
    rows = ArrowSpeed.objects.filter(job=job, takes_out__isnull=True, taken_out_by__isnull=True)
    every = (_speed(row) for row in rows.order_by("seq", "pk"))
    return [shot for shot in every if shot is not None]


def _speed(row: ArrowSpeed) -> SpeedShot | None:
    try:
        return SpeedShot(row.seq, row.fps, row.mass_gr, row.arrow, row.weights_in, row.good)
    except BadInput:
        return None
