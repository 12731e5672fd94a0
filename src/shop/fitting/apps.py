"""Registers the screens of this app."""

from django.apps import AppConfig


class FittingConfig(AppConfig):
    name = "shop.fitting"

    def ready(self) -> None:
        from shop.fitting import screens  # noqa: F401  registers itself
