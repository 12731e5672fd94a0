"""Keep a photograph of a place of the bow or of its routing."""

from bowcore.errors import BadInput
from bowcore.stages.inspection.places import PLACES
from bowcore.work_order.needs import MARKS
from shop.casework.job_act import job_act
from shop.casework.photos.shrink import Shrunk
from shop.casework.submissions import EventDraft
from shop.schema.inspection.models import AS_IT_CAME, ON_BUTT, ON_PAPER, Photo

ABOUT = {p.key: p.name for p in PLACES} | {m.key: m.name for m in MARKS}
ABOUT |= {
    AS_IT_CAME: "The bow as it came", ON_PAPER: "A sheet of paper", ON_BUTT: "The face of a butt",
}  # fmt: skip
MOST_OF_A_JOB = 60


@job_act("photo", right="inspect")
def keep_photo(event: EventDraft, about: str, small: Shrunk) -> Photo:
    """Keep a photograph with the job; it is shrunk before the job is locked.

    Raises
    ------
    BadInput
        No such place, or too many of them.
    Refused
        The job is closed.
    """
    if about not in ABOUT:
        raise BadInput("A photo of what?", "about", ", ".join(ABOUT))
    if Photo.objects.filter(job=event.job).count() >= MOST_OF_A_JOB:
        raise BadInput(f"A job keeps up to {MOST_OF_A_JOB} photos.", "photo")
    event.summary = f"photographed {ABOUT[about].lower()}"
    return Photo.objects.create(
        **event.fact, about=about, jpeg=small.jpeg, width=small.width, height=small.height
    )
