"""How an act on a job is made: one transaction, one lock, one version, one fact."""

import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from django.apps import apps
from django.db import transaction

from shop.records.models import Deed

if TYPE_CHECKING:
    from shop.accounts.models import Member


class AlreadyDone(Exception):
    """This very post has been accepted before: show its result, do nothing."""

    def __init__(self, deed: Deed):
        super().__init__(deed.said)
        self.deed = deed


class SomeoneElse(Exception):
    """The job has moved on since this person looked; `meanwhile` are the deeds he has not seen."""

    def __init__(self, meanwhile: list[Deed]):
        super().__init__("Someone else has been at this job.")
        self.meanwhile = meanwhile


@dataclass(frozen=True)
class Stamp:
    """Who acts, with which key, having seen which version of the job."""

    by: "Member"
    key: uuid.UUID
    seen: int = 0


@dataclass
class Act:
    """An act in progress. `say` is set by the action; `seq` numbers the facts that it writes."""

    job: Any
    seq: int
    by: "Member"
    said: str = ""
    result: str = ""
    fact: dict[str, Any] = field(init=False)

    def __post_init__(self) -> None:
        self.fact = {"job": self.job, "seq": self.seq, "by": self.by}


@contextmanager
def on_job(job_id: int, verb: str, stamp: Stamp) -> Iterator[Act]:
    """Lock the job, refuse repeats and stale views, number and record the act.

    Raises
    ------
    AlreadyDone
        The key has been used.
    SomeoneElse
        The job's version is not the one that was seen.
    """
    with transaction.atomic():
        job = apps.get_model("jobs", "Job").objects.select_for_update().get(pk=job_id)
        _refuse_repeat(stamp.key)
        if job.version != stamp.seen:
            unseen = Deed.objects.filter(job=job, seq__gt=stamp.seen).select_related("by")
            raise SomeoneElse(list(unseen.order_by("seq")))
        act = Act(job, job.version + 1, stamp.by)
        yield act
        job.version = act.seq
        job.save()
        _record(act, verb, stamp)


@contextmanager
def without_job(verb: str, stamp: Stamp) -> Iterator[Act]:
    """An act that makes a new job or concerns none; set `act.job` when there is one."""
    with transaction.atomic():
        _refuse_repeat(stamp.key)
        act = Act(None, 1, stamp.by)
        yield act
        _record(act, verb, stamp)


def _refuse_repeat(key: uuid.UUID) -> None:
    before = Deed.objects.filter(key=key).first()
    if before is not None:
        raise AlreadyDone(before)


def _record(act: Act, verb: str, stamp: Stamp) -> None:
    Deed.objects.create(
        key=stamp.key, job=act.job, seq=act.seq, verb=verb, said=act.said[:300],
        result=act.result, by=stamp.by,
    )  # fmt: skip
