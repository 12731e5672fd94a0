"""Registers the screens of this app."""

from django.apps import AppConfig


class PressConfig(AppConfig):
    name = "shop.press"

    def ready(self) -> None:
        from shop.press import screens  # noqa: F401  registers itself
