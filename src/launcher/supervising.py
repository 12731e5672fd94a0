"""Keeps processes running: starts them again when they end, ever more slowly while they keep ending."""

import os
import signal
import subprocess
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from launcher.say import Halt, note

HOME_VARIABLE = "FENNOCK_HOME"
"""Every process of an instance carries the instance's directory in its environment."""
FIRST_WAIT_S, LONGEST_WAIT_S = 1.0, 30.0
STEADY_AFTER_S = 60.0
"""After so long without ending, a process counts as sound again."""
LOOK_EVERY_S = 0.25
STOP_WITHIN_S = 15.0


@dataclass
class Kept:
    """One process that is kept running. `start` starts it, or raises Halt."""

    name: str
    start: Callable[[], "subprocess.Popen[bytes]"]
    process: "subprocess.Popen[bytes] | None" = None
    failures: int = 0
    started_at: float = 0.0
    due_at: float = field(default=0.0)

    def look(self, now: float) -> None:
        """Start it again if it has ended and its wait is over."""
        if self.process is not None and self.process.poll() is None:
            if self.failures and now - self.started_at > STEADY_AFTER_S:
                self.failures = 0
            return
        if self.process is not None:
            self._ended(now)
        if now >= self.due_at:
            self._begin(now)

    def _ended(self, now: float) -> None:
        assert self.process is not None
        wait = min(FIRST_WAIT_S * 2**self.failures, LONGEST_WAIT_S)
        note(f"The {self.name} has ended ({self.process.returncode}); again in {wait:g} s.")
        _end_group(self.process.pid)
        self.process, self.due_at = None, now + wait
        self.failures += 1

    def _begin(self, now: float) -> None:
        try:
            self.process = self.start()
        except Halt as halt:
            wait = min(FIRST_WAIT_S * 2**self.failures, LONGEST_WAIT_S)
            note(f"The {self.name} does not start; again in {wait:g} s. {halt}")
            self.failures, self.due_at = self.failures + 1, now + wait
            return
        self.started_at = now
        if self.failures:
            note(f"The {self.name} runs again.")

    def end(self) -> None:
        """End it in order, by force after a while."""
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(STOP_WITHIN_S)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def keep_running(kept: list[Kept], pause: Callable[[float], None] = time.sleep) -> int:
    """Watch over processes until Ctrl-C or SIGTERM, then end them, the last one first."""
    try:
        while True:
            for one in kept:
                one.look(time.monotonic())
            pause(LOOK_EVERY_S)
    except KeyboardInterrupt:
        note("Stopping ...")
        return 0
    finally:
        for one in reversed(kept):
            one.end()


def _end_group(leader: int) -> None:
    """End what a process that was killed has left of its session: workers that still hold its port."""
    try:
        os.killpg(leader, signal.SIGKILL)
    except ProcessLookupError:
        return


def processes_of(home: Path) -> list[int]:
    """Processes of this user that belong to an instance, by its directory in their environment."""
    mark = f"{HOME_VARIABLE}={home}".encode()
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit() or int(entry.name) == os.getpid():
            continue
        try:
            if mark in (entry / "environ").read_bytes().split(b"\0"):
                found.append(int(entry.name))
        except OSError:  # it has ended, or it is another user's
            continue
    return found


def end_orphans(home: Path) -> None:
    """End what a launcher that was killed has left running on this directory, and nothing else."""
    left = processes_of(home)
    if not left:
        return
    note(f"Ending {len(left)} processes that were left running ...")
    _send(left, signal.SIGTERM)
    until = time.monotonic() + STOP_WITHIN_S
    while time.monotonic() < until and processes_of(home):
        time.sleep(0.1)
    _send(processes_of(home), signal.SIGKILL)


def _send(pids: list[int], number: int) -> None:
    for pid in pids:
        try:
            os.kill(pid, number)
        except ProcessLookupError:
            continue
