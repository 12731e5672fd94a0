"""Registers the screens of this app."""

from django.apps import AppConfig


class StringSetsConfig(AppConfig):
    name = "shop.string_sets"

    def ready(self) -> None:
        from shop.string_sets import screens  # noqa: F401  registers itself
