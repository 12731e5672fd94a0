"""Every page of a shop says lengths in the shop's unit."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from bowcore.quantities.units import lengths_in
from shop.accounts.models import Shop


class ShopLengths:
    """Says and reads lengths in the unit that the shop has chosen, for whoever is logged in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated:
            return self.get_response(request)
        shop = Shop.current()
        with shop.during(), lengths_in(shop.length_unit):
            return self.get_response(request)
