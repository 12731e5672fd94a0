"""Commands that work on the records of every shop."""

from typing import Any

from django.core.management.base import BaseCommand

from shop.schema.tenancy.here import every_shop


class CommandForEveryShop(BaseCommand):
    """Sees the rows of all shops."""

    def execute(self, *args: Any, **options: Any) -> str | None:
        with every_shop():
            return super().execute(*args, **options)
