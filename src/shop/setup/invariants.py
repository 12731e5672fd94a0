"""What must hold between the facts, each rule with the records that break it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from django.apps import apps
from django.db.models import Count, F, Max, Model, OuterRef, Q, Subquery
from django.db.models.functions import Coalesce

from shop.schema.audit.models import AppendOnly, Event
from shop.schema.book.models import BookEntry, EntryVersion
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import Reading
from shop.schema.press.models import Adjustment, LetDown, PartCheck, PressCycle

MOST_NAMED = 5


@dataclass(frozen=True)
class Broken:
    """A rule that does not hold, how often, and some of the records."""

    rule: str
    count: int
    examples: tuple[str, ...]


@dataclass(frozen=True)
class Rule:
    """What must hold; `breaking` finds the records for which it does not."""

    words: str
    breaking: Callable[[], Iterator[str]]


def broken_rules() -> list[Broken]:
    """Every rule that does not hold now."""
    found = []
    for rule in INVARIANTS:
        records = list(rule.breaking())
        if records:
            found.append(Broken(rule.words, len(records), tuple(records[:MOST_NAMED])))
    return found


def fact_models() -> list[type[Model]]:
    """Every table of facts."""
    return [model for model in apps.get_models() if issubclass(model, AppendOnly)]


def _facts_without_event() -> Iterator[str]:
    for model in fact_models():
        event = Event.objects.filter(job=OuterRef("job"), seq=OuterRef("seq")).values("pk")[:1]
        rows = model._default_manager.annotate(event=Subquery(event)).filter(event=None)
        yield from (f"{model._meta.label} {pk}" for pk in rows.values_list("pk", flat=True))


def _events_that_say_nothing() -> Iterator[str]:
    yield from (
        f"event {pk}" for pk in Event.objects.filter(summary="").values_list("pk", flat=True)
    )


def _facts_by_somebody_else() -> Iterator[str]:
    for model in fact_models():
        by = Event.objects.filter(job=OuterRef("job"), seq=OuterRef("seq")).values("by")[:1]
        rows = model._default_manager.annotate(event_by=Subquery(by)).exclude(event_by=F("by"))
        yield from (f"{model._meta.label} {pk}" for pk in rows.values_list("pk", flat=True))


def _versions_that_are_not_their_last_event() -> Iterator[str]:
    jobs = Job.objects.annotate(last=Coalesce(Max("events__seq"), 0), events_of=Count("events"))
    wrong = jobs.exclude(version=F("last")) | jobs.exclude(version=F("events_of"))
    yield from (f"job {pk}" for pk in wrong.values_list("pk", flat=True))


def _two_presses_open() -> Iterator[str]:
    open_ones = PressCycle.objects.filter(let_down=None).values("job").annotate(count=Count("pk"))
    yield from (f"job {row['job']}" for row in open_ones.filter(count__gt=1))


def _of_another_job(model: type[Model], link: str) -> Iterator[str]:
    rows = model._default_manager.exclude(**{link: None}).exclude(**{f"{link}__job": F("job")})
    yield from (f"{model._meta.label} {pk}" for pk in rows.values_list("pk", flat=True))


def _links_across_jobs() -> Iterator[str]:
    for model, link in (
        (Adjustment, "press"), (Adjustment, "corrects"), (Reading, "sheet"), (Reading, "corrects"),
        (LetDown, "press"),
    ):  # fmt: skip
        yield from _of_another_job(model, link)


def _parts_of_another_bow() -> Iterator[str]:
    for model in (Adjustment, PartCheck):
        rows = model.objects.exclude(part=None).exclude(part__bow=F("job__bow"))
        yield from (f"{model._meta.label} {pk}" for pk in rows.values_list("pk", flat=True))


def _parts_fitted_twice() -> Iterator[str]:
    fitted = Part.objects.filter(state=Part.FITTED).values("bow", "role").annotate(n=Count("pk"))
    yield from (f"bow {row['bow']}, {row['role']}" for row in fitted.filter(n__gt=1))


def _holds_half_lifted() -> Iterator[str]:
    half = Hold.objects.filter(Q(lifted_at=None) ^ Q(lifted_by=None))
    yield from (f"hold {pk}" for pk in half.values_list("pk", flat=True))


def _book_without_its_version() -> Iterator[str]:
    kept = EntryVersion.objects.filter(entry=OuterRef("pk"), number=OuterRef("version"))
    entries = BookEntry.objects.annotate(kept=Subquery(kept.values("pk")[:1])).filter(kept=None)
    yield from (f"book entry {pk}" for pk in entries.values_list("pk", flat=True))


INVARIANTS = (
    Rule("every fact has its event in the log", _facts_without_event),
    Rule("every event says what was done", _events_that_say_nothing),
    Rule("a fact is by whoever made its event", _facts_by_somebody_else),
    Rule("a job's version counts its events", _versions_that_are_not_their_last_event),
    Rule("a job has at most one open press", _two_presses_open),
    Rule("facts of a job lead to facts of the same job", _links_across_jobs),
    Rule("new parts are on the bow of their job", _parts_of_another_bow),
    Rule("a bow has one fitted part of a role", _parts_fitted_twice),
    Rule("a hold is lifted with a name and a time", _holds_half_lifted),
    Rule("every book entry has its present version on record", _book_without_its_version),
)
