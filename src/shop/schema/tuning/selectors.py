"""Questions about shots."""

from typing import Any

from shop.schema.inspection.models import ON_PAPER, Photo
from shop.schema.jobs.models import Job
from shop.schema.tuning.models import FlatSheet, ShotFired


def last_shot(job: Job) -> ShotFired | None:
    """The newest shot that counts."""
    rows = ShotFired.objects.filter(job=job, takes_out__isnull=True, taken_out_by__isnull=True)
    return rows.order_by("-seq", "-pk").first()


def sheet_under(job: Job, face: str, since: int) -> FlatSheet | None:
    """The photo that lies under the grid now: the newest of its kind since the last change.

    On paper one sheet is one shot; a photo of a butt stays until the next one.

    Parameters
    ----------
    job : Job
        Whose.
    face : str
        What was photographed.
    since : int
        When something was changed last.
    """
    rows = FlatSheet.objects.filter(job=job, photo__about=face, seq__gt=since).defer("jpeg")
    newest = rows.order_by("-seq", "-pk").first()
    used = newest is not None and face == ON_PAPER and newest.shots.exists()
    return None if used else newest


def newest_photo(job_id: int, about: str) -> Photo:
    """The photo of a sheet or a butt that was kept last; there is one, as it has just been kept."""
    rows = Photo.objects.filter(job=job_id, about=about).defer("jpeg")
    return rows.latest("pk")


def sheets_shot(job: Job) -> list[FlatSheet]:
    """Photos on which shots were tapped, the newest first; the pictures themselves are not loaded."""
    rows = FlatSheet.objects.filter(job=job, shots__isnull=False).defer("jpeg").distinct()
    return list(rows.order_by("-seq", "-pk"))


def places_tapped(sheet: FlatSheet) -> list[tuple[float, float]]:
    """Where its corners and its middle were tapped [pixels]; none where an imported record holds none."""
    found: Any = sheet.corners
    try:
        return [(float(x), float(y)) for x, y in found]
    except (TypeError, ValueError):
        return []


def flat_before(job: Job, about: str) -> FlatSheet | None:
    """The newest photo of such a face that was laid flat on this job; its picture is not loaded."""
    rows = FlatSheet.objects.filter(job=job, photo__about=about).defer("jpeg")
    return rows.order_by("-seq", "-pk").first()
