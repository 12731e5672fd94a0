"""Questions about holds."""

from bowcore.errors import BadInput
from bowcore.stages.stabiliser.bars import Bars, FloatSet, PinFloat
from shop.schema.jobs.models import Job
from shop.schema.stabiliser.models import FloatHeld


def floats_of(job: Job) -> list[FloatSet]:
    """Every hold of a job, in order; what no bow carries, as an imported record may hold, is left out."""
    rows = FloatHeld.objects.filter(job=job).order_by("seq", "pk")
    return [one for one in map(_float, rows) if one is not None]


def _float(row: FloatHeld) -> FloatSet | None:
    try:
        bars = Bars(row.front_in, row.front_oz, row.back_in, row.back_oz, row.back_deg)
        return FloatSet(bars, PinFloat(row.pin), row.rating)
    except (BadInput, ValueError):
        return None
