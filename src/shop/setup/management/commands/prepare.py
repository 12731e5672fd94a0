"""`manage.py prepare [--demo]`: migrate, collect static files, fill an empty demo shop."""

import hashlib
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandParser
from django.db import connection
from django.db.migrations.loader import MigrationLoader

from shop.casework.engine.tasks import resume
from shop.records.actions.later import resume_reading
from shop.schema.tenancy.commands import CommandForEveryShop

_NEWER_DATABASE = 3


class Command(CommandForEveryShop):
    """One process instead of four, so that a start stays quick."""

    help = "Make the database, the static files and, with --demo, the demo shop ready."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        loader = MigrationLoader(connection)
        applied = set(loader.applied_migrations or ())
        known = set(loader.disk_migrations or ())
        ours = {app for app, _ in known}
        if {step for step in applied if step[0] in ours} - known:
            sys.exit(_NEWER_DATABASE)
        if known - applied:
            call_command("migrate", verbosity=0, interactive=False)
        collect_static()
        if options["demo"]:
            call_command("fill_demo", stdout=self.stdout)
        resume()
        resume_reading()


def collect_static() -> None:
    """Collect only when a source file has changed since the last time."""
    root = Path(settings.STATIC_ROOT)
    stamp, wanted = root / ".sources", _fingerprint()
    if not stamp.exists() or stamp.read_text() != wanted:
        call_command("collectstatic", verbosity=0, interactive=False, clear=True)
        stamp.write_text(wanted)


def _fingerprint() -> str:
    digest = hashlib.sha256()
    for folder in settings.STATICFILES_DIRS:
        for path in sorted(Path(folder).rglob("*")):
            if path.is_file():
                stat = path.stat()
                digest.update(f"{path}{stat.st_size}{stat.st_mtime_ns}".encode())
    return digest.hexdigest()
