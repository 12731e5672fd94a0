"""One line a request: who, which page, which job, how long, how many questions to the database."""

import json
import logging
import time
from collections.abc import Callable
from typing import Any

from django.db import connection
from django.http import HttpRequest, HttpResponse

from shop.ui.metrics import count

SLOW_MS = 1000.0
"""A page that takes longer is said as a warning."""
_log = logging.getLogger("fennock.access")


class AccessLog:
    """Counts questions and time, and says them in a line of JSON."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        questions, began = Questions(), time.perf_counter()
        with connection.execute_wrapper(questions):
            answer = self.get_response(request)
        took_ms = 1000 * (time.perf_counter() - began)
        line = said_of(request, answer, took_ms, questions.count)
        match = request.resolver_match
        page = match.view_name if match else None
        count(page, str(request.method), answer.status_code, took_ms / 1000, questions.count)
        _log.log(logging.WARNING if took_ms > SLOW_MS else logging.INFO, json.dumps(line))
        return answer


class Questions:
    """Counts what is asked of the database."""

    def __init__(self) -> None:
        self.count = 0

    def __call__(self, execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
        self.count += 1
        return execute(sql, params, many, context)


def said_of(
    request: HttpRequest, answer: HttpResponse, took_ms: float, questions: int
) -> dict[str, Any]:
    """What is said of one request; the address without what was asked in it."""
    match = request.resolver_match
    user = getattr(request, "user", None)
    return {
        "method": request.method,
        "page": match.view_name if match else request.path[:100],
        "job": match.kwargs.get("job_id") if match else None,
        "user": getattr(user, "pk", None),
        "status": answer.status_code,
        "ms": round(took_ms, 1),
        "queries": questions,
    }


class OncePerMinute(logging.Filter):
    """The same error is written with its traceback once a minute; the next one says how many there were."""

    def __init__(self, seconds: float = 60.0):
        super().__init__()
        self.seconds = seconds
        self._seen: dict[str, tuple[float, int]] = {}

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether this record is written."""
        if not record.exc_info:
            return True
        kind = getattr(record.exc_info[0], "__name__", "error")
        since, held = self._seen.get(kind, (-self.seconds, 0))
        if record.created - since < self.seconds:
            self._seen[kind] = (since, held + 1)
            return False
        self._seen[kind] = (record.created, 0)
        if held:
            record.msg = f"{record.msg} (and {held} more like it)"
        return True
