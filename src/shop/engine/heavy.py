"""Long computations in a serving process: one at a time, so that its other threads keep answering."""

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

_TURN = Lock()


@contextmanager
def heavy_work() -> Iterator[None]:
    """Wait for one's turn; whoever waited looks first whether the other has computed the same."""
    with _TURN:
        yield
