"""Work beside the requests, one piece at a time; a process that ends finishes what it has begun."""

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from django.db import connection

_ASIDE = ThreadPoolExecutor(1, "aside")
_log = logging.getLogger(__name__)


def aside(work: Callable[..., object], *given: object) -> None:
    """Have something computed by and by; what goes wrong is logged."""
    _ASIDE.submit(_done, work, given)


def _done(work: Callable[..., object], given: tuple[object, ...]) -> None:
    try:
        work(*given)
    except Exception:
        _log.exception("work aside failed: %s", work.__name__)
    finally:
        connection.close()
