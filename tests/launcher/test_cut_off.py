"""Restore and upgrade, cut off at every question that they ask the database: nobody works on what is left,
and run again they come to the same end."""

import pytest

from launcher import backup, keeping
from launcher.change_mark import ChangeMark, require_whole
from launcher.checking import scratch
from launcher.database import NAME, PrivateDatabase
from launcher.say import Halt
from launcher.serving import SERVED, running


@pytest.fixture(scope="module")
def server():
    with running(PrivateDatabase(scratch(), throw_away=True)) as database:
        access = backup.Access.by_socket(database.socket, NAME)
        for host in ("127.0.0.1", "localhost"):
            access.ask(rf"GRANT ALL ON `fennock\_trial\_%`.* TO 'fennock_owner'@'{host}'")
        yield database.owner_url, access


@pytest.fixture
def records(server, monkeypatch):
    """Three tables at an address; the last is of a version that an upgrade changes."""
    url, access = server
    monkeypatch.setenv("FENNOCK_DATABASE_URL", url)
    monkeypatch.delenv("FENNOCK_OWNER_DATABASE_URL", raising=False)
    monkeypatch.setattr(keeping.environment, "ensure_environment", lambda root: root)
    monkeypatch.setattr(keeping, "tables_written", lambda root, variables: "")
    access.ask(f"DROP DATABASE IF EXISTS `{NAME}`; CREATE DATABASE `{NAME}`", schema=False)
    for name in ("bows", "jobs", "django_migrations"):
        access.ask(f"CREATE TABLE {name} (id INT PRIMARY KEY, app VARCHAR(9), name VARCHAR(9))")
        access.ask(f"INSERT INTO {name} VALUES (1, 'jobs', 'one'), (2, 'jobs', 'two')")
    return access


class CutOff:
    """Ends the program at its n-th question, as a kill would."""

    def __init__(self, monkeypatch, at):
        self.left, run = at, backup.Access.run

        def counted(access, *args, **more):
            self.left -= 1
            if self.left == 0:
                raise KeyboardInterrupt
            return run(access, *args, **more)

        monkeypatch.setattr(backup.Access, "run", counted)


def runs_with_cuts(monkeypatch, command):
    """The command, cut off at its first question, its second and so on, until it comes through; after each
    cut it is said whether the records may be worked on. Yields that."""
    for at in range(1, 200):
        with monkeypatch.context() as patch:
            CutOff(patch, at)
            try:
                command()
            except KeyboardInterrupt:
                yield at
            else:
                return
    raise AssertionError("it never came through")


def test_a_restore_that_is_cut_off_anywhere_is_run_again(records, monkeypatch, tmp_path):
    wanted = backup.checksums(records)
    taken = backup.take(records, tmp_path / "there")
    records.ask("INSERT INTO bows VALUES (3, '', 'since')")
    since = backup.checksums(records)
    place = ["--data-dir", str(tmp_path / "home")]

    def restore():
        return keeping.restore([str(taken), "--yes", *place], tmp_path)

    marked = []
    for _ in runs_with_cuts(monkeypatch, restore):
        mark = ChangeMark.of(tmp_path / SERVED)
        marked.append(mark is not None)
        if mark is None:
            assert backup.checksums(records) == since  # untouched
        else:
            with pytest.raises(Halt, match=r"fennock restore.*cut off"):
                require_whole(tmp_path / SERVED)
    assert any(marked) and not all(marked)
    assert backup.checksums(records) == wanted and ChangeMark.of(tmp_path / SERVED) is None
    kept = [backup.read(one)[0]["tables"] for one in (tmp_path / "home/backups").glob("*.tar")]
    assert since in kept


def an_upgrade(records, ends=None):
    """Stands for the migrations: a table gets a column, in two steps, and perhaps they end in between."""

    def migrate(root, variables):
        records.ask("ALTER TABLE jobs ADD COLUMN half INT")
        if ends is not None:
            raise ends
        records.ask("ALTER TABLE jobs ADD COLUMN whole INT")

    return migrate


def test_an_upgrade_that_is_cut_off_anywhere_is_run_again(records, monkeypatch, tmp_path):
    before = backup.checksums(records)
    place = ["--data-dir", str(tmp_path / "home")]
    monkeypatch.setattr(keeping, "prepare", an_upgrade(records))
    cuts = list(runs_with_cuts(monkeypatch, lambda: keeping.upgrade(place, tmp_path)))
    assert len(cuts) > 5 and ChangeMark.of(tmp_path / SERVED) is None
    assert [row[0] for row in records.ask("SHOW COLUMNS FROM jobs")][-2:] == ["half", "whole"]
    kept = sorted((tmp_path / "home/backups").glob("*.tar"))
    assert backup.read(kept[0])[0]["tables"] == before


def test_an_upgrade_that_fails_leaves_the_records_as_they_were(records, monkeypatch, tmp_path):
    before = backup.checksums(records)
    monkeypatch.setattr(keeping, "prepare", an_upgrade(records, Halt("no room on the disk")))
    with pytest.raises(Halt, match="no room"):
        keeping.upgrade(["--data-dir", str(tmp_path / "home")], tmp_path)
    assert backup.checksums(records) == before and ChangeMark.of(tmp_path / SERVED) is None


def test_what_is_written_between_two_upgrades_is_never_thrown_away(records, monkeypatch, tmp_path):
    """A second upgrade begins from what is there, not from the backup of the first."""
    place = ["--data-dir", str(tmp_path / "home")]
    monkeypatch.setattr(keeping, "prepare", lambda root, variables: None)
    assert keeping.upgrade(place, tmp_path) == 0
    records.ask("INSERT INTO bows VALUES (3, '', 'since')")
    assert keeping.upgrade(place, tmp_path) == 0
    assert records.ask("SELECT name FROM bows WHERE id = 3") == [["since"]]


def test_an_upgrade_does_not_go_over_a_restore_that_was_cut_off(records, tmp_path):
    ChangeMark("restore", "there.tar").put(tmp_path / SERVED)
    with pytest.raises(Halt, match=r"fennock restore.*there\.tar"):
        keeping.upgrade(["--data-dir", str(tmp_path / "home")], tmp_path)
