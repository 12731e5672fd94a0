"""Writes the shop's choices and a person's theme."""

from bowcore.service.roles import require
from shop.accounts.models import Member, Shop


def change_shop(shop: Shop, by: Member) -> Shop:
    """Save the shop's choices. Refused to all but managers."""
    require(by.standing, "set_shop")
    shop.save()
    return shop


def change_theme(member: Member) -> Member:
    """Swap daylight and dim shop for one person."""
    member.theme = "light" if member.theme == "dark" else "dark"
    member.save(update_fields=["theme"])
    return member
