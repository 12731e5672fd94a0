"""Logging in, the theme, and the shop's choices."""

from django import forms
from django.contrib.auth.views import LoginView
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from bowcore.errors import Refused
from shop.accounts.actions import change_shop, change_theme
from shop.accounts.models import Shop


class Login(LoginView):
    """The door."""

    template_name = "accounts/login.html"
    redirect_authenticated_user = True


class ShopForm(forms.ModelForm):  # type: ignore[type-arg]
    class Meta:
        model = Shop
        fields = ["name", "press", "back_off", "replace_school", "second_eyes", "half_twists",
                  "shorten_only", "keep_length", "leave_buss", "top_first", "upright",
                  "spacer_sizes"]  # fmt: skip


@require_POST
def theme(request: HttpRequest) -> HttpResponse:
    """Daylight or dim shop, remembered with the person."""
    change_theme(request.user)  # type: ignore[arg-type]
    back = request.META.get("HTTP_REFERER", "")
    safe = url_has_allowed_host_and_scheme(back, {request.get_host()})
    return redirect(back if safe else "rack")


def shop(request: HttpRequest) -> HttpResponse:
    """The shop's schools; only a manager changes them."""
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
    return render(request, "accounts/shop.html", {"form": form, "section": "shop"}, status=status)
