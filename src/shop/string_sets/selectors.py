"""Questions to the sets: what is under way, what is kept as a spare, how true each maker has been."""

from dataclasses import dataclass
from statistics import mean

from django.db.models import Count, QuerySet

from bowcore.workflow.arrival import ArrivalVerdict
from shop.bows.models import Part
from shop.jobs.models import Job
from shop.string_sets.models import Component, StringSet


def sets_of(job_id: int) -> list[StringSet]:
    """A job's sets, newest first, with their components."""
    found = StringSet.objects.filter(job_id=job_id).prefetch_related("components")
    return list(found.select_related("ordered_by", "job__bow__entry"))


def under_way() -> list[StringSet]:
    """Sets that have not come yet, by ship date."""
    states = [StringSet.ORDERED, StringSet.CONFIRMED]
    found = StringSet.objects.filter(state__in=states).select_related(
        "job__bow__customer", "job__bow__entry"
    )
    return list(found.order_by("ships_on", "pk"))


def parts_here(job: Job) -> dict[str, Component]:
    """Components that have come for a job and lie ready, by role."""
    rows = Component.objects.filter(set__job=job, came_in__isnull=False, part=None)
    return {row.role: row for row in rows.exclude(verdict=ArrivalVerdict.BACK.value).order_by("pk")}


def maker_names() -> list[str]:
    """String makers that sets were ordered from, the most frequent first."""
    rows = StringSet.objects.values("maker").annotate(count=Count("pk")).order_by("-count", "maker")
    return [row["maker"] for row in rows]


def spares() -> QuerySet[Part]:
    """Parts that came off and are kept, by owner."""
    found = Part.objects.filter(state=Part.SPARE).select_related("bow__customer", "bow__entry")
    return found.order_by("bow__customer__name", "pk")


@dataclass(frozen=True)
class MakerRecord:
    """How true a maker's lengths have been: mean error, largest, sent back. [in]"""

    maker: str
    parts: int
    mean_off_in: float
    worst_in: float
    sent_back: int


def maker_records() -> list[MakerRecord]:
    """Every maker whose parts were measured here."""
    rows = Component.objects.filter(came_in__isnull=False).select_related("set")
    by_maker: dict[str, list[Component]] = {}
    for row in rows:
        by_maker.setdefault(row.set.maker, []).append(row)
    return [_record(maker, mine) for maker, mine in sorted(by_maker.items())]


def _record(maker: str, mine: list[Component]) -> MakerRecord:
    off = [float(row.came_in - row.ordered_in) for row in mine if row.came_in is not None]
    back = sum(row.verdict == ArrivalVerdict.BACK.value for row in mine)
    return MakerRecord(maker, len(mine), mean(off), max(off, key=abs), back)
