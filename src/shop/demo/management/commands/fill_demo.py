"""`manage.py fill_demo`: fill an empty database with the demo shop."""

from typing import Any

from shop.demo.saltgate import fill
from shop.schema.book.models import BookEntry
from shop.schema.tenancy.commands import CommandForEveryShop


class Command(CommandForEveryShop):
    """A database that has a book already is left alone."""

    help = "Fill an empty database with the demo shop."

    def handle(self, *args: Any, **options: Any) -> None:
        if not BookEntry.objects.exists():
            self.stdout.write("Filling the demo shop ...")
            fill()
