"""In which shops somebody works, where they are logged in, whether a code is asked for at their login.

The codes are those of RFC 6238 (time-based one-time passwords, six digits, thirty seconds); checking
them, and the growing wait after wrong ones, are django-otp's.
"""

from collections.abc import Iterable
from hashlib import sha256

from django.db.models import QuerySet
from django.utils import timezone
from django_otp import match_token
from django_otp.plugins.otp_totp.models import TOTPDevice

from shop.schema.accounts.models import Member, Membership, Shop
from shop.schema.accounts.sessions import LoginSession


def membership_of(member: Member, shop_id: int | None) -> Membership | None:
    """The one in the shop that was chosen; else the first; None for somebody who works nowhere."""
    held = member.works_in
    return next((one for one in held if one.shop_id == shop_id), held[0] if held else None)


def other_shops(member: Member) -> list[Shop]:
    """Where somebody can go on working instead."""
    return [one.shop for one in member.works_in if one.shop_id != Shop.current().pk]


def shops_beside_this() -> QuerySet[Shop]:
    """The other shops of the chain."""
    return Shop.objects.exclude(pk=Shop.current().pk).order_by("name")


def logins_of(member: Member) -> list[LoginSession]:
    """Where somebody is logged in, the newest first."""
    found = member.sessions.filter(expire_date__gte=timezone.now())
    return list(found.order_by("-begun_at"))


def handle_of(login: LoginSession) -> str:
    """A name for a session that gives nothing away."""
    return sha256(login.session_key.encode()).hexdigest()[:16]


def wants_code(member: Member) -> bool:
    """Whether a code is asked for at this person's login."""
    return bool(with_code([member.pk]))


def with_code(members: Iterable[int]) -> set[int]:
    """Which of these people are asked for one."""
    found = TOTPDevice.objects.filter(user__in=members, confirmed=True)
    return set(found.values_list("user", flat=True))


def passes(member: Member, code: str) -> bool:
    """Whether a code is right; each one works once."""
    return match_token(member, code.replace(" ", "").lower()) is not None
