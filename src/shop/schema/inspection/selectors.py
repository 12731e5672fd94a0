"""Questions about inspections."""

from shop.schema.inspection.models import Finding, Photo
from shop.schema.jobs.models import Job


def photos_by_subject(job: Job) -> dict[str, list[Photo]]:
    """Photographs of a job by what they show; the pictures themselves are not loaded."""
    found: dict[str, list[Photo]] = {}
    for photo in Photo.objects.filter(job=job).defer("jpeg").order_by("pk"):
        found.setdefault(photo.about, []).append(photo)
    return found


def findings_by_place(job: Job) -> dict[str, Finding]:
    """The newest finding at each place."""
    return {finding.place: finding for finding in Finding.objects.filter(job=job)}


def is_damaged(job: Job, role: str) -> bool:
    """Whether the inspection found this string or cable damaged: it is to be replaced, or stops the bow."""
    found = findings_by_place(job).values()
    return any(role in one.parts for one in found if one.outcome in ("replace", "stop"))
