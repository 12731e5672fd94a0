"""Sessions that know whose they are, so that a person sees and ends their own."""

from typing import Any

from django.contrib.auth.signals import user_logged_in
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.http import HttpRequest
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from shop.accounts.lockout import client_address
from shop.accounts.models import LoginSession, Member
from shop.ui.ids import row_id

_LOGIN = "login"
"""In a session: when it was begun, from which address, with which browser."""


class SessionStore(DatabaseStore):
    """Django's sessions in the database, with the person in a column of its own."""

    @classmethod
    def get_model_class(cls) -> type[LoginSession]:
        return LoginSession

    def create_model_instance(self, data: dict[str, Any]) -> LoginSession:
        row = super().create_model_instance(data)
        assert isinstance(row, LoginSession)
        said = data.get(_LOGIN, {})
        row.member_id = row_id(data.get("_auth_user_id"))
        row.begun_at = parse_datetime(said.get("at", ""))
        row.address = said.get("from", "")
        row.browser = said.get("with", "")
        return row


def _say_whose(request: HttpRequest, user: Member, **_: Any) -> None:
    request.session[_LOGIN] = {
        "at": timezone.now().isoformat(timespec="seconds"),
        "from": client_address(request)[:45],
        "with": request.headers.get("User-Agent", "")[:120],
    }


def know_whose() -> None:
    """From now on each session says whose it is."""
    user_logged_in.connect(_say_whose, dispatch_uid="whose session")
