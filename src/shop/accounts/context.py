"""What every page knows of the shops."""

from typing import Any

from django.http import HttpRequest

from shop.accounts.selectors import other_shops
from shop.schema.accounts.models import Member, Shop


def shops(request: HttpRequest) -> dict[str, Any]:
    """The shop that a page is of, and where its reader works besides."""
    user = getattr(request, "user", None)
    if not isinstance(user, Member) or not user.is_authenticated:
        return {}
    return {"shop_here": Shop.current(), "other_shops": other_shops(user)}
