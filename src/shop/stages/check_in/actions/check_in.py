"""Check in: customer, bow, what for, when. Opens a job."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from django.db import transaction

from bowcore.bow.kits import read_sizes
from bowcore.bow.specification import BowSpec
from bowcore.errors import BadInput
from bowcore.work_order.holds import ARROWS
from bowcore.work_order.roles import require
from bowcore.work_order.services import SHOOT_IN, asked_for, parts_to_replace
from shop.book.actions import UnknownModel, guess_entry
from shop.book.selectors import job_book, spec_of
from shop.casework.actions.bow_parts import fit_book_parts
from shop.casework.engine.tasks import warm_prior
from shop.casework.submissions import EventDraft, Submission, without_job
from shop.schema.accounts.models import Member, Shop
from shop.schema.book.models import BookEntry
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Hold, Job


@dataclass(frozen=True)
class CheckInAnswers:
    """What is asked at the counter. An existing bow decides its customer and its model."""

    promised_on: date
    services: list[str]
    bow: Bow | None = None
    customer: Customer | None = None
    customer_name: str = ""
    customer_phone: str = ""
    entry: BookEntry | None = None
    unknown: UnknownModel | None = None
    hand: str = "right"
    marked_weight_lbf: Decimal = Decimal(0)
    marked_draw_in: Decimal = Decimal(0)
    tag: str = ""
    path: str = "carry_over"
    arrow_here: bool = False
    release_here: bool = False
    wanted_weight_lbf: Decimal | None = None
    note: str = ""
    wanted_draw_in: Decimal | None = None
    fitted: list[str] = field(default_factory=list)
    arrows: str = ""
    release: str = ""
    brought: str = ""
    waits: list[str] = field(default_factory=list)


def check_in(answers: CheckInAnswers, submission: Submission) -> Job:
    """Open a job for a bow, known or new.

    Raises
    ------
    Refused
        The person may not check in.
    BadInput
        The published specs and the sticker do not make a bow, or it has no such part to replace.
    """
    require(submission.by.staff_role, "check_in")
    with without_job("check_in", submission) as event:
        bow = answers.bow or _new_bow(answers, submission.by)
        sticker = float(bow.marked_weight_lbf), float(bow.marked_draw_in)
        spec = spec_of(bow.entry, *sticker, read_sizes(Shop.current().spacer_sizes))
        services = asked_for(answers.services, spec.replaceable)
        _require_parts(spec, services)
        job = Job.objects.create(
            bow=bow,
            services=services,
            path=answers.path,
            promised_on=answers.promised_on,
            arrow_here=answers.arrow_here,
            release_here=answers.release_here,
            wanted_weight_lbf=answers.wanted_weight_lbf,
            wanted_draw_in=answers.wanted_draw_in,
            fitted=answers.fitted,
            arrows=answers.arrows,
            release=answers.release,
            brought=answers.brought,
            note=answers.note,
            spec=job_book(bow.entry, spec),
            book_version=bow.entry.version,
            opened_by=submission.by,
        )
        if bow.fitted != answers.fitted:
            bow.fitted = answers.fitted
            bow.save(update_fields=["fitted"])
        event.job, event.result = job, str(job.pk)
        event.summary = f"checked in {bow.customer}'s {bow}"
        no_arrow = SHOOT_IN in services and not answers.arrow_here
        _place_holds(event, dict.fromkeys([*answers.waits, *([ARROWS] if no_arrow else [])]))
        transaction.on_commit(lambda: warm_prior.enqueue(job.pk))
        return job


def _require_parts(spec: BowSpec, services: list[str]) -> None:
    """A part that is to be replaced must be on this bow: a single cam has one cable."""
    if set(parts_to_replace(services)) - set(spec.replaceable):
        has = ", ".join(part.label.lower() for part in spec.whole_set)
        raise BadInput(f"{spec.name} has no such cable to replace.", "services", has)


def _new_bow(answers: CheckInAnswers, by: Member) -> Bow:
    customer = answers.customer or _new_customer(answers)
    entry = answers.entry
    if entry is None and answers.unknown is not None:
        entry = guess_entry(answers.unknown, by)
    if entry is None:
        raise BadInput("Which bow is it?", "entry")
    bow = Bow.objects.create(
        customer=customer,
        entry=entry,
        hand=answers.hand,
        tag=answers.tag,
        marked_weight_lbf=answers.marked_weight_lbf,
        marked_draw_in=answers.marked_draw_in,
    )
    fit_book_parts(bow)
    return bow


def _new_customer(answers: CheckInAnswers) -> Customer:
    return Customer.objects.create(name=answers.customer_name, phone=answers.customer_phone)


def _place_holds(event: EventDraft, waits: Iterable[str]) -> None:
    for kind in waits:
        Hold.objects.create(
            job=event.job, kind=kind, reason="noted at check-in", placed_by=event.by
        )
