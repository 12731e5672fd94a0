"""A bow moves to another shop of the chain, with its history."""

import uuid

from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import require
from shop.accounts.selectors import shops_beside_this
from shop.book.actions import entry_at
from shop.casework.submissions import Submission, without_job
from shop.schema.accounts.models import Shop
from shop.schema.audit.models import Event
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import working_for


def move_bow(bow_id: int, shop_id: int, submission: Submission) -> None:
    """Give a bow, its parts and its jobs to another shop; its owner becomes a customer there.

    This shop sees nothing of it afterwards; the log of both says that it went.

    Raises
    ------
    BadInput
        There is no such shop beside this one.
    Refused
        There is no such bow, or a job on it is open.
    """
    require(submission.by.staff_role, "move_bow")
    with without_job("move_bow", submission) as event:
        shop = shops_beside_this().filter(pk=shop_id).first()
        if shop is None:
            raise BadInput("To which shop?", "shop")
        bow = Bow.objects.select_for_update().select_related("customer").filter(pk=bow_id).first()
        if bow is None:
            raise Refused("There is no such bow.")
        _require_no_open_job(bow)
        owner, here = bow.customer, Shop.current()
        with working_for(shop.pk):
            bow.customer = _customer_at(shop, owner)
            bow.shop, bow.entry = shop, entry_at(shop, bow.entry)
            bow.save()
        jobs = Job.objects.filter(bow=bow_id).update(shop=shop)
        event.result = str(bow.pk)
        event.summary = f"gave {owner}'s {bow} with {jobs} jobs to {shop}"
        _say_there(shop, submission, f"got {owner}'s {bow} with {jobs} jobs from {here}")


def _require_no_open_job(bow: Bow) -> None:
    open_one = Job.objects.filter(bow=bow, handed_over_at=None, cancelled_at=None).first()
    if open_one is not None:
        raise Refused(f"Job {open_one.pk} on this bow is open. Hand it over or cancel it first.")


def _customer_at(shop: Shop, owner: Customer) -> Customer:
    """The owner as a customer of the other shop: the one of that name and phone, or a new one."""
    known = Customer.objects.filter(shop=shop, name=owner.name, phone=owner.phone).first()
    return known or Customer.objects.create(shop=shop, name=owner.name, phone=owner.phone)


def _say_there(shop: Shop, submission: Submission, summary: str) -> None:
    Event.objects.create(
        key=uuid.uuid5(submission.key, "there"),
        verb="move_bow",
        summary=summary[:300],
        by=submission.by,
        shop=shop,
        seq=1,
    )
