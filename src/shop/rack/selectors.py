"""Questions of the rack: what is open, in which order, and finding anything."""

import logging
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import TypeVar

from django.db import DatabaseError
from django.db.models import QuerySet
from django.utils.safestring import SafeString

from bowcore.quantities.units import length_unit
from bowcore.stages.course import Course
from bowcore.stages.standing import Standing, standing
from bowcore.work_order.services import SHOOT_IN, say_asked
from shop.casework.engine.kept_answers import BeingComputed
from shop.casework.state import JobState
from shop.drawings.progress import progress_scale
from shop.schema.accounts.models import Member, Shop
from shop.schema.audit.models import AppendOnly
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.fitting.models import ThingOnBow
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import CamByCaliper, LeftOnPurpose, MarkEntry, Reading
from shop.schema.press.models import Adjustment, PartCheck, PressCycle
from shop.schema.rows import RowsAtHand
from shop.schema.tuning.models import ShotFired, SuspectLookedAt
from shop.search.selectors import MOST_SHOWN, matches_of
from shop.ui.ids import row_id

_log = logging.getLogger("fennock.rack")
Fact = TypeVar("Fact", bound=AppendOnly)


@dataclass(frozen=True)
class Slot:
    """One open job on the rack."""

    job: Job
    course: Course
    holds: tuple[Hold, ...]
    press: PressCycle | None
    """The press cycle that is open on it."""
    progress: SafeString
    standing: Standing
    asked: tuple[str, ...]
    rests_on: tuple[object, ...] = ()
    """All that it depends on, besides whose bow it is."""

    @property
    def drawn_of(self) -> str:
        """All that its row on the rack depends on, as one text."""
        job = self.job
        names = (str(job.bow.customer), str(job.bow), job.promised_on, str(job.assigned_to))
        return repr((*self.rests_on, *names))

    @property
    def danger(self) -> bool:
        return any(hold.danger for hold in self.holds)


MOST_SLOTS = 3000
_KEPT: dict[tuple[object, ...], Slot] = {}
"""What followed from a job's facts, by all that they depend on: the rack asks again and again."""


@dataclass(frozen=True)
class Rack:
    """Every open job by promised day. Of those that are `not_shown` something cannot be read, the log says
    what: one bad row costs one row. Those `in_the_making` wait for their bow's model."""

    slots: list[Slot]
    not_shown: list[Job]
    in_the_making: list[Job]


def rack_now() -> Rack:
    """The rack, computed from its jobs' facts, in a fixed number of queries.

    A job whose version this process has seen is not read again: what is done to it makes another version.
    """
    listed = _with_their_bows().filter(handed_over_at=None, cancelled_at=None)
    jobs = list(listed.defer("spec").order_by("promised_on", "pk"))
    shop = Shop.current()
    keys = {job.pk: _all_it_depends_on(job, shop) for job in jobs}
    slots = {job.pk: slot for job in jobs if (slot := _KEPT.get(keys[job.pk]))}
    unseen = [job.pk for job in jobs if job.pk not in slots]
    fresh, waiting = _computed(unseen, shop) if unseen else ({}, set())
    if len(_KEPT) + len(fresh) > MOST_SLOTS:
        _KEPT.clear()
    for pk, slot in fresh.items():
        slots[pk] = _KEPT[keys[pk]] = slot
    shown = [job for job in jobs if job.pk in slots]
    return Rack(
        [replace(slots[job.pk], job=job, rests_on=keys[job.pk]) for job in shown],
        [job for job in jobs if job.pk not in slots and job.pk not in waiting],
        [job for job in jobs if job.pk in waiting],
    )


def _with_their_bows() -> QuerySet[Job]:
    return Job.objects.select_related("bow__customer", "bow__entry", "assigned_to")


def _all_it_depends_on(job: Job, shop: Shop) -> tuple[object, ...]:
    settings = tuple(str(getattr(shop, field.attname)) for field in shop._meta.concrete_fields)
    return (job.pk, job.opened_at, job.version, length_unit(), settings)


