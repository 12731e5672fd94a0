"""Changes the shop's policy and a person's theme."""

from bowcore.workflow.roles import require
from shop.accounts.models import Member, Shop


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
