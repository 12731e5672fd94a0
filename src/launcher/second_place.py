"""A backup in a second place: a directory on another disk or a share, or whatever a command does with it."""

import hashlib
import shlex
import shutil
import subprocess
from pathlib import Path

from launcher.say import Halt, note


def copy_to(directory: Path, taken: Path) -> Path:
    """Copy a backup, read the copy again, and only then give it its name.

    Raises
    ------
    Halt
        The place is not there or full, or the copy reads otherwise. The backup itself stays.
    """
    part = directory / f"{taken.name}.part"
    try:
        directory.mkdir(parents=True, exist_ok=True)
        shutil.copyfile(taken, part)
        part.chmod(0o600)
        if _digest(part) != _digest(taken):
            raise Halt(f"The copy in {directory} reads otherwise than {taken}.")
        copy = part.rename(directory / taken.name)
    except OSError as error:
        raise Halt(
            f"{taken} is there, but was not copied to {directory}: {error.strerror}."
        ) from None
    note(f"Copied to {copy}.")
    return copy


def hand_to(command: str, taken: Path) -> None:
    """Run a command with the backup's path behind it, as in `rclone copy --to remote:`.

    Raises
    ------
    Halt
        It failed. The backup itself stays.
    """
    words = shlex.split(command)
    try:
        done = subprocess.run([*words, str(taken)], capture_output=True, text=True)
    except OSError as error:
        raise Halt(f"{taken} is there, but {words[0]} cannot be run: {error.strerror}.") from None
    if done.returncode:
        said = (done.stderr or done.stdout).strip()[-300:]
        raise Halt(f"{taken} is there, but {words[0]} failed with it: {said}")
    note(f"{words[0]} has taken it.")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
