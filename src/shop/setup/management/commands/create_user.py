"""`manage.py create_user NAME`: the first person of a shop, or one more."""

import secrets
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from bowcore.workflow.roles import StaffRole
from shop.accounts.models import Member


class Command(BaseCommand):
    """Prints the password; it is kept nowhere."""

    help = "Add a person."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name")
        parser.add_argument("--role", default="manager", choices=[role.value for role in StaffRole])

    def handle(self, *args: Any, **options: Any) -> None:
        name = options["name"].strip().lower()
        if not name or Member.objects.filter(username=name).exists():
            raise CommandError(f"“{name}” is taken, or nothing was written.")
        word = secrets.token_urlsafe(12)
        Member.objects.create_user(name, password=word, role=options["role"])
        self.stdout.write(f"{name}, {options['role']}. Password: {word}")
