"""Guessing passwords: how long a login stays locked, from which address it came, many names from one.

A name is locked only for the address that failed, so that nobody locks anybody else out; each further
failure doubles the wait. Whoever tries many names from one address is stopped there.
"""

import logging
from datetime import timedelta

from axes.helpers import get_client_username
from axes.models import AccessAttempt, AccessLog
from axes.utils import reset
from django.conf import settings
from django.db.models import Max
from django.http import HttpRequest
from django.utils import timezone

FIRST_LOCK_MINUTES, LONGEST_LOCK = 1, timedelta(hours=1)
NAMES_TRIED = 10
"""More names than a shop's people mistype from one address in a while."""
A_WHILE = timedelta(minutes=15)

_log = logging.getLogger("fennock.login")


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


def lock_time(request: HttpRequest | None = None) -> timedelta:
    """How long a login stays locked after its last failure: longer with every further one."""
    if request is None:
        return LONGEST_LOCK
    tried = AccessAttempt.objects.filter(
        username=get_client_username(request) or "", ip_address=client_address(request)
    )
    failures = int(tried.aggregate(most=Max("failures_since_start"))["most"] or 0)
    over = min(max(failures - int(settings.AXES_FAILURE_LIMIT), 0), 10)
    return min(timedelta(minutes=FIRST_LOCK_MINUTES * 2**over), LONGEST_LOCK)


def tries_many_names(request: HttpRequest) -> bool:
    """Whether too many names have failed from this address of late; said in the log.

    Whoever has logged in from there before is not held up by it: their name has its own lock.
    """
    address, name = client_address(request), get_client_username(request) or ""
    since = timezone.now() - A_WHILE
    tried = AccessAttempt.objects.filter(ip_address=address, attempt_time__gte=since)
    names = tried.values("username").distinct().count()
    known = AccessLog.objects.filter(username=name, ip_address=address).exists
    if names < NAMES_TRIED or known():
        return False
    _log.warning("%d names were tried from %s within %s", names, address, A_WHILE)
    return True


def locked_names() -> set[str]:
    """Names that have failed often enough to be locked, from any address."""
    often = AccessAttempt.objects.filter(failures_since_start__gte=settings.AXES_FAILURE_LIMIT)
    return set(often.values_list("username", flat=True))


def let_in_again(username: str) -> None:
    """Forget a name's failures."""
    reset(username=username)
