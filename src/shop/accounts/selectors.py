"""In which shops somebody works."""

from django.db.models import QuerySet

from shop.accounts.models import Member, Membership, Shop


def membership_of(member: Member, shop_id: int | None) -> Membership | None:
    """The one in the shop that was chosen; else the first; None for somebody who works nowhere."""
    held = member.works_in
    return next((one for one in held if one.shop_id == shop_id), held[0] if held else None)


def other_shops(member: Member) -> list[Shop]:
    """Where somebody can go on working instead."""
    return [one.shop for one in member.works_in if one.shop_id != Shop.current().pk]


def shops_beside_this() -> QuerySet[Shop]:
    """The other shops of the chain."""
    return Shop.objects.exclude(pk=Shop.current().pk).order_by("name")
