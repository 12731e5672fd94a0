"""Long computations of a serving process: in a process beside it, one at a time, so that its pages do not
share the interpreter with them. A page does not wait for them either: it says that they are under way."""

import logging
import os
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from contextvars import ContextVar
from multiprocessing import get_context
from typing import TypeVar

from django.conf import settings
from django.db import connections

from shop.casework.engine.kept_answers import BeingComputed, begins, ended, failed, has_failed

BESIDE, HERE = "beside", "here"
NICENESS = 5
"""Added to the niceness: pages come first."""
PARENT_LOOKED_AT_S = 2.0

Answer = TypeVar("Answer")
_log = logging.getLogger("fennock.compute")
_opening = threading.Lock()
_pool: ProcessPoolExecutor | None = None
_WAITS: ContextVar[bool] = ContextVar("waits", default=True)
BEGUN_FOR_S = 120
"""After so long without an answer a computation is begun once more: whoever made it was killed."""


@contextmanager
def not_waiting() -> Iterator[None]:
    """As long as the block runs, what is not there yet is begun, and said to be."""
    token = _WAITS.set(False)
    try:
        yield
    finally:
        _WAITS.reset(token)


def computed_once(
    key: str, keep: Callable[[Answer], None], function: Callable[..., Answer], *arguments: object
) -> Answer:
    """The same as `computed`, of an answer that is kept under a key; where nobody waits it is begun, by one
    of all serving processes, and kept when it is there.

    Raises
    ------
    BeingComputed
        Nobody waits, and it is under way.
    """
    if _WAITS.get() or settings.FENNOCK_COMPUTE == HERE or has_failed(key):
        begins(key, BEGUN_FOR_S)
        try:
            answer = computed(function, *arguments)
            keep(answer)
        finally:
            ended(key)
        return answer
    if begins(key, BEGUN_FOR_S):
        _begin_beside(key, keep, function, *arguments)
    raise BeingComputed(key)


def _begin_beside(
    key: str, keep: Callable[[Answer], None], function: Callable[..., Answer], *arguments: object
) -> None:
    def done(future: Future[Answer]) -> None:
        try:
            keep(future.result())
        except BrokenProcessPool:
            _log.warning("a computation was killed; the next who asks begins it again")
        except Exception:
            _log.exception(
                "a computation failed; the next who asks makes it in place and gets the error"
            )
            failed(key)
        finally:
            ended(key)
            connections.close_all()  # of this thread alone

    _asked_beside(function, *arguments).add_done_callback(done)


def computed(function: Callable[..., Answer], *arguments: object) -> Answer:
    """The answer of a function of `computing`, made in the process beside, or here where the settings say
    so. One that was killed is started again once."""
    if settings.FENNOCK_COMPUTE == HERE:
        return function(*arguments)
    try:
        return _asked_beside(function, *arguments).result()
    except BrokenProcessPool:
        return _asked_beside(function, *arguments).result()


def _asked_beside(function: Callable[..., Answer], *arguments: object) -> Future[Answer]:
    """The process beside has been asked; it is started where it is not there or was killed."""
    global _pool
    with _opening:
        try:
            _pool = _pool or _started()
            return _pool.submit(function, *arguments)
        except BrokenProcessPool:
            _pool = _started()
            return _pool.submit(function, *arguments)


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
