"""Who did what: the log of all jobs, narrowed."""

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

from django.db.models import QuerySet

from shop.audit.models import Event
from shop.tenancy.here import shop_worked_for
from shop.ui.csv_cells import safe_cell

LOG_COLUMNS = ("at", "by", "job", "bow", "verb", "what")


@dataclass(frozen=True)
class LogFilter:
    """One person's acts, one kind of act, one job's, from a day on, up to a day, with some words."""

    by: int | None = None
    verb: str = ""
    job: int | None = None
    since: date | None = None
    until: date | None = None
    words: str = ""


def events_of(wanted: LogFilter) -> QuerySet[Event]:
    """The events of this shop that pass, the newest first."""
    found = _of_this_shop().select_related("by", "job__bow__customer", "job__bow__entry")
    if wanted.by is not None:
        found = found.filter(by=wanted.by)
    if wanted.verb:
        found = found.filter(verb=wanted.verb)
    if wanted.job is not None:
        found = found.filter(job=wanted.job)
    if wanted.since is not None:
        found = found.filter(at__date__gte=wanted.since)
    if wanted.until is not None:
        found = found.filter(at__date__lte=wanted.until)
    for word in wanted.words.split():
        found = found.filter(summary__icontains=word)
    return found.order_by("-pk")


def verbs_used() -> list[str]:
    """Every kind of act that is in the log."""
    return sorted(_of_this_shop().values_list("verb", flat=True).distinct())


def _of_this_shop() -> QuerySet[Event]:
    here = shop_worked_for()
    return Event.objects.all() if here is None else Event.objects.filter(shop=here)


def log_as_csv(events: QuerySet[Event]) -> Iterator[str]:
    """The log line by line, as it is sent."""
    yield _line(LOG_COLUMNS)
    for event in events.iterator(chunk_size=500):
        bow = f"{event.job.bow.customer}: {event.job.bow}" if event.job else ""
        row = (
            event.at.isoformat(),
            str(event.by),
            event.job_id or "",
            bow,
            event.verb,
            event.summary,
        )
        yield _line(row)


def _line(cells: tuple[object, ...]) -> str:
    target = io.StringIO()
    csv.writer(target, lineterminator="\r\n").writerow([safe_cell(cell) for cell in cells])
    return target.getvalue()
