"""Logging in, the theme, and the shop's policy."""

from typing import Any

from django.apps import apps
from django.contrib.auth.views import LoginView
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from bowcore.errors import Refused
from bowcore.workflow.roles import may
from shop.accounts.actions import change_shop, change_theme
from shop.accounts.forms import ShopForm
from shop.accounts.lockout import tries_many_names
from shop.accounts.middleware import CHOSEN_SHOP
from shop.accounts.models import Shop
from shop.accounts.selectors import membership_of, shops_beside_this
from shop.ui.ids import row_id


class Login(LoginView):
    """The login page."""

    template_name = "accounts/login.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if tries_many_names(request):
            return render(request, "accounts/locked.html", status=429)
        return super().post(request, *args, **kwargs)


@require_POST
def at_shop(request: HttpRequest) -> HttpResponse:
    """Go on working in another shop of one's own."""
    held = membership_of(request.user, row_id(request.POST.get("shop")))  # type: ignore[arg-type]
    if held is not None:
        request.session[CHOSEN_SHOP] = held.shop_id
    return redirect("rack")


@require_POST
def theme(request: HttpRequest) -> HttpResponse:
    """Daylight or dim shop, remembered with the person."""
    change_theme(request.user)  # type: ignore[arg-type]
    back = request.META.get("HTTP_REFERER", "")
    safe = url_has_allowed_host_and_scheme(back, {request.get_host()})
    return redirect(back if safe else "rack")


def shop(request: HttpRequest) -> HttpResponse:
    """The shop's policy; only a manager changes it."""
    form = ShopForm(request.POST or None, instance=Shop.current())
    status = 200
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                change_shop(form.save(commit=False), request.user)  # type: ignore[arg-type]
                return redirect("shop")
            except Refused as error:
                form.add_error(None, str(error))
    context = {
        "form": form,
        "section": "shop",
        "several": shops_beside_this().exists(),
        "simulated": apps.is_installed("shop.simulated"),
        "may_change": may(request.user.staff_role, "set_shop"),  # type: ignore[union-attr]
    }
    return render(request, "accounts/shop.html", context, status=status)
