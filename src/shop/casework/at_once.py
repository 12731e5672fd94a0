"""A page that needs what is still being computed says so at once and asks again by itself."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from shop.casework.engine.heavy import not_waiting
from shop.casework.engine.kept_answers import BeingComputed, being_made

ASKED_AGAIN_AFTER_S = 1
_KEY = "waits"
"""In the address that asks again: the key of what it waits for, so that asking costs nothing."""


class AnswersAtOnce:
    """Nobody who looks at a page holds a thread of the server while a bow is computed."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method != "GET":
            return self.get_response(request)
        key = request.GET.get(_KEY, "")
        if key and being_made(key):
            return _hold_the_place(request, key)
        with not_waiting():
            return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        return _hold_the_place(request, error.key) if isinstance(error, BeingComputed) else None


def _hold_the_place(request: HttpRequest, key: str) -> HttpResponse:
    """Of a page, or of a fragment of one. What the browser asked for itself may turn out to be a file: there
    the browser asks again itself."""
    htmx = request.htmx  # type: ignore[attr-defined]
    if not htmx:
        answer = render(request, "casework/being_computed.html", {"section": "rack"})
        answer["Refresh"] = str(ASKED_AGAIN_AFTER_S)
        return answer
    asked = request.GET.copy()
    asked[_KEY] = key
    page = htmx.boosted or htmx.target == "screen"
    template = "casework/being_computed.html" if page else "ui/being_made.html"
    address = f"{request.path}?{asked.urlencode()}"
    return render(request, template, {"address": address, "section": "rack"})
