"""Restore and upgrade of a database that is reached by its address; what is served is checked and saved."""

import os
import subprocess
import sys
from pathlib import Path

import pytest

from launcher import backup, keeping
from launcher.checking import scratch, variables_for_tests
from launcher.database import NAME, PrivateDatabase
from launcher.serving import running

ROOT = Path(__file__).parents[2]


@pytest.fixture
def address(monkeypatch):
    """A server that somebody else runs, with the shop's tables in it."""
    with running(PrivateDatabase(scratch(), throw_away=True)) as database:
        values = variables_for_tests(ROOT, database)
        for name, value in values.items():
            monkeypatch.setenv(name, value)
        monkeypatch.setenv("FENNOCK_DATABASE_URL", database.owner_url)
        monkeypatch.setenv("FENNOCK_SECRET_KEY", "for-this-test-only")
        monkeypatch.delenv("FENNOCK_OWNER_DATABASE_URL", raising=False)
        run("migrate", "--verbosity", "0")
        access = backup.Access.by_socket(database.socket, NAME)
        access.ask(
            r"GRANT ALL ON `fennock\_trial\_%`.* TO 'fennock_owner'@'127.0.0.1';"
            r"GRANT ALL ON `fennock\_trial\_%`.* TO 'fennock_owner'@'localhost'"
        )
        yield access


def run(*command):
    done = subprocess.run([sys.executable, "-m", "django", *command], env=dict(os.environ))
    assert done.returncode == 0


def test_upgrade_and_restore_by_address(address, tmp_path, capfd):
    place = ["--data-dir", str(tmp_path)]
    address.ask("INSERT INTO customers_customer (name, phone, note, shop_id) SELECT 'R. Okafor', '', '', id "
                "FROM accounts_shop")  # fmt: skip
    assert keeping.create_user(["mara", "--shop", "Quay Lane", *place], ROOT) == 0
    assert keeping.upgrade(place, ROOT) == 0
    assert "rights" in capfd.readouterr().out
    (taken,) = (tmp_path / "backups").glob("*.tar")
    before = backup.checksums(address)
    address.ask("DELETE FROM accounts_membership")
    assert keeping.restore([str(taken), "--yes", *place], ROOT) == 0
    assert backup.checksums(address)["accounts_membership"] == before["accounts_membership"]
    assert keeping.verify(place, ROOT) == 0
