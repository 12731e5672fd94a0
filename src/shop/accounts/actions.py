"""Changes the shop's policy and a person's theme; makes the first person of a shop."""

import secrets

from axes.models import AccessAttempt
from django.db import transaction
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from bowcore.errors import BadInput
from bowcore.work_order.roles import StaffRole, require
from shop.accounts.lockout import counted_for
from shop.accounts.selectors import handle_of, logins_of, passes
from shop.schema.accounts.models import Member, Membership, Shop

PASSWORD_BYTES = 12
PAPER_CODES = 10
_PHONE, _PAPER = "phone", "paper"


def random_password() -> str:
    """Long and random; whoever gets it changes it."""
    return secrets.token_urlsafe(PASSWORD_BYTES)


@transaction.atomic
def begin_with(name: str, role: StaffRole, shop_name: str | None) -> tuple[Membership, str]:
    """Add a person, and open the shop of that name if it is a new one.

    For whoever runs the server; in the shop, people are invited (people.actions).

    Returns
    -------
    tuple[Membership, str]
        Where the person works, and the password.

    Raises
    ------
    BadInput
        The name is taken or empty, or no shop was named and there are several.
    """
    username = name.strip().lower()
    if not username or Member.objects.filter(username=username).exists():
        raise BadInput(f"“{username}” is taken, or nothing was written.", "username")
    held = add_person(username, "", role, _shop(shop_name))
    return held, give_new_password(held.member)


def add_person(username: str, full_name: str, role: StaffRole, shop: Shop) -> Membership:
    """A login without a password, at home in this shop."""
    first, _, last = full_name.strip().partition(" ")
    made = Member.objects.create_user(username, first_name=first, last_name=last, home=shop)
    return Membership.objects.create(member=made, shop=shop, role=role.value)


def give_new_password(member: Member) -> str:
    """One that is changed at the next login. Every session ends, and a lock is lifted.

    Returns
    -------
    str
        The password; it is kept nowhere.
    """
    word = random_password()
    member.set_password(word)
    member.password_made = True
    member.save(update_fields=["password", "password_made"])
    log_out_everywhere(member)
    let_in_again(member.username)
    return word


@transaction.atomic
def let_back_in(name: str, without_code: bool) -> str:
    """A new password for somebody whom no manager can help. For whoever runs the server.

    Returns
    -------
    str
        The password.

    Raises
    ------
    BadInput
        Nobody has that login name.
    """
    member = Member.objects.filter(username=name.strip().lower()).first()
    if member is None:
        raise BadInput(f"Nobody has the login name “{name}”.", "username")
    if without_code:
        stop_second_step(member)
    return give_new_password(member)


def log_out_everywhere(member: Member) -> int:
    """End every session of a person; how many there were."""
    return member.sessions.all().delete()[0]


def _shop(name: str | None) -> Shop:
    """By its name, opened if no shop has it; without a name the only one."""
    if name:
        return Shop.objects.filter(name=name).first() or new_shop(name)
    shops = list(Shop.objects.order_by("pk")[:2])
    if len(shops) > 1:
        raise BadInput("There are several shops: say which one with --shop NAME.", "shop")
    return shops[0] if shops else new_shop("The shop")


def new_shop(name: str) -> Shop:
    """Open a shop; the first one keeps the chain's book."""
    return Shop.objects.create(name=name, keeps_book=not Shop.objects.exists())


def let_in_again(name: str) -> None:
    """Forget a name's failures, wherever it was typed."""
    AccessAttempt.objects.filter(counted_for(name)).delete()


def change_shop(shop: Shop, by: Member) -> Shop:
    """Save the shop's policy. Refused to all but managers."""
    require(by.staff_role, "set_shop")
    shop.save()
    return shop


def change_theme(member: Member) -> Member:
    """Swap daylight and dim shop for one person."""
    member.theme = "light" if member.theme == "dark" else "dark"
    member.save(update_fields=["theme"])
    return member


def end_login(member: Member, handle: str) -> None:
    """End one of a person's own sessions."""
    for login in logins_of(member):
        if handle_of(login) == handle:
            login.delete()


def phone_being_set_up(member: Member) -> TOTPDevice:
    """The secret for the phone; it counts for nothing until a code of it has been typed."""
    values = {"name": _PHONE}
    return TOTPDevice.objects.get_or_create(user=member, confirmed=False, defaults=values)[0]


@transaction.atomic
def set_up_second_step(member: Member, code: str) -> list[str]:
    """From now on a code is asked for besides the password.

    Returns
    -------
    list[str]
        Codes for paper, each good for one login without the phone. They are shown once.

    Raises
    ------
    BadInput
        The code is not what the phone should show now.
    """
    device = phone_being_set_up(member)
    if not device.verify_token(code.replace(" ", "")):
        raise BadInput("The phone should show another code now. Is its clock right?", "token")
    stop_second_step(member, but=device)
    device.confirmed = True
    device.save()
    paper = StaticDevice.objects.create(user=member, name=_PAPER)
    codes = [secrets.token_hex(4) for _ in range(PAPER_CODES)]
    for one in codes:
        paper.token_set.create(token=one)
    return codes


def stop_own_second_step(member: Member, code: str) -> None:
    """Stop it with a code, so that whoever finds a screen open cannot.

    Raises
    ------
    BadInput
        The code is wrong.
    """
    if not passes(member, code):
        raise BadInput(
            "That code is wrong, was used before, or came too soon after a wrong one.", "token"
        )
    stop_second_step(member)


def stop_second_step(member: Member, but: TOTPDevice | None = None) -> None:
    """The password alone lets this person in again."""
    StaticDevice.objects.filter(user=member).delete()
    TOTPDevice.objects.filter(user=member).exclude(pk=but.pk if but else None).delete()
