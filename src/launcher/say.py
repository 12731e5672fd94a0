"""What the launcher tells the person at the keyboard."""

import sys


class Halt(Exception):
    """The launcher cannot go on; its text is the one sentence the user reads."""

    def __init__(self, message: str, code: int = 1):
        super().__init__(message)
        self.code = code


def note(message: str) -> None:
    """Print one line at once, so that a slow step shows what it is doing."""
    print(message, flush=True)


def complain(message: str) -> None:
    print(message, file=sys.stderr, flush=True)
