"""Keep a photograph of a place of the bow or of its routing."""

from typing import BinaryIO

from bowcore.errors import BadInput
from bowcore.service.inspection import PLACES
from bowcore.service.needs import MARKS
from shop.bench.actions.rules import require_act
from shop.bench.actions.shrink import shrink
from shop.jobs.models import Photo
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import view_of

ABOUT = {p.key: p.name for p in PLACES} | {m.key: m.name for m in MARKS}
MOST_OF_A_JOB = 60


def keep_photo(job_id: int, about: str, given: BinaryIO, size: int, stamp: Stamp) -> Photo:
    """Shrink a photograph and keep it with the job.

    Raises
    ------
    BadInput
        No such place, no photograph, or too many of them.
    Refused
        The job is closed.
    """
    if about not in ABOUT:
        raise BadInput("A photo of what?", "about", ", ".join(ABOUT))
    small = shrink(given, size)
    with on_job(job_id, "photo", stamp) as act:
        require_act(stamp.by, "look_over", view_of(act.job))
        if Photo.objects.filter(job=act.job).count() >= MOST_OF_A_JOB:
            raise BadInput(f"{MOST_OF_A_JOB} photos are enough for one job.", "photo")
        act.said = f"photographed {ABOUT[about].lower()}"
        return Photo.objects.create(
            **act.fact, about=about, jpeg=small.jpeg, width=small.width, height=small.height
        )
