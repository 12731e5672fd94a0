"""Questions to the sets: what is under way, what is kept as a spare, how true each maker has been."""

from collections import Counter
from dataclasses import dataclass
from statistics import mean

from django.db.models import QuerySet

from bowcore.stages.string_set.arrival import ArrivalVerdict, LengthKnown
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Job
from shop.schema.string_sets.models import Component, StringSet


def sets_of(job_id: int) -> list[StringSet]:
    """A job's sets, newest first, with their components."""
    found = StringSet.objects.filter(job_id=job_id).prefetch_related("components")
    return list(found.select_related("ordered_by", "job__bow__entry"))


def under_way() -> QuerySet[StringSet]:
    """Sets that have not come yet, by ship date."""
    states = [StringSet.ORDERED, StringSet.CONFIRMED]
    found = StringSet.objects.filter(state__in=states).select_related(
        "job__bow__customer", "job__bow__entry"
    )
    return found.order_by("ships_on", "pk")


def parts_here(job: Job) -> dict[str, Component]:
    """Components that have come for a job and lie ready, by role."""
    rows = Component.objects.filter(set__job=job, came_in__isnull=False, part=None)
    return {row.role: row for row in rows.exclude(verdict=ArrivalVerdict.BACK.value).order_by("pk")}


NEWEST_SETS = 300
"""Which makers a shop orders from, and how true each is now, shows in so many; what was sent years ago
says less."""


def maker_names() -> list[str]:
    """String makers that sets were ordered from of late, the most frequent first."""
    newest = StringSet.objects.order_by("-pk").values_list("maker", flat=True)[:NEWEST_SETS]
    return [name for name, _ in sorted(Counter(newest).items(), key=lambda one: (-one[1], one[0]))]


def spares() -> QuerySet[Part]:
    """Parts that came off and that somebody has called a spare, the newest first."""
    found = Part.objects.filter(state=Part.SPARE).select_related("bow__customer", "bow__entry")
    return found.order_by("-pk")


@dataclass(frozen=True)
class MakerRecord:
    """How true a maker's lengths have been: mean error, largest, sent back. [in]"""

    maker: str
    parts: int
    mean_off_in: float
    worst_in: float
    sent_back: int


def maker_records() -> list[MakerRecord]:
    """Every maker of the newest sets, by the parts that were measured here; a label does not count."""
    newest = list(StringSet.objects.order_by("-pk").values_list("pk", flat=True)[:NEWEST_SETS])
    measured = Component.objects.filter(set__in=newest, came_in__isnull=False).exclude(
        length_known=LengthKnown.LABELLED.value
    )
    rows = measured.select_related("set")
    by_maker: dict[str, list[Component]] = {}
    for row in rows:
        by_maker.setdefault(row.set.maker, []).append(row)
    return [_record(maker, mine) for maker, mine in sorted(by_maker.items())]


def _record(maker: str, mine: list[Component]) -> MakerRecord:
    off = [float(row.came_in - row.ordered_in) for row in mine if row.came_in is not None]
    back = sum(row.verdict == ArrivalVerdict.BACK.value for row in mine)
    return MakerRecord(maker, len(mine), mean(off), max(off, key=abs), back)
