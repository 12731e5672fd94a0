"""Answers that take seconds: made by the background worker, kept in the database for every process.

Any of them may be thrown away; it is made again when it is asked for.
"""

from dataclasses import dataclass
from typing import Any

from django.core.cache import caches
from django_tasks.base import Task

CACHE = "shared"
KEPT_S = 14 * 24 * 3600
TRIED_AGAIN_AFTER_S = 60
"""After so long without an answer the work is asked for once more."""
_MISSING = "missing"


@dataclass(frozen=True)
class KeptAnswer:
    """What was made, if it is there already."""

    ready: bool
    value: Any = None


class BeingComputed(Exception):
    """What was asked for is under way, under this key; whoever asked asks again."""

    def __init__(self, key: str):
        super().__init__(key)
        self.key = key


def keep_answer(key: str, value: Any) -> None:
    """Put an answer where every process finds it."""
    caches[CACHE].set(key, value, KEPT_S)


def kept_answer(key: str) -> KeptAnswer:
    """What is kept under a key."""
    value = caches[CACHE].get(key, _MISSING)
    return KeptAnswer(False) if value == _MISSING else KeptAnswer(True, value)


def begins(key: str, tried_again_after_s: int = TRIED_AGAIN_AFTER_S) -> bool:
    """Whether it is to be begun now, by whoever asks: nobody has, or it has taken too long."""
    return bool(caches[CACHE].add(f"begun-{key}", True, tried_again_after_s))


def ended(key: str) -> None:
    """It is there, or has failed: nobody is at it any more."""
    caches[CACHE].delete(f"begun-{key}")


def failed(key: str) -> None:
    """It came to an error: whoever asks in the next minute is to see it."""
    caches[CACHE].set(f"failed-{key}", True, TRIED_AGAIN_AFTER_S)


def has_failed(key: str) -> bool:
    """Whether it came to an error a moment ago."""
    return caches[CACHE].get(f"failed-{key}") is not None


def being_made(key: str) -> bool:
    """Whether it has been begun and is not there yet."""
    return caches[CACHE].get(f"begun-{key}") is not None and not kept_answer(key).ready


def answer_or_begin(key: str, task: Task[Any, Any], *arguments: Any) -> Any:
    """What is kept under a key; where nothing is, the task that keeps it is begun, once for all who ask.

    Parameters
    ----------
    key : str
        Under which the task keeps its answer.
    task : Task
        What makes it.
    arguments : json
        For the task.

    Raises
    ------
    BeingComputed
        It is not there yet.
    """
    found = kept_answer(key)
    if not found.ready and begins(key):
        task.enqueue(*arguments)
        found = kept_answer(key)
    if not found.ready:
        raise BeingComputed(key)
    return found.value
