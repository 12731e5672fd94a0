"""An act that the database could not finish is done once more as a whole.

Every act is one transaction under one key, so that doing it again makes it one fact whether or not the
first try had arrived. In a cluster a transaction may be refused when it is committed, for another node
was first; a server may go away in the middle.
"""

import logging
import random
import time
from collections.abc import Callable
from typing import TypeVar

from django.db import DatabaseError, InterfaceError, OperationalError, connection

T = TypeVar("T")

CONFLICTS = frozenset({1205, 1213})
"""Waited too long for a lock; deadlock, or refused by the other nodes of a cluster (error numbers of
MariaDB's reference)."""
AWAY = frozenset({1047, 1053, 1180, 1927, 2002, 2003, 2006, 2013})
"""This node is not ready; it shuts down; the commit failed; the connection was killed, or is lost."""
TRIES = 5
FIRST_WAIT_S = 0.05

_log = logging.getLogger("fennock.conflicts")


def passes_by_itself(error: DatabaseError | InterfaceError) -> bool:
    """Whether the same act may succeed a moment later."""
    return _number(error) in CONFLICTS | AWAY


def as_a_whole(
    act: Callable[[], T], again: Callable[[], None], pause: Callable[[float], None] = time.sleep
) -> T:
    """Do an act; after a conflict or a lost connection do it again, at most five times in all.

    Parameters
    ----------
    act : callable
        The whole act, its transaction included.
    again : callable
        What has to be done before each further try, as putting an uploaded file back to its beginning.
    pause : callable
        Waits for so many seconds.

    Raises
    ------
    OperationalError
        It did not pass by itself, or not within these tries.
    """
    for number in range(1, TRIES):
        try:
            return act()
        except (OperationalError, InterfaceError) as error:
            if not passes_by_itself(error) or connection.in_atomic_block:
                raise
            _log.warning("try %d of %d: %s", number, TRIES, error)
            if _number(error) in AWAY:
                connection.close()
            pause(FIRST_WAIT_S * 3**number * random.uniform(0.5, 1.0))  # noqa: S311
            again()
    return act()


def _number(error: Exception) -> int:
    return error.args[0] if error.args and isinstance(error.args[0], int) else 0
