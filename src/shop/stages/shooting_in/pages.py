"""The pages of shooting in, as they are reached from each other."""

from dataclasses import dataclass

from django.urls import reverse

from bowcore.stages.shooting_in.step import PaperStep
from bowcore.work_order.services import SHOOT_IN
from shop.casework.state import JobState


@dataclass(frozen=True)
class Page:
    """One of them: the key by which a screen knows where it is, its name, its address."""

    key: str
    name: str
    address: str


def pages_of(state: JobState) -> list[Page]:
    """Those that this job has: paper and groups only where it is to be shot in."""
    job = state.job.pk
    shot_in = [
        Page(PaperStep.key, PaperStep.name, reverse("step", args=[job, PaperStep.key])),
        Page("butt", "Groups", reverse("butt", args=[job])),
    ]
    always = [
        Page("speed", "Speed", reverse("speed", args=[job])),
        Page("arrow", "Arrow", reverse("arrow", args=[job])),
        Page("stabiliser", "Stabiliser", reverse("stabiliser", args=[job])),
    ]
    return [*(shot_in if SHOOT_IN in state.job.services else []), *always]
