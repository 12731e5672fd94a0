"""The pages for what went wrong, in the user's words."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string

_TEXT = {
    400: ("That request was not understood.", "Go back and try again. Nothing was changed."),
    403: (
        "You do not have permission.",
        "Your role may not do this. Ask a manager. Nothing was changed.",
    ),
    404: ("This page does not exist.", "The address is wrong, or the job was never opened."),
    500: (
        "Something went wrong in the program.",
        "What you typed is kept in this browser. Try again.",
    ),
}


def _page(request: HttpRequest, code: int, text: str = "") -> HttpResponse:
    title, usual = _TEXT[code]
    context = {"code": code, "title": title, "text": text or usual}
    return render(request, "ui/error.html", context, status=code)


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 400)


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 403, str(exception or ""))


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 404)


def broken(request: HttpRequest) -> HttpResponse:
    """Drawn without the request: whoever is asked for now may be what broke, the database too."""
    title, text = _TEXT[500]
    page = render_to_string("ui/error.html", {"code": 500, "title": title, "text": text})
    return HttpResponse(page, status=500)


def csrf_failed(request: HttpRequest, reason: str = "", **_: Any) -> HttpResponse:
    return _page(
        request, 403, "This page was open too long. Load it again; what you typed is kept."
    )
