"""A mark in a data directory while its records are replaced: nobody serves from them until it is gone."""

import json
import os
from dataclasses import asdict, dataclass
from pathlib import Path

from launcher.say import Halt

FILE = "being-changed"


@dataclass(frozen=True)
class ChangeMark:
    """Which command replaces the records, and the backup of what was there before; "" where nothing was."""

    command: str
    backup: str

    @classmethod
    def of(cls, home: Path) -> "ChangeMark | None":
        """That of a command that was cut off, or None."""
        try:
            return cls(**json.loads((home / FILE).read_text()))
        except FileNotFoundError:
            return None

    def put(self, home: Path) -> None:
        """On the disk before the records are touched: whole, or not at all."""
        home.mkdir(parents=True, exist_ok=True)
        part = home / f"{FILE}.part"
        with open(part, "w") as file:
            json.dump(asdict(self), file)
            file.flush()
            os.fsync(file.fileno())
        part.rename(home / FILE)

    @staticmethod
    def clear(home: Path) -> None:
        """The records are whole again."""
        (home / FILE).unlink(missing_ok=True)


def require_whole(home: Path) -> None:
    """Nothing was cut off while it replaced the records.

    Raises
    ------
    Halt
        Something was; with what to do about it.
    """
    mark = ChangeMark.of(home)
    if mark is None:
        return
    before = f" What was there before it is in {mark.backup}." if mark.backup else ""
    raise Halt(
        f"The last `./fennock {mark.command}` was cut off: the records are not whole, and nobody works on "
        f"them. Run it again first.{before}"
    )
