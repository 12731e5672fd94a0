"""Who did what: the log of all jobs, narrowed."""

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from django.db.models import QuerySet
from django.utils import timezone

from shop.schema.audit.models import Event
from shop.schema.tenancy.here import shop_worked_for
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


WORDS_LOOK_BACK = 50_000
"""Among so many acts, of all shops, words are looked for at once; the page before them goes on."""


@dataclass(frozen=True)
class LogPage:
    """Some acts, the newest first; `earlier` is where the page before them begins, None at the end."""

    events: list[Event]
    earlier: int | None


def log_page(wanted: LogFilter, before: int | None, size: int) -> LogPage:
    """The newest acts that pass, or the newest before an earlier one."""
    among = _of_this_shop()
    if before is not None:
        among = among.filter(pk__lt=before)
    last = _look_back_to(before) if wanted.words else None
    if last is not None:
        among = among.filter(pk__gte=last)
    ids = list(_narrowed(among, wanted).values_list("pk", flat=True)[: size + 1])
    more = ids[size - 1] if len(ids) > size else last
    return LogPage(list(_with_names(Event.objects.filter(pk__in=ids[:size]))), more)


def _look_back_to(before: int | None) -> int | None:
    """The act where looking for words stops; None if there are not so many."""
    if before is None:
        newest = Event.objects.order_by("-pk").values_list("pk", flat=True).first()
        before = 0 if newest is None else newest + 1
    return before - WORDS_LOOK_BACK if before > WORDS_LOOK_BACK else None


def events_of(wanted: LogFilter) -> QuerySet[Event]:
    """Every event of this shop that passes, the newest first."""
    return _with_names(_narrowed(_of_this_shop(), wanted))


def _with_names(events: QuerySet[Event]) -> QuerySet[Event]:
    return events.select_related("by", "job__bow__customer", "job__bow__entry").order_by("-pk")


def _narrowed(found: QuerySet[Event], wanted: LogFilter) -> QuerySet[Event]:
    if wanted.by is not None:
        found = found.filter(by=wanted.by)
    if wanted.verb:
        found = found.filter(verb=wanted.verb)
    if wanted.job is not None:
        found = found.filter(job=wanted.job)
    if wanted.since is not None:
        found = found.filter(at__gte=_midnight(wanted.since))
    if wanted.until is not None:
        found = found.filter(at__lt=_midnight(wanted.until + timedelta(days=1)))
    for word in wanted.words.split():
        found = found.filter(summary__icontains=word)
    return found.order_by("-pk")


def _midnight(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, time.min))


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
