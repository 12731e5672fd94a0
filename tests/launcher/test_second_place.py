"""A backup in a second place: copied and read again, or handed to a command; the backup itself stays."""

import pytest

from launcher.say import Halt
from launcher.second_place import copy_to, hand_to


@pytest.fixture
def taken(tmp_path):
    path = tmp_path / "fennock-1.tar"
    path.write_bytes(bytes(range(256)) * 4000)
    return path


def test_a_copy_is_the_same_and_for_the_owner_alone(taken, tmp_path):
    copy = copy_to(tmp_path / "share" / "bows", taken)
    assert copy.read_bytes() == taken.read_bytes() and copy.stat().st_mode & 0o777 == 0o600
    assert [path.name for path in copy.parent.iterdir()] == ["fennock-1.tar"]


def test_a_place_that_is_not_there_is_said_and_the_backup_stays(taken, tmp_path):
    (tmp_path / "share").write_text("a file, not a directory")
    with pytest.raises(Halt, match="is there, but was not copied"):
        copy_to(tmp_path / "share", taken)
    assert taken.exists()


def test_a_command_gets_the_backups_path_behind_its_own_words(taken, tmp_path):
    hand_to(
        f"cp --no-clobber --target-directory={tmp_path / 'share'}", _in(tmp_path / "share", taken)
    )
    assert (tmp_path / "share" / taken.name).exists()


def _in(place, taken):
    place.mkdir()
    return taken


@pytest.mark.parametrize("command", ["false", "no-such-program --now"])
def test_a_command_that_fails_is_said(taken, command):
    with pytest.raises(Halt, match="is there, but"):
        hand_to(command, taken)
    assert taken.exists()
