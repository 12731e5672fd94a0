"""Check in: customer, bow, what for, when. Opens a job."""

from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal

from django.db import transaction

from bowcore.errors import BadInput
from bowcore.mechanics.kits import read_sizes
from bowcore.mechanics.specification import BowSpec
from bowcore.service.roles import require
from shop.accounts.models import Shop
from shop.book.models import BookEntry
from shop.book.selectors import kept_of, spec_of
from shop.bows.actions import fit_book_parts
from shop.bows.models import Bow
from shop.customers.models import Customer
from shop.jobs.models import Hold, Job
from shop.records.deeds import Act, Stamp, without_job
from shop.tuning.pooling import warm


@dataclass(frozen=True)
class Intake:
    """What is asked at the counter. An existing bow decides its customer and its model."""

    promised_on: date
    services: list[str]
    bow: Bow | None = None
    customer: Customer | None = None
    customer_name: str = ""
    customer_phone: str = ""
    entry: BookEntry | None = None
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


def check_in(intake: Intake, stamp: Stamp) -> Job:
    """Open a job for a bow, known or new.

    Raises
    ------
    Refused
        The person may not check in.
    BadInput
        The book's numbers and the sticker do not make a bow, or it has no such part to replace.
    """
    require(stamp.by.standing, "check_in")
    with without_job("check_in", stamp) as act:
        bow = intake.bow or _new_bow(intake)
        shop = Shop.current()
        figures = float(bow.marked_weight_lbf), float(bow.marked_draw_in)
        spec = spec_of(bow.entry, *figures, read_sizes(shop.spacer_sizes))
        _require_parts(spec, intake.services)
        job = Job.objects.create(
            bow=bow, services=intake.services, path=intake.path, promised_on=intake.promised_on,
            arrow_here=intake.arrow_here, release_here=intake.release_here,
            wanted_weight_lbf=intake.wanted_weight_lbf, wanted_draw_in=intake.wanted_draw_in,
            fitted=intake.fitted, arrows=intake.arrows, release=intake.release,
            brought=intake.brought, note=intake.note, spec=kept_of(bow.entry, spec),
            book_version=bow.entry.version, opened_by=stamp.by,
        )  # fmt: skip
        if bow.fitted != intake.fitted:
            bow.fitted = intake.fitted
            bow.save(update_fields=["fitted"])
        act.job, act.result = job, str(job.pk)
        act.said = f"checked in {bow.customer}'s {bow}"
        _place_waits(act, intake.waits)
        transaction.on_commit(lambda: warm(job, spec))
        return job


def _require_parts(spec: BowSpec, services: list[str]) -> None:
    """A part that is to be replaced must be on this bow: a single cam has one cable."""
    roles = {part.role for part in spec.parts}
    wanted = {s.removeprefix("replace_") for s in services if s.startswith("replace_")}
    if wanted - roles:
        has = ", ".join(part.label.lower() for part in spec.parts)
        raise BadInput(f"{spec.name} has no such cable to replace.", "services", has)


def _new_bow(intake: Intake) -> Bow:
    customer = intake.customer or _new_customer(intake)
    assert intake.entry is not None, "the form asks for a bow or a book entry"
    bow = Bow.objects.create(
        customer=customer, entry=intake.entry, hand=intake.hand, tag=intake.tag,
        marked_weight_lbf=intake.marked_weight_lbf, marked_draw_in=intake.marked_draw_in,
    )  # fmt: skip
    fit_book_parts(bow)
    return bow


def _new_customer(intake: Intake) -> Customer:
    return Customer.objects.create(name=intake.customer_name, phone=intake.customer_phone)


def _place_waits(act: Act, waits: list[str]) -> None:
    for kind in waits:
        Hold.objects.create(job=act.job, kind=kind, reason="said at check-in", placed_by=act.by)
