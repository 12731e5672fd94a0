"""How an act on a job is recorded: one transaction, one lock, one version, one event."""

import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Any

from django.apps import apps
from django.db import transaction

from shop.casework.state import JobState, job_state
from shop.schema.audit.models import Event

if TYPE_CHECKING:
    from shop.schema.accounts.models import Member


class DuplicateSubmission(Exception):
    """This very post has been accepted before: show its result, do nothing."""

    def __init__(self, event: Event):
        super().__init__(event.summary)
        self.event = event


class KeyUsed(Exception):
    """The key of this post belongs to another one that was accepted: its answer was lost, and what was
    typed was changed since. `event` is what was recorded."""

    def __init__(self, event: Event):
        super().__init__(event.summary)
        self.event = event


class StaleJob(Exception):
    """The job has moved on since this person looked; `meanwhile` are the events not seen."""

    def __init__(self, meanwhile: list[Event]):
        super().__init__("Someone else has worked on this job.")
        self.meanwhile = meanwhile


@dataclass(frozen=True)
class Submission:
    """Who posts, with which key, having seen which version of the job; a digest of what was posted."""

    by: "Member"
    key: uuid.UUID
    seen: int = 0
    digest: str = ""


@dataclass
class EventDraft:
    """An event being recorded. The action sets `summary`; facts carry `fact` with its place."""

    job: Any
    seq: int
    by: "Member"
    summary: str = ""
    result: str = ""
    fact: dict[str, Any] = field(init=False)

    def __post_init__(self) -> None:
        self.fact = {"job": self.job, "seq": self.seq, "by": self.by}

    @cached_property
    def state(self) -> JobState:
        """What was known of the job before this."""
        return job_state(self.job)


@contextmanager
def on_job(job_id: int, verb: str, submission: Submission) -> Iterator[EventDraft]:
    """Lock the job, refuse repeats and stale views, number and record the event.

    Raises
    ------
    DuplicateSubmission
        This very post has been accepted before.
    KeyUsed
        Another post with its key has been.
    StaleJob
        The job's version is not the one that was seen.
    """
    with transaction.atomic():
        job = apps.get_model("jobs", "Job").objects.select_for_update().get(pk=job_id)
        _refuse_repeat(submission, verb, job_id)
        if job.version != submission.seen:
            unseen = Event.objects.filter(job=job, seq__gt=submission.seen).select_related("by")
            raise StaleJob(list(unseen.order_by("seq")))
        event = EventDraft(job, job.version + 1, submission.by)
        begun = _record(event, verb, submission)
        yield event
        job.version = event.seq
        job.save()
        say_what_was_done(begun, event.summary, event.result)


@contextmanager
def without_job(verb: str, submission: Submission) -> Iterator[EventDraft]:
    """An event that makes a new job or concerns none; set `event.job` when there is one."""
    with transaction.atomic():
        _refuse_repeat(submission, verb, None)
        event = EventDraft(None, 1, submission.by)
        yield event
        _record(event, verb, submission)


def say_what_was_done(event: Event, summary: str, result: str) -> None:
    """Once: afterwards the database refuses to change it."""
    event.summary, event.result = summary[:300], result
    event.save(update_fields=["summary", "result"])


def _refuse_repeat(submission: Submission, verb: str, job_id: int | None) -> None:
    """A key that was used: by this very post, or by another one."""
    before = Event.objects.select_related("by").filter(key=submission.key).first()
    if before is None:
        return
    elsewhere = job_id is not None and before.job_id != job_id
    other_act = not submission.digest and before.verb != verb
    if (
        elsewhere
        or other_act
        or before.by_id != submission.by.pk
        or before.digest != submission.digest
    ):
        raise KeyUsed(before)
    raise DuplicateSubmission(before)


def _record(event: EventDraft, verb: str, submission: Submission) -> Event:
    """Before its facts, which the database refuses without it; what it says comes when they are known."""
    return Event.objects.create(
        key=submission.key,
        job=event.job,
        seq=event.seq,
        verb=verb,
        summary=event.summary[:300],
        result=event.result,
        by=submission.by,
        shop=event.job.shop if event.job else apps.get_model("accounts", "Shop").current(),
        digest=submission.digest,
    )
