"""Saltgate Range & Workshop: the demo shop, made by a seeded script through the shop's own acts."""

from django.db import transaction

from bowcore.quantities.tools import DEVICES
from bowcore.work_order.roles import StaffRole
from shop.accounts.actions import new_shop
from shop.book.actions import save_entry
from shop.demo import people
from shop.demo.job_script import JobScript
from shop.demo.scenes import SCENES, half_baseline
from shop.schema.accounts.models import Member, Membership
from shop.schema.customers.models import Customer
from shop.simulated.models import ToolBehaviour

NORTHERN = 48
"""Number of the northern job: the manager does each third one."""
_PART_COLUMNS = (
    "role", "label", "ends", "length_in", "strands", "twists_per_in", "served_top_in",
    "served_bottom_in", "axle_out",
)  # fmt: skip


@transaction.atomic
def fill() -> None:
    """Fill an empty database with the demo shop."""
    open_shop()
    fill_rack()
    open_second_shop()


def open_second_shop() -> None:
    """Another shop of the chain, where the manager works too, with a bow of its own."""
    north = new_shop("Saltgate North")
    Membership.objects.create(
        member=Member.objects.get(username="ines"), shop=north, role=StaffRole.MANAGER.value
    )
    with north.during():
        owner = Customer.objects.create(name=people.NORTHERNER, phone="0555 014 390")
        half_baseline(JobScript(owner, NORTHERN, 2))


def fill_rack() -> None:
    """Customers and their jobs, each at a stage of its own."""
    customers = [Customer.objects.create(name=n, phone=p) for n, p in people.CUSTOMERS]
    for number, (scene, days) in enumerate(SCENES):
        scene(JobScript(customers[number], number, days))


def open_shop() -> None:
    """The shop, its people and its book; no customers yet."""
    shop = new_shop("Saltgate Range & Workshop")
    shop.spacer_sizes = "1/16, 1/8, 3/16, 1/4"
    shop.save()
    for key in DEVICES:
        ToolBehaviour.objects.create(key=key)
    for username, first, last, role in people.MEMBERS:
        made = Member.objects.create_user(
            username, password=people.PASSWORD, first_name=first, last_name=last, home=shop
        )
        Membership.objects.create(member=made, shop=shop, role=role)
    for values in people.ENTRIES:
        parts = [
            dict(zip(_PART_COLUMNS, row, strict=False)) for row in people.PARTS[values["model"]]
        ]
        save_entry(values | {"parts": parts}, "the maker's sheet", None)
