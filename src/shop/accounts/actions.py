"""Changes the shop's policy and a person's theme; makes the first person of a shop."""

import secrets

from django.db import transaction

from bowcore.errors import BadInput
from bowcore.workflow.roles import StaffRole, require
from shop.accounts.models import Member, Membership, Shop

PASSWORD_BYTES = 12


def new_password() -> str:
    """Long and random; whoever gets it changes it."""
    return secrets.token_urlsafe(PASSWORD_BYTES)


@transaction.atomic
def begin_with(name: str, role: StaffRole, shop_name: str | None) -> tuple[Membership, str]:
    """Add a person, and open the shop of that name if it is a new one.

    For whoever runs the server; in the shop, people are invited (people.actions).

    Returns
    -------
    tuple[Membership, str]
        Where the person works, and the password.

    Raises
    ------
    BadInput
        The name is taken or empty, or no shop was named and there are several.
    """
    username = name.strip().lower()
    if not username or Member.objects.filter(username=username).exists():
        raise BadInput(f"“{username}” is taken, or nothing was written.", "username")
    word = new_password()
    member = Member.objects.create_user(username, password=word)
    held = Membership.objects.create(member=member, shop=_shop(shop_name), role=role.value)
    return held, word


def _shop(name: str | None) -> Shop:
    """By its name, opened if no shop has it; without a name the only one."""
    if name:
        return Shop.objects.get_or_create(name=name)[0]
    shops = list(Shop.objects.order_by("pk")[:2])
    if len(shops) > 1:
        raise BadInput("There are several shops: say which one with --shop NAME.", "shop")
    return shops[0] if shops else Shop.objects.create()


def change_shop(shop: Shop, by: Member) -> Shop:
    """Save the shop's policy. Refused to all but managers."""
    require(by.staff_role, "set_shop")
    shop.save()
    return shop


def change_theme(member: Member) -> Member:
    """Swap daylight and dim shop for one person."""
    member.theme = "light" if member.theme == "dark" else "dark"
    member.save(update_fields=["theme"])
    return member
