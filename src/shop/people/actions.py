"""What a manager does with the shop's people; each act is in the log."""

import secrets

from django.contrib.sessions.models import Session
from django.utils import timezone

from bowcore.errors import BadInput, Refused
from bowcore.workflow.roles import StaffRole, require
from shop.accounts.lockout import let_in_again
from shop.accounts.models import Member
from shop.audit.submissions import Submission, without_job

PASSWORD_BYTES = 12


def invite(username: str, full_name: str, role: StaffRole, submission: Submission) -> str:
    """Add a person with a password that is shown once; they change it themselves.

    Returns
    -------
    str
        The password.

    Raises
    ------
    BadInput
        The name is taken or empty.
    """
    require(submission.by.staff_role, "set_people")
    name = username.strip().lower()
    with without_job("invite", submission) as event:
        if not name or Member.objects.filter(username=name).exists():
            raise BadInput(f"“{name}” is taken, or nothing was written.", "username")
        word = secrets.token_urlsafe(PASSWORD_BYTES)
        first, _, last = full_name.strip().partition(" ")
        made = Member.objects.create_user(
            name, password=word, first_name=first, last_name=last, role=role.value
        )
        event.result, event.summary = str(made.pk), f"invited {made}, {role.value}"
        return word


def change_role(member_id: int, role: StaffRole, submission: Submission) -> None:
    """Give a person another role; the last manager stays one."""
    require(submission.by.staff_role, "set_people")
    with without_job("change_role", submission) as event:
        member = _member(member_id)
        _require_a_manager_left(member, role is StaffRole.MANAGER)
        member.role = role.value
        member.save(update_fields=["role"])
        event.result, event.summary = str(member.pk), f"{member} is {role.value} now"


def reset_password(member_id: int, submission: Submission) -> str:
    """A new password, shown once; whoever is logged in with the old one is logged out."""
    require(submission.by.staff_role, "set_people")
    with without_job("reset_password", submission) as event:
        member, word = _member(member_id), secrets.token_urlsafe(PASSWORD_BYTES)
        member.set_password(word)
        member.save(update_fields=["password"])
        log_out_everywhere(member)
        let_in_again(member.username)
        event.result, event.summary = str(member.pk), f"new password for {member}"
        return word


def let_in(member_id: int, submission: Submission) -> None:
    """A login that was locked by wrong passwords is open again."""
    require(submission.by.staff_role, "set_people")
    with without_job("let_in", submission) as event:
        member = _member(member_id)
        let_in_again(member.username)
        event.result, event.summary = str(member.pk), f"{member}'s login is open again"


def set_active(member_id: int, active: bool, submission: Submission) -> None:
    """Send a person away, or take them back. What they did stays under their name."""
    require(submission.by.staff_role, "set_people")
    with without_job("set_active", submission) as event:
        member = _member(member_id)
        _require_a_manager_left(member, active)
        member.is_active = active
        member.save(update_fields=["is_active"])
        if not active:
            log_out_everywhere(member)
        event.result = str(member.pk)
        event.summary = f"{member} {'works here again' if active else 'no longer works here'}"


def log_out_everywhere(member: Member) -> int:
    """End every session of a person; how many there were."""
    open_ones = Session.objects.filter(expire_date__gte=timezone.now())
    theirs = [
        session.pk
        for session in open_ones.iterator()
        if session.get_decoded().get("_auth_user_id") == str(member.pk)
    ]
    Session.objects.filter(pk__in=theirs).delete()
    return len(theirs)


def _member(member_id: int) -> Member:
    found = Member.objects.select_for_update().filter(pk=member_id).first()
    if found is None:
        raise Refused("There is no such person.")
    return found


def _require_a_manager_left(member: Member, stays: bool) -> None:
    managers = Member.objects.filter(is_active=True, role=StaffRole.MANAGER.value)
    if not stays and member.role == StaffRole.MANAGER and managers.count() < 2:
        raise Refused(f"{member} is the only manager. Make somebody else one first.")
