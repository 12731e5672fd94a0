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


STILL_BEING_MADE = KeptAnswer(False)


def keep_answer(key: str, value: Any) -> None:
    """Put an answer where every process finds it."""
    caches[CACHE].set(key, value, KEPT_S)


def kept_answer(key: str) -> KeptAnswer:
    """What is kept under a key."""
    value = caches[CACHE].get(key, _MISSING)
    return STILL_BEING_MADE if value == _MISSING else KeptAnswer(True, value)


def answer_or_begin(key: str, task: Task[Any, Any], *arguments: Any) -> KeptAnswer:
    """What is kept under a key; where nothing is, the task that keeps it is begun, once for all who ask.

    Parameters
    ----------
    key : str
        Under which the task keeps its answer.
    task : Task
        What makes it.
    arguments : json
        For the task.
    """
    found = kept_answer(key)
    if not found.ready and caches[CACHE].add(f"begun-{key}", True, TRIED_AGAIN_AFTER_S):
        task.enqueue(*arguments)
        found = kept_answer(key)
    return found
