"""Registers the screens of this app."""

from django.apps import AppConfig


class InspectionConfig(AppConfig):
    name = "shop.inspection"

    def ready(self) -> None:
        from shop.inspection import screens  # noqa: F401  registers itself
