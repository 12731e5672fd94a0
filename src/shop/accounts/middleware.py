"""In which shop somebody works, and how lengths are said there; whose password is to be changed first."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from bowcore.quantities.units import lengths_in
from shop.accounts.selectors import membership_of
from shop.schema.tenancy.here import NOWHERE, working_for

CHOSEN_SHOP = "shop"
"""In the session: the id of the shop that somebody of several has chosen."""


class AtTheShop:
    """Every page is of one shop: it shows no rows of another, and says lengths as that shop does."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated:
            with working_for(NOWHERE):
                return self.get_response(request)
        held = membership_of(request.user, request.session.get(CHOSEN_SHOP))
        if held is None:
            return self._of_no_shop(request)
        with held.shop.during(), lengths_in(held.shop.length_unit):
            return self.get_response(request)

    def _of_no_shop(self, request: HttpRequest) -> HttpResponse:
        with working_for(NOWHERE):
            if request.path == reverse("logout"):
                return self.get_response(request)
            return render(request, "accounts/no_shop.html", status=403)


class OwnPasswordFirst:
    """Whoever logs in with a password that Fennock made changes it before anything else."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        password = reverse("own_password")
        allowed = (password, reverse("logout"))
        if getattr(request.user, "password_made", False) and request.path not in allowed:
            return redirect(password)
        return self.get_response(request)
