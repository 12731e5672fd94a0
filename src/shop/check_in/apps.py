"""Registers the screens of this app."""

from django.apps import AppConfig


class CheckInConfig(AppConfig):
    name = "shop.check_in"

    def ready(self) -> None:
        from shop.check_in import screens  # noqa: F401  registers itself
