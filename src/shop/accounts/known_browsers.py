"""A browser in which somebody has logged in before: a signed cookie with its own number and their names.

A lock that strangers bring about does not reach it: its failures are counted by themselves ("device
cookies", OWASP's article on slow guessing of passwords).
"""

import secrets
from dataclasses import dataclass, replace

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

COOKIE = "browser"
_SALT = "fennock known browser"
_KEPT_SECONDS = 400 * 24 * 3600
_MOST_NAMES = 20


@dataclass(frozen=True)
class KnownBrowser:
    """Its number, and who has logged in there, the last one first."""

    number: str
    names: tuple[str, ...] = ()

    def with_name(self, name: str) -> "KnownBrowser":
        others = [other for other in self.names if other != name]
        return replace(self, names=(name, *others)[:_MOST_NAMES])


def browser_of(request: HttpRequest) -> KnownBrowser | None:
    """Which one asks; None for one that is new here, or whose cookie was not made here."""
    try:
        kept = signing.loads(request.COOKIES.get(COOKIE, ""), salt=_SALT, max_age=_KEPT_SECONDS)
    except signing.BadSignature:
        return None
    return KnownBrowser(kept["number"], tuple(kept["names"]))


def remember(request: HttpRequest, response: HttpResponse, name: str) -> None:
    """From now on this browser is known to be one of this person's."""
    browser = browser_of(request) or KnownBrowser(secrets.token_hex(8))
    known = browser.with_name(name)
    response.set_cookie(
        COOKIE,
        signing.dumps({"number": known.number, "names": known.names}, salt=_SALT),
        max_age=_KEPT_SECONDS,
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Lax",
    )
