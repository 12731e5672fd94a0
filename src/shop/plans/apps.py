"""Registers the screens of this app."""

from django.apps import AppConfig


class PlansConfig(AppConfig):
    name = "shop.plans"

    def ready(self) -> None:
        from shop.plans import screens  # noqa: F401  registers itself