def _computed(ids: list[int], shop: Shop) -> tuple[dict[int, Slot], set[int]]:
    """What the rack shows of these jobs, by id; and those whose bow's model is being computed."""
    jobs = list(_with_their_bows().filter(pk__in=ids).prefetch_related("holds"))
    readings = _by_job(
        Reading.objects.filter(job__in=jobs).select_related("sheet").order_by("seq", "pk")
    )
    changes = _by_job(Adjustment.objects.filter(job__in=jobs).order_by("seq", "pk"))
    presses = _by_job(
        PressCycle.objects.filter(job__in=jobs).select_related("let_down").order_by("seq")
    )
    marks = _by_job(MarkEntry.objects.filter(job__in=jobs).order_by("seq", "pk"))
    cams = _by_job(CamByCaliper.objects.filter(job__in=jobs).order_by("seq", "pk"))
    checks = _by_job(PartCheck.objects.filter(job__in=jobs).order_by("-seq"))
    left = _by_job(LeftOnPurpose.objects.filter(job__in=jobs).order_by("seq", "pk"))
    shot_in = [job for job in jobs if SHOOT_IN in job.services]
    shots = _by_job(ShotFired.objects.filter(job__in=shot_in).order_by("seq", "pk"))
    looked_at = _by_job(SuspectLookedAt.objects.filter(job__in=shot_in).order_by("seq", "pk"))

    things: dict[int, list[ThingOnBow]] = {}
    bows = {job.bow_id for job in jobs}
    for row in (
        ThingOnBow.objects.filter(job__bow__in=bows)
        .select_related("job")
        .order_by("job", "seq", "pk")
    ):
        things.setdefault(row.job.bow_id, []).append(row)

    last_jobs = _last_visits(jobs)

    def rows_of(job: Job) -> RowsAtHand:
        return RowsAtHand(
            readings.get(job.pk, []),
            changes.get(job.pk, []),
            presses.get(job.pk, []),
            marks.get(job.pk, []),
            cams.get(job.pk, []),
            checks.get(job.pk, []),
            left.get(job.pk, []),
            [row for row in things.get(job.bow_id, []) if row.job_id <= job.pk],
            shots.get(job.pk, []),
            looked_at.get(job.pk, []),
            last_jobs.get(job.bow_id),
        )

    found, waiting = {}, set()
    for job in jobs:
        try:
            found[job.pk] = _slot(JobState(job, rows_of(job), shop))
        except BeingComputed:
            waiting.add(job.pk)
        except DatabaseError:
            raise
        except Exception:
            _log.exception("job %s cannot be shown on the rack", job.pk)
    return found, waiting


def _last_visits(jobs: list[Job]) -> dict[int, Job]:
    """The newest visit of each bow that was handed over, by bow."""
    bows = {job.bow_id for job in jobs}
    closed = Job.objects.filter(bow__in=bows).exclude(handed_over_at=None)
    return {job.bow_id: job for job in closed.select_related("bow__entry", "shop").order_by("pk")}


def _by_job(rows: Iterable[Fact]) -> dict[int, list[Fact]]:
    grouped: dict[int, list[Fact]] = {}
    for row in rows:
        grouped.setdefault(row.job_id, []).append(row)
    return grouped


def _slot(state: JobState) -> Slot:
    now = state.course
    danger = any(hold.danger for hold in state.holds)
    scale = progress_scale(now.steps_done, len(now.steps), danger)
    asked = tuple(say_asked(state.job.services, state.spec.labels))
    at = standing(now)
    return Slot(state.job, now, tuple(state.holds), state.press, scale, at, asked)


@dataclass(frozen=True)
class RackFilter:
    """Which bows are shown: one person's, one family's, those with one kind of hold."""

    mine: Member | None = None
    family: str = ""
    hold: str = ""

    def shows(self, slot: Slot) -> bool:
        """Whether a bow passes; a job that nobody has is everybody's."""
        job = slot.job
        mine = self.mine is None or job.assigned_to_id in (None, self.mine.pk)
        family = not self.family or job.bow.entry.family == self.family
        hold = not self.hold or any(one.kind == self.hold for one in slot.holds)
        return mine and family and hold


def grouped(
    slots: Iterable[Slot], shown: RackFilter = RackFilter()
) -> list[tuple[str, list[Slot]]]:
    """The rack by where the bows stand, each group by promised day; empty groups are left out."""
    rows = [slot for slot in slots if shown.shows(slot)]
    groups = ((one.value, [slot for slot in rows if slot.standing is one]) for one in Standing)
    return [(name, found) for name, found in groups if found]


def open_presses_of(member: Member, slots: Iterable[Slot]) -> list[Job]:
    """Jobs whose press this person has left open."""
    return [slot.job for slot in slots if slot.press and slot.press.by_id == member.pk]


@dataclass(frozen=True)
class OwnedBow:
    """A customer's bow and the job that is open on it, if one is."""

    bow: Bow
    open_job: Job | None


def bows_of(customer: Customer) -> list[OwnedBow]:
    """A customer's bows, the newest first."""
    bows = customer.bows.select_related("entry").order_by("-pk")
    here = jobs_of(customer).filter(handed_over_at=None, cancelled_at=None)
    open_jobs = {job.bow_id: job for job in here}
    return [OwnedBow(bow, open_jobs.get(bow.pk)) for bow in bows]


def jobs_of(customer: Customer) -> QuerySet[Job]:
    """A customer's jobs, the newest first."""
    found = Job.objects.filter(bow__customer=customer).select_related("bow__entry", "bow__customer")
    return found.order_by("-pk")


@dataclass(frozen=True)
class Found:
    """What a search turned up."""

    customers: list[Customer]
    bows: list[Bow]
    jobs: list[Job]

    @property
    def nothing(self) -> bool:
        return not (self.customers or self.bows or self.jobs)


def find(text: str) -> Found:
    """Customers, bows and jobs for a name, a phone, a model, markings or a job's number; letters may be
    wrong."""
    matches = matches_of(text)
    jobs = Job.objects.select_related("bow__customer", "bow__entry")
    number = row_id(text)
    jobs = jobs.filter(pk=number) if number is not None else jobs.filter(bow__in=matches.bows)
    return Found(matches.customers, matches.bows, list(jobs.order_by("-pk")[:MOST_SHOWN]))
