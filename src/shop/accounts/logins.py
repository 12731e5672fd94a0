"""Each login says whose it is, since when, from where and with which browser."""

from typing import Any

from django.contrib.auth.signals import user_logged_in
from django.http import HttpRequest
from django.utils import timezone

from shop.accounts.lockout import client_address
from shop.schema.accounts.models import Member
from shop.schema.accounts.sessions import BEGUN


def _say_whose(request: HttpRequest, user: Member, **_: Any) -> None:
    request.session[BEGUN] = {
        "at": timezone.now().isoformat(timespec="seconds"),
        "from": client_address(request)[:45],
        "with": request.headers.get("User-Agent", "")[:120],
    }


def know_whose() -> None:
    """From now on each session says whose it is."""
    user_logged_in.connect(_say_whose, dispatch_uid="whose session")
