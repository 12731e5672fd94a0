"""Registers the screens of this app."""

from django.apps import AppConfig


class PapersConfig(AppConfig):
    name = "shop.papers"

    def ready(self) -> None:
        from shop.papers import screens  # noqa: F401  registers itself
