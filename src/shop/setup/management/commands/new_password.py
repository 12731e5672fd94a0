"""`manage.py new_password NAME`: the way back for somebody whom no manager can help."""

from typing import Any

from django.core.management.base import CommandError, CommandParser

from bowcore.errors import BowcoreError
from shop.accounts.actions import let_back_in
from shop.schema.tenancy.commands import CommandForEveryShop


class Command(CommandForEveryShop):
    """Prints the password; it is kept nowhere, and changed at the next login."""

    help = "Give somebody a new password and lift a lock."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")
        parser.add_argument(
            "--without-code", action="store_true", help="no code of the phone at login from now on"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            word = let_back_in(options["name"], options["without_code"])
        except BowcoreError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{options['name']}. Password: {word}")
