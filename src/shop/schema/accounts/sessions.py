"""Sessions that know whose they are, so that a person sees and ends their own."""

from typing import Any

from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models
from django.utils.dateparse import parse_datetime

from shop.ui.ids import row_id

BEGUN = "login"
"""In a session: when it was begun, from which address, with which browser."""


class LoginSession(AbstractBaseSession):
    """A session of somebody: since when, from where, with which browser."""

    member = models.ForeignKey("Member", models.CASCADE, null=True, related_name="sessions")
    begun_at = models.DateTimeField(null=True)
    address = models.CharField(max_length=45, blank=True)
    browser = models.CharField(max_length=120, blank=True)

    class Meta(AbstractBaseSession.Meta):
        app_label = "accounts"

    @classmethod
    def get_session_store_class(cls) -> type["SessionStore"]:
        return SessionStore


class SessionStore(DatabaseStore):
    """Django's sessions in the database, with the person in a column of its own."""

    @classmethod
    def get_model_class(cls) -> type[LoginSession]:
        return LoginSession

    def create_model_instance(self, data: dict[str, Any]) -> LoginSession:
        row = super().create_model_instance(data)
        assert isinstance(row, LoginSession)
        said = data.get(BEGUN, {})
        row.member_id = row_id(data.get("_auth_user_id"))
        row.begun_at = parse_datetime(said.get("at", ""))
        row.address = said.get("from", "")
        row.browser = said.get("with", "")
        return row
