"""Guessing passwords: how long a name stays locked, who is let through, many names from one address.

A name is locked, wherever the guesses come from: in a shop all browsers have one address. Three are
counted by themselves, so that nobody locks them out: a browser in which the person has logged in before,
the second signature at a gate, and a password that Fennock made, which is too long to be guessed.
"""

import logging
from datetime import datetime, timedelta
from typing import Any

from axes.handlers.database import AxesDatabaseHandler
from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.conf import settings
from django.db.models import Max, Q, QuerySet
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from shop.accounts.known_browsers import browser_of
from shop.schema.accounts.models import Member

FIRST_LOCK, LONGEST_LOCK = timedelta(minutes=1), timedelta(hours=1)
LOCKS_REMEMBERED = timedelta(days=1)
NAMES_TRIED = 10
"""More names than a shop's people mistype from one address in a while."""
A_WHILE = timedelta(minutes=15)
_APART = " / "
"""Between a name and where it is typed; no name has a space."""

_log = logging.getLogger("fennock.login")


class UntilItExpires(AxesDatabaseHandler):  # type: ignore[misc]
    """A lock lasts as long as was said when it began, not as long as the next one would."""

    def get_user_attempts(
        self, request: HttpRequest, credentials: dict[str, Any] | None = None
    ) -> list[QuerySet[AccessAttempt]]:
        tried = self.filter_user_attempts(request, credentials)
        return [attempts.filter(expiration__expires_at__gt=timezone.now()) for attempts in tried]


def client_address(request: HttpRequest) -> str:
    """The address of whoever asks, behind as many proxies as FENNOCK_PROXIES says.

    Each proxy adds the address it was asked from at the end of X-Forwarded-For; what stands before
    those may be anything that the client sent.
    """
    direct = str(request.META.get("REMOTE_ADDR", ""))
    proxies = int(settings.FENNOCK_PROXIES)
    passed = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")]
    if not proxies or len(passed) < proxies or not passed[-proxies]:
        return direct
    return str(passed[-proxies])


def counted_name(request: HttpRequest, credentials: dict[str, Any] | None = None) -> str:
    """Under which name a failure is counted: the login name, and the place where it has its own count."""
    given = credentials or {}
    name = _login_name(str(given.get("username") or request.POST.get("username", "")))
    if given.get("at_gate"):
        return f"{name}{_APART}gate"
    browser = browser_of(request)
    if browser is not None and name in browser.names:
        return f"{name}{_APART}{browser.number}"
    return name


def _login_name(typed: str) -> str:
    """As it is on file: the database takes Tomás for tomas, so each spelling must not have its own count."""
    named = Member.objects.filter(username=typed).values_list("username", flat=True)
    return named.first() or typed.lower()


def locked_until(
    request: HttpRequest, credentials: dict[str, Any] | None = None
) -> datetime | None:
    """When the name that was posted may be tried again; None where it may now."""
    tried = AccessAttempt.objects.filter(
        username=counted_name(request, credentials), expiration__expires_at__gt=timezone.now()
    )
    until: datetime | None = tried.aggregate(until=Max("expiration__expires_at"))["until"]
    return until


def answer_when_locked(
    request: HttpRequest, response: HttpResponse | None, credentials: dict[str, Any] | None
) -> HttpResponse:
    """The page that says so; a gate says it in its own form."""
    if response is not None and (credentials or {}).get("at_gate"):
        return response
    context = {"until": locked_until(request, credentials)}
    return render(request, "accounts/locked.html", context, status=429)


def never_locked(_request: HttpRequest, credentials: dict[str, Any] | None = None) -> bool:
    """Whether the password is one that Fennock made: 96 random bits."""
    name = (credentials or {}).get("username") or ""
    return Member.objects.filter(username=name, password_made=True).exists()


def lock_time(request: HttpRequest | None = None) -> timedelta:
    """How long a name is locked the next time: twice as long as the last time within a day."""
    if request is None:
        return LONGEST_LOCK
    name, now = counted_name(request), timezone.now()
    since = max(now - LOCKS_REMEMBERED, _last_login(name) or now - LOCKS_REMEMBERED)
    locks = AccessFailureLog.objects.filter(username=name, locked_out=True, attempt_time__gt=since)
    doubled: int = 2 ** min(locks.count(), 10)
    return min(FIRST_LOCK * doubled, LONGEST_LOCK)


def _last_login(counted: str) -> datetime | None:
    known = AccessLog.objects.filter(username=counted).order_by("-attempt_time")
    last: datetime | None = known.values_list("attempt_time", flat=True).first()
    return last


def tries_many_names(request: HttpRequest) -> bool:
    """Whether too many names have failed from this address of late; said in the log.

    It does not hold up whoever has logged in from there or with this browser before, nor a newcomer with
    the password that Fennock made: their names have locks of their own.
    """
    address, name = client_address(request), _login_name(request.POST.get("username", ""))
    since = timezone.now() - A_WHILE
    tried = AccessFailureLog.objects.filter(ip_address=address, attempt_time__gte=since)
    names = tried.values("username").distinct().count()
    if names < NAMES_TRIED or _is_known(request, address, name):
        return False
    _log.warning("%d names were tried from %s within %s", names, address, A_WHILE)
    return True


def _is_known(request: HttpRequest, address: str, name: str) -> bool:
    browser = browser_of(request)
    return (
        (browser is not None and name in browser.names)
        or never_locked(request, {"username": name})
        or AccessLog.objects.filter(counted_for(name), ip_address=address).exists()
    )


def locked_names(names: list[str]) -> set[str]:
    """Which of these login names are locked somewhere."""
    now = timezone.now()
    locked = AccessAttempt.objects.filter(
        failures_since_start__gte=settings.AXES_FAILURE_LIMIT, expiration__expires_at__gt=now
    )
    return {name for name in names if locked.filter(counted_for(name)).exists()}


def counted_for(name: str) -> Q:
    """Everything that is counted for a login name."""
    return Q(username=name) | Q(username__startswith=f"{name}{_APART}")
