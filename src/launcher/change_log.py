"""The private database's log of every change, and the way from a backup to a moment after it."""

import os
import subprocess
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from launcher import backup
from launcher.database import LOG
from launcher.say import Halt


def moment_of(text: str) -> datetime:
    """A moment as it was typed, by this machine's clock if no zone is named.

    Raises
    ------
    Halt
        It is not a moment, or has not come yet.
    """
    try:
        found = datetime.fromisoformat(text).astimezone(UTC)
    except ValueError:
        raise Halt(f"{text} is not a moment. For example: 2026-05-04T14:30", 2) from None
    if found > datetime.fromtimestamp(time.time(), UTC):
        raise Halt(f"{text} has not come yet.", 2)
    return found


def newest_before(directory: Path, moment: datetime) -> Path:
    """The newest backup of a directory that was taken before a moment and knows its place in the log.

    Raises
    ------
    Halt
        No backup is so old.
    """
    for path in sorted(directory.glob(f"{backup.PREFIX}*.tar"), reverse=True):
        if leads_to(backup.manifest_of(path), moment):
            return path
    raise Halt(
        f"No backup in {directory} is older than that and was taken with the log of changes."
    )


def leads_to(manifest: dict[str, Any], moment: datetime) -> bool:
    """Whether a backup knows its place in the log and was taken before a moment."""
    return "log" in manifest and datetime.fromisoformat(manifest["taken_at"]) <= moment


def files_since(access: backup.Access, manifest: dict[str, Any]) -> list[str]:
    """The log's files from a backup on.

    Raises
    ------
    Halt
        The log does not reach back to it.
    """
    kept = [row[0] for row in access.ask("SHOW BINARY LOGS", schema=False)]
    first = manifest["log"]["file"]
    if first not in kept:
        raise Halt(
            f"The log of changes does not reach back to the backup of {manifest['taken_at']}."
        )
    return kept[kept.index(first) :]


def replay(access: backup.Access, data: Path, manifest: dict[str, Any], until: datetime) -> None:
    """Make every change again that was made after a backup and before a moment.

    Raises
    ------
    Halt
        The log does not reach back to the backup, or cannot be read.
    """
    stop = (until + timedelta(seconds=1)).strftime("%Y-%m-%d %H:%M:%S")
    command = [
        "mariadb-binlog",
        "--no-defaults",
        "--disable-log-bin",
        f"--database={access.schema}",
    ]
    command += [f"--start-position={manifest['log']['position']}", f"--stop-datetime={stop}"]
    command += [str(data / name) for name in files_since(access, manifest)]
    done = subprocess.run(command, capture_output=True, env=os.environ | {"TZ": "UTC"})
    if done.returncode:
        raise Halt(f"{LOG} could not be read: {done.stderr.decode(errors='replace')[-800:]}")
    access.run("mariadb", feed=done.stdout)
