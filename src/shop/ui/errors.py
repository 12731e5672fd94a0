"""The pages for what went wrong, in the user's words."""

import errno
import sys
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError, InterfaceError, OperationalError
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
    413: ("That is too large.", "A file may have up to 15 MB. Nothing was saved."),
    503: (
        "The database cannot be reached.",
        "What you typed is kept in this browser. This page comes back by itself.",
    ),
    507: (
        "Nothing more can be saved: the server's disk is full.",
        "What you typed is kept in this browser and is sent when there is room again. "
        "Tell whoever runs the server.",
    ),
    500: (
        "Something went wrong in the program.",
        "What you typed is kept in this browser. Try again.",
    ),
}


TRY_AGAIN_AFTER_S = 3
_CONNECTION = frozenset({1040, 1053, 1077, 1079, 1927, 2002, 2003, 2006, 2013, 2055})
"""MariaDB's and its client's error numbers of connections that are refused, closed or lost."""
_FULL = frozenset({3, 1021, 1026, 1114})
"""MariaDB's error numbers of files that cannot be written and tables that cannot grow."""


def _page(request: HttpRequest, code: int, text: str = "") -> HttpResponse:
    title, usual = _TEXT[code]
    context = {"code": code, "title": title, "text": text or usual}
    return render(request, "ui/error.html", context, status=code)


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 413 if isinstance(exception, RequestDataTooBig) else 400)


def forbidden(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 403, str(exception or ""))


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _page(request, 404)


def broken(request: HttpRequest) -> HttpResponse:
    """Drawn without the request: whoever is asked for now may be what broke, the database too."""
    error = sys.exception()
    full = disk_is_full(error)
    code = 503 if full or database_away(error) else 500
    title, text = _TEXT[507 if full else code]
    again = request.get_full_path() if code == 503 and request.method == "GET" else ""
    shown = {"code": code, "title": title, "text": text, "again": again}
    answer = HttpResponse(render_to_string("ui/error.html", shown), status=code)
    if code == 503:
        answer["Retry-After"] = str(TRY_AGAIN_AFTER_S)
    return answer


def database_away(error: BaseException | None) -> bool:
    """Whether the database could not be reached, as distinct from a wrong question to it."""
    if isinstance(error, InterfaceError):
        return True
    return isinstance(error, OperationalError) and not _CONNECTION.isdisjoint(error.args[:1])


def disk_is_full(error: BaseException | None) -> bool:
    """Whether there was no room, in the database or for an uploaded file."""
    if isinstance(error, OSError):
        return error.errno == errno.ENOSPC
    if not isinstance(error, DatabaseError):
        return False
    said = " ".join(str(word) for word in error.args[1:])
    no_room = error.args[:1] == (1030,) and f"error {errno.ENOSPC} " in f"{said} "
    return no_room or not _FULL.isdisjoint(error.args[:1])


def csrf_failed(request: HttpRequest, reason: str = "", **_: Any) -> HttpResponse:
    return _page(
        request, 403, "This page was open too long. Load it again; what you typed is kept."
    )
