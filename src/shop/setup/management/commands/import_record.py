"""`manage.py import_record FILE --by NAME [--shop NAME]`: read a record in, in that person's name."""

import uuid
from pathlib import Path
from typing import Any

from django.core.management.base import CommandError, CommandParser

from bowcore.errors import BowcoreError
from shop.accounts.selectors import membership_of
from shop.casework.submissions import Submission
from shop.records.actions.import_record import import_record
from shop.schema.accounts.models import Member
from shop.schema.tenancy.commands import CommandForEveryShop


class Command(CommandForEveryShop):
    """All of it or nothing."""

    help = "Read a record in."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--by", required=True, help="login name of a manager")
        parser.add_argument("--shop", help="its name, where that person works in several")

    def handle(self, *args: Any, **options: Any) -> None:
        by = Member.objects.filter(username=options["by"]).first()
        if by is None:
            raise CommandError(f"Nobody has the login name “{options['by']}”.")
        held = next((one for one in by.works_in if one.shop.name == options["shop"]), None)
        held = held if options["shop"] else membership_of(by, None)
        if held is None:
            raise CommandError(f"{by} does not work in that shop.")
        try:
            with held.shop.during():
                taken = import_record(
                    options["file"].read_text("utf-8"), Submission(by, uuid.uuid4())
                )
        except (BowcoreError, OSError, UnicodeDecodeError) as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"Read in: {taken}.")
