"""`manage.py grants`: what the user that serves may do with each table, as SQL for its owner.

It may read and insert everywhere; it changes rows only where the program does, deletes only what is
not a record, and never touches a table's shape. `{user}` stands for the user's name.
"""

from typing import Any

from django.apps import apps
from django.conf import settings
from django.db.models import Model

from shop.casework.engine.kept_answers import CACHE
from shop.schema.audit.models import AppendOnly, Event
from shop.schema.tenancy.commands import CommandForEveryShop

PERMANENT = (AppendOnly, Event)
NOT_OURS_BUT_CHANGED = frozenset({"axes", "django_tasks_database", "otp_static", "otp_totp"})
"""Apps of libraries that change rows while they serve."""
DELETED_FROM = frozenset(
    {"accounts.loginsession", "book.bookpart", "search.gram", "records.recordchunk"}
)
"""Models of ours whose rows go: parts that a model of the book no longer has, words that a row is
no longer found by, sessions that have ended, pieces of a file that has been read in."""


class Command(CommandForEveryShop):
    """Prints one GRANT a table."""

    help = "The rights of the serving user, table by table, as SQL."

    def handle(self, *args: Any, **options: Any) -> None:
        for model in apps.get_models(include_auto_created=True):
            if rights := rights_on(model):
                table = model._meta.db_table
                self.stdout.write(f"GRANT {', '.join(rights)} ON `{table}` TO {{user}};")
        answers = settings.CACHES[CACHE]["LOCATION"]  # a cache's table has no model
        self.stdout.write(f"GRANT UPDATE, DELETE ON `{answers}` TO {{user}};")


def rights_on(model: type[Model]) -> tuple[str, ...]:
    """What the serving user needs on a model's table besides SELECT and INSERT."""
    meta = model._meta
    ours = model.__module__.startswith("shop.")
    if model is Event:
        return ("UPDATE (`summary`, `result`)",)  # once, says a trigger
    if issubclass(model, PERMANENT) or not (ours or meta.app_label in NOT_OURS_BUT_CHANGED):
        return ()
    gone = meta.app_label in NOT_OURS_BUT_CHANGED or meta.label_lower in DELETED_FROM
    return ("UPDATE", "DELETE") if gone else ("UPDATE",)
