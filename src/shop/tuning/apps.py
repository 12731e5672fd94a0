"""Registers the screens of this app."""

from django.apps import AppConfig


class TuningConfig(AppConfig):
    name = "shop.tuning"

    def ready(self) -> None:
        from shop.tuning import screens  # noqa: F401  registers itself
