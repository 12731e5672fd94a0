"""Logging in, the theme, and the shop's policy."""

import time
from base64 import b32encode
from typing import Any, cast

import segno
from django.apps import apps
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.utils.decorators import method_decorator
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST
from django.views.generic import FormView

from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import may
from shop.accounts.actions import (
    change_shop,
    change_theme,
    end_login,
    phone_being_set_up,
    set_up_second_step,
    stop_own_second_step,
)
from shop.accounts.forms import CodeForm, ShopForm
from shop.accounts.known_browsers import remember
from shop.accounts.lockout import tries_many_names
from shop.accounts.middleware import CHOSEN_SHOP
from shop.accounts.selectors import (
    handle_of,
    logins_of,
    membership_of,
    passes,
    shops_beside_this,
    wants_code,
)
from shop.schema.accounts.models import Member, Shop
from shop.ui.condition import condition
from shop.ui.ids import row_id

HALF_WAY = "half_way"
"""In the session of somebody whose password was right and whose code is still asked for."""
HALF_WAY_SECONDS = 300


class Login(LoginView):
    """The login page."""

    template_name = "accounts/login.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if tries_many_names(request):
            return render(request, "accounts/locked.html", status=429)
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        member = form.get_user()
        if not wants_code(member):
            response = super().form_valid(form)
            remember(self.request, response, member.username)
            return response
        self.request.session[HALF_WAY] = {
            "member": member.pk,
            "backend": member.backend,
            "at": time.time(),
            "next": self.get_success_url(),
        }
        return redirect("login_code")


@method_decorator(login_not_required, name="dispatch")
class LoginCode(FormView):  # type: ignore[type-arg]
    """The code, for whoever is half way in."""

    template_name = "accounts/login_code.html"
    form_class = CodeForm

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        half = request.session.get(HALF_WAY)
        if half is None or time.time() - half["at"] > HALF_WAY_SECONDS:
            return redirect("login")
        return super().dispatch(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        half = self.request.session[HALF_WAY]
        member = Member.objects.filter(pk=half["member"], is_active=True).first()
        if member is None or not passes(member, form.cleaned_data["token"]):
            form.add_error(
                "token",
                "That code is wrong, was used before, or came too soon after a wrong one. "
                "Wait for the phone's next one.",
            )
            return self.render_to_response(self.get_context_data(form=form), status=422)
        login(self.request, member, half["backend"])
        self.request.session.pop(HALF_WAY, None)
        response = redirect(half["next"])
        remember(self.request, response, member.username)
        return response


def own_login(request: HttpRequest, status: int = 200, **extra: Any) -> HttpResponse:
    """Everybody's own: password, code, where they are logged in."""
    member = me(request)
    context: dict[str, Any] = {
        "section": "shop",
        "logins": [(one, handle_of(one)) for one in logins_of(member)],
        "this": request.session.session_key,
        "wants_code": wants_code(member),
        "form": CodeForm(),
    }
    return render(request, "accounts/own_login.html", context | extra, status=status)


def second_step(request: HttpRequest) -> HttpResponse:
    """Set it up: the phone's secret as a picture, and the code that proves it; or stop it."""
    member, form = me(request), CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        code = form.cleaned_data["token"]
        try:
            if wants_code(member):
                stop_own_second_step(member, code)
                return redirect("own_login")
            return own_login(request, paper_codes=set_up_second_step(member, code))
        except BadInput as error:
            form.add_error("token", str(error))
    if wants_code(member):
        return own_login(request, 422 if form.errors else 200, form=form)
    phone = phone_being_set_up(member)
    context = {
        "section": "shop",
        "form": form,
        "picture": segno.make(phone.config_url).svg_inline(scale=5, border=2),
        "secret": in_fours(b32encode(phone.bin_key).decode()),
    }
    status = 422 if form.errors else 200
    return render(request, "accounts/second_step.html", context, status=status)


def in_fours(letters: str) -> str:
    """Letters in groups of four, as they are typed off a screen."""
    return " ".join(letters[at : at + 4] for at in range(0, len(letters), 4))


@require_POST
def end_one_login(request: HttpRequest) -> HttpResponse:
    """Log out somewhere else."""
    end_login(me(request), request.POST.get("login", ""))
    return redirect("own_login")


def me(request: HttpRequest) -> Member:
    """Whoever asks."""
    return cast(Member, request.user)


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
    may_change = may(request.user.staff_role, "set_shop")  # type: ignore[union-attr]
    context = {
        "form": form,
        "section": "shop",
        "several": shops_beside_this().exists(),
        "simulated": apps.is_installed("shop.simulated"),
        "may_change": may_change,
        "condition": condition() if may_change else None,
    }
    return render(request, "accounts/shop.html", context, status=status)
