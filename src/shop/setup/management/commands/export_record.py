"""`manage.py export_record [--bow N | --shop NAME]`: a record, as JSON on the standard output."""

from typing import Any

from django.core.management.base import CommandError, CommandParser

from shop.records.selectors import record_of_bow, record_of_shop
from shop.schema.accounts.models import Shop
from shop.schema.bows.models import Bow
from shop.schema.tenancy.commands import CommandForEveryShop


class Command(CommandForEveryShop):
    """Writes the record of one bow, or of a shop."""

    help = "Write a record."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--bow", type=int)
        parser.add_argument("--shop", help="its name; the first shop without it")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["bow"] is not None:
            bow = Bow.objects.filter(pk=options["bow"]).first()
            if bow is None:
                raise CommandError(f"There is no bow {options['bow']}.")
            lines = record_of_bow(bow)
        else:
            named = {"name": options["shop"]} if options["shop"] else {}
            shop = Shop.objects.filter(**named).order_by("pk").first()
            if shop is None:
                raise CommandError("There is no such shop.")
            lines = record_of_shop(shop.pk)
        for line in lines:
            self.stdout.write(line, ending="")
