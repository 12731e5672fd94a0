"""A serving process works on few heavy pages at a time, so that light ones and the health checks go on."""

from collections.abc import Callable
from threading import BoundedSemaphore
from typing import Any

from django.http import HttpRequest, HttpResponse

HEAVY_AT_ONCE = 2
"""Heavy pages that a process draws at the same time; its other threads are free for light ones."""
LIGHT = frozenset(
    {"health_live", "health_ready", "rack", "log", "customer", "theme", "login", "logout"}
)
"""Names of addresses that take no turn: a question or two to the database, nothing computed."""
_turns = BoundedSemaphore(HEAVY_AT_ONCE)


class InTurn:
    """Heavy pages wait for their turn; light ones do not."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            return self.get_response(request)
        finally:
            if getattr(request, "has_its_turn", False):
                _turns.release()

    def process_view(self, request: HttpRequest, *_: Any) -> None:
        match = request.resolver_match
        if match is None or match.view_name not in LIGHT:
            _turns.acquire()
            request.has_its_turn = True  # type: ignore[attr-defined]
