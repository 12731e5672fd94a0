"""Questions about inspections."""

from shop.inspection.models import Finding, Photo
from shop.jobs.models import Job


def photos_by_subject(job: Job) -> dict[str, list[Photo]]:
    """Photographs of a job by what they show; the pictures themselves are not loaded."""
    found: dict[str, list[Photo]] = {}
    for photo in Photo.objects.filter(job=job).defer("jpeg").order_by("pk"):
        found.setdefault(photo.about, []).append(photo)
    return found


def findings_by_place(job: Job) -> dict[str, Finding]:
    """The newest finding at each place."""
    return {finding.place: finding for finding in Finding.objects.filter(job=job)}
