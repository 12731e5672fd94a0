"""Records are brought back to a moment: a backup, and every change up to then."""

import time
from datetime import UTC, datetime

import pytest

from launcher import backup, keeping
from launcher.change_log import moment_of
from launcher.database import NAME, PrivateDatabase
from launcher.say import Halt
from launcher.serving import running


@pytest.fixture
def home(tmp_path, monkeypatch):
    monkeypatch.delenv("FENNOCK_DATABASE_URL", raising=False)
    monkeypatch.delenv("FENNOCK_OWNER_DATABASE_URL", raising=False)
    return tmp_path / "home"


def bows(access):
    return [int(row[0]) for row in access.ask("SELECT id FROM bows ORDER BY id")]


def a_second_later():
    time.sleep(2.1)  # the log knows whole seconds
    return datetime.fromtimestamp(time.time(), UTC).isoformat()


def restored(home, *options):
    assert keeping.restore([*options, "--yes", "--data-dir", str(home)], home) == 0
    with running(PrivateDatabase(home)) as database:
        return bows(backup.Access.by_socket(database.socket, NAME))


def test_what_was_done_after_a_backup_comes_back_up_to_the_moment(home, tmp_path):
    with running(PrivateDatabase(home)) as database:
        access = backup.Access.by_socket(database.socket, NAME)
        access.ask("CREATE TABLE bows (id INT PRIMARY KEY)")
        access.ask("INSERT INTO bows VALUES (1)")
        taken = backup.take(access, home / "backups")
        access.ask("INSERT INTO bows VALUES (2)")
        before_the_mistake = a_second_later()
        time.sleep(2.1)
        access.ask("INSERT INTO bows VALUES (3)")
        access.ask("DELETE FROM bows WHERE id < 3")
    assert restored(home, "--until", before_the_mistake) == [1, 2]
    with pytest.raises(Halt, match="after that moment"):
        keeping.restore(
            [str(taken), "--until", "2026-01-01", "--yes", "--data-dir", str(home)], home
        )
    assert restored(home, str(taken)) == [1]  # without a moment it is the backup alone
    now = a_second_later()
    assert restored(home, "--until", now) == [
        1
    ]  # the way back does not lead through what was thrown away


def test_a_moment_without_a_backup_before_it_is_refused_and_touches_nothing(home):
    early = datetime.fromtimestamp(time.time(), UTC).isoformat()
    with running(PrivateDatabase(home)) as database:
        access = backup.Access.by_socket(database.socket, NAME)
        access.ask("CREATE TABLE bows (id INT PRIMARY KEY)")
        access.ask("INSERT INTO bows VALUES (1)")
    with pytest.raises(Halt, match="No backup"):
        keeping.restore(["--until", early, "--yes", "--data-dir", str(home)], home)
    with running(PrivateDatabase(home)) as database:
        assert bows(backup.Access.by_socket(database.socket, NAME)) == [1]


@pytest.mark.parametrize(
    ("text", "said"), [("soon", "not a moment"), ("9999-01-01", "not come yet")]
)
def test_what_is_no_moment_is_said(text, said):
    with pytest.raises(Halt, match=said):
        moment_of(text)


def test_which_backup_has_to_be_said(home):
    with pytest.raises(Halt, match="Which backup"):
        keeping.restore(["--yes", "--data-dir", str(home)], home)


def purge_old_logs(access):
    """As they go after two weeks; the server keeps one until what is in it is on disk."""
    logs = access.ask("SHOW BINARY LOGS", schema=False)
    until = time.monotonic() + 60
    while len(logs) > 1 and time.monotonic() < until:
        access.ask(f"PURGE BINARY LOGS TO '{logs[-1][0]}'", schema=False)
        time.sleep(0.2)
        logs = access.ask("SHOW BINARY LOGS", schema=False)


def test_a_log_that_does_not_reach_back_is_said_before_anything_is_touched(home):
    with running(PrivateDatabase(home)) as database:
        access = backup.Access.by_socket(database.socket, NAME)
        access.ask("CREATE TABLE bows (id INT PRIMARY KEY)")
        backup.take(access, home / "backups")
        access.ask("INSERT INTO bows VALUES (1)")
        access.ask("FLUSH BINARY LOGS", schema=False)
        purge_old_logs(access)
    moment = a_second_later()
    with pytest.raises(Halt, match="does not reach back"):
        keeping.restore(["--until", moment, "--yes", "--data-dir", str(home)], home)
    with running(PrivateDatabase(home)) as database:
        assert bows(backup.Access.by_socket(database.socket, NAME)) == [1]
