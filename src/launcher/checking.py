"""`./fennock test`: everything that must hold, on a database made for this run alone."""

import os
import subprocess
import tempfile
import time
from pathlib import Path

from launcher import environment, system
from launcher.database import PrivateDatabase, secret
from launcher.say import note
from launcher.serving import django_variables, running


def test(rest: list[str], root: Path) -> int:
    """Run every check; a failed one does not keep the others from running."""
    began = time.monotonic()
    system.ensure_packages(system.DATABASE, system.PAPERS, system.BROWSER, system.CRYPTO)
    python = environment.ensure_environment(root, for_tests=True)
    with running(PrivateDatabase(scratch(), throw_away=True)) as database:
        variables = variables_for_tests(root, database)
        results = [run(name, cmd, root, variables) for name, cmd in checks(python, rest)]
    bad = [name for name, code in results if code]
    note(f"\n{len(results) - len(bad)} passed, {len(bad)} failed")
    what = "failed: " + ", ".join(bad) if bad else "all checks passed"
    note(f"Fennock: {what} in {time.monotonic() - began:.0f} s")
    return 1 if bad else 0


EVERYTHING = ["-n", "auto", "--maxprocesses", "4", "--dist", "worksteal"]
"""All tests share the cores; tests that were named run in one process, where they start sooner."""


def checks(python: Path, rest: list[str]) -> list[tuple[str, list[str]]]:
    """Name and command of each check, the quick ones first."""
    tools = python.parent
    django = [str(python), "-m", "django"]
    production = ["--settings", "shop.settings.production"]
    return [
        ("lint", [str(tools / "ruff"), "check", "."]),
        ("format", [str(tools / "ruff"), "format", "--check", "."]),
        ("templates", [str(tools / "djlint"), "--check", "--quiet", "src/shop"]),
        ("types", [str(tools / "mypy")]),
        ("contracts", [str(tools / "lint-imports")]),
        ("deployment", [*django, "check", "--deploy", "--fail-level", "WARNING", *production]),
        ("migrations", [*django, "makemigrations", "--check", "--dry-run"]),
        ("tests", [str(python), "-m", "pytest", *(rest or EVERYTHING)]),
    ]


def variables_for_tests(root: Path, database: PrivateDatabase) -> dict[str, str]:
    return django_variables(root) | {
        "DJANGO_SETTINGS_MODULE": "shop.settings.test",
        "FENNOCK_SECRET_KEY": secret(database.home / "secret-key"),
        "FENNOCK_DATABASE_URL": database.owner_url,
        "FENNOCK_ALLOWED_HOSTS": "localhost,127.0.0.1",
        "FENNOCK_STATIC_ROOT": str(database.home / "static"),
    }


def scratch() -> Path:
    """A place in memory where there is one: a throw-away database needs no disk."""
    shared_memory = Path("/dev/shm")
    usable = shared_memory.is_dir() and os.access(shared_memory, os.W_OK)
    return Path(tempfile.mkdtemp(prefix="fennock-test-", dir=shared_memory if usable else None))


def run(name: str, command: list[str], root: Path, variables: dict[str, str]) -> tuple[str, int]:
    note(f"\n== {name}")
    return name, subprocess.run(command, cwd=root, env=variables).returncode
