"""Registers the screens of this app."""

from django.apps import AppConfig


class MeasurementsConfig(AppConfig):
    name = "shop.measurements"

    def ready(self) -> None:
        from shop.measurements import screens  # noqa: F401  registers itself
