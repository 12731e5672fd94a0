"""`manage.py create_user NAME [--shop NAME]`: the first person of a shop, or one more; a new shop."""

from typing import Any

from django.core.management.base import CommandError, CommandParser

from bowcore.errors import BowcoreError
from bowcore.work_order.roles import StaffRole
from shop.accounts.actions import begin_with
from shop.schema.tenancy.commands import CommandForEveryShop


class Command(CommandForEveryShop):
    """Prints the password; it is kept nowhere."""

    help = "Add a person."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--shop", help="its name; a new one is opened")
        parser.add_argument("--role", default="manager", choices=[role.value for role in StaffRole])

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            held, word = begin_with(options["name"], StaffRole(options["role"]), options["shop"])
        except BowcoreError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{held.member.username}, {held.role} of {held.shop}. Password: {word}")
