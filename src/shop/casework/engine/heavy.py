"""Long computations of a serving process: in a process beside it, one at a time, so that its pages do not
share the interpreter with them."""

import os
import threading
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import get_context
from typing import TypeVar

from django.conf import settings

BESIDE, HERE = "beside", "here"
NICENESS = 5
"""Added to the niceness: pages come first."""
PARENT_LOOKED_AT_S = 2.0

Answer = TypeVar("Answer")
_turn = threading.Lock()
_pool: ProcessPoolExecutor | None = None


def computed(function: Callable[..., Answer], *arguments: object) -> Answer:
    """The answer of a function of `computing`, made in the process beside, or here where the settings say
    so. One that was killed is started again once."""
    global _pool
    if settings.FENNOCK_COMPUTE == HERE:
        return function(*arguments)
    with _turn:
        try:
            _pool = _pool or _started()
            return _pool.submit(function, *arguments).result()
        except BrokenProcessPool:
            _pool = _started()
            return _pool.submit(function, *arguments).result()


def _started() -> ProcessPoolExecutor:
    context = get_context("spawn")
    return ProcessPoolExecutor(1, context, initializer=_begin, initargs=(os.getpid(),))


def _begin(parent: int) -> None:
    """In the process beside: give way to pages, and end with the serving process however that ends."""
    os.nice(NICENESS)
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(PARENT_LOOKED_AT_S)
    os._exit(0)
