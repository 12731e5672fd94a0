"""What a manager does with the shop's people, and what they answer; each act is in the log."""

import uuid

from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import StaffRole, require
from shop.accounts.actions import (
    add_person,
    give_new_password,
    let_in_again,
    stop_second_step,
)
from shop.accounts.middleware import CHOSEN_SHOP
from shop.accounts.selectors import membership_of
from shop.casework.submissions import Submission, without_job
from shop.schema.accounts.models import Member, Membership, Shop, shop_here


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
        if not name:
            raise BadInput("Which login name?", "username")
        if Member.objects.filter(username=name).exists():
            raise BadInput(f"“{name}” is taken. To let somebody of another shop work here, "
                           "use “Works in another shop”.", "username")  # fmt: skip
        made = add_person(name, full_name, role, Shop.current()).member
        event.result, event.summary = str(made.pk), f"invited {made}, {role.value}"
        return give_new_password(made)


def take_on(username: str, role: StaffRole, submission: Submission) -> None:
    """Ask somebody of another shop to work here too, with the login that they have.

    They work here once they have agreed (answer_to_shop).

    Raises
    ------
    BadInput
        Nobody has that login name, or they work here already.
    """
    require(submission.by.staff_role, "set_people")
    with without_job("take_on", submission) as event:
        member = Member.objects.filter(username=username.strip().lower(), is_active=True).first()
        if member is None:
            raise BadInput("Nobody has that login name.", "username")
        held = member.memberships.filter(shop=Shop.current()).first()
        if held is not None and (held.active or held.asked):
            raise BadInput(f"{member.username} is in the list already.", "username")
        held = held or Membership(member=member, shop=Shop.current())
        held.role, held.active, held.asked = role.value, False, True
        held.save()
        event.result = str(member.pk)
        event.summary = f"asked {member.username} to work here as {role.value}"


def answer_to_shop(member: Member, shop_id: int, agrees: bool) -> None:
    """Say to a shop that asked whether one works there too; the shop's log has the answer."""
    held = member.memberships.filter(shop=shop_id, asked=True).select_related("shop").first()
    if held is None:
        return
    with held.shop.during(), without_job("answer_shop", Submission(member, uuid.uuid4())) as event:
        held.asked, held.active = False, agrees
        held.save(update_fields=["asked", "active"])
        event.result = str(member.pk)
        event.summary = f"{member} {'works here too' if agrees else 'does not want to work here'}"


def change_role(member_id: int, role: StaffRole, submission: Submission) -> None:
    """Give a person another role; the last manager stays one."""
    require(submission.by.staff_role, "set_people")
    with without_job("change_role", submission) as event:
        held = _who_works_here(member_id)
        _require_a_manager_left(held, role is StaffRole.MANAGER)
        held.role = role.value
        held.save(update_fields=["role"])
        member = held.member
        event.result, event.summary = str(member.pk), f"{member} is {role.value} now"


def reset_password(member_id: int, submission: Submission) -> str:
    """A new password, shown once; whoever is logged in with the old one is logged out."""
    require(submission.by.staff_role, "set_people")
    with without_job("reset_password", submission) as event:
        member = _member_at_home(member_id)
        event.result, event.summary = str(member.pk), f"new password for {member}"
        return give_new_password(member)


def let_in(member_id: int, submission: Submission) -> None:
    """A login that was locked by wrong passwords is open again."""
    require(submission.by.staff_role, "set_people")
    with without_job("let_in", submission) as event:
        member = _who_works_here(member_id).member
        let_in_again(member.username)
        event.result, event.summary = str(member.pk), f"{member}'s login is open again"


def set_active(member_id: int, active: bool, submission: Submission) -> None:
    """Send a person away, or take them back. What they did stays under their name.

    Only what they have open in this shop ends. A login without any shop is closed; somebody who works
    elsewhere by now is asked before they are taken back, and is at home there once sent away from home.
    """
    require(submission.by.staff_role, "set_people")
    with without_job("set_active", submission) as event:
        held = _membership(member_id)
        _require_a_manager_left(held, active)
        event.result = str(member_id)
        event.summary = _take_back(held) if active else _send_away(held)


def _take_back(held: Membership) -> str:
    """What is said of it in the log."""
    member = held.member
    if member.memberships.filter(active=True).exclude(pk=held.pk).exists():
        held.asked = not held.active
        held.save(update_fields=["asked"])
        return f"asked {member} to work here again"
    held.active = member.is_active = True
    held.save(update_fields=["active"])
    member.home = held.shop
    member.save(update_fields=["is_active", "home"])
    return f"{member} works here again"


def _send_away(held: Membership) -> str:
    """What is said of it in the log."""
    member = held.member
    if held.asked:
        held.asked = False
        held.save(update_fields=["asked"])
        return f"no longer asks {member.username} to work here"
    _log_out_of(member, held.shop_id)
    held.active = False
    held.save(update_fields=["active"])
    elsewhere = member.memberships.filter(active=True).order_by("pk").first()
    member.is_active = elsewhere is not None
    if elsewhere is not None and member.home_id == held.shop_id:
        member.home = elsewhere.shop
    member.save(update_fields=["is_active", "home"])
    return f"{member} no longer works here"


def _log_out_of(member: Member, shop_id: int) -> None:
    """End the sessions that are at work in this shop."""
    for login in member.sessions.all():
        held = membership_of(member, login.get_decoded().get(CHOSEN_SHOP))
        if held is None or held.shop_id == shop_id:
            login.delete()


def forget_second_step(member_id: int, submission: Submission) -> None:
    """The password alone lets somebody in again who has lost the phone and the codes on paper."""
    require(submission.by.staff_role, "set_people")
    with without_job("forget_second_step", submission) as event:
        member = _member_at_home(member_id)
        stop_second_step(member)
        event.result, event.summary = str(member.pk), f"{member} logs in without a code now"


def _who_works_here(member_id: int) -> Membership:
    held = _membership(member_id)
    if not held.active:
        raise Refused(f"{held.member.username} does not work here.")
    return held


def _membership(member_id: int) -> Membership:
    """Of somebody in this shop; of nobody else."""
    here = Membership.objects.select_for_update().select_related("member")
    found = here.filter(member=member_id, shop=shop_here()).first()
    if found is None:
        raise Refused("There is no such person.")
    return found


def _member_at_home(member_id: int) -> Member:
    """Somebody whose login this shop looks after: a manager elsewhere has no say over it."""
    member = _membership(member_id).member
    if member.home_id != shop_here():
        raise Refused(f"The login of {member} belongs to {member.home or 'another shop'}. "
                      "A manager there gives a new password.")  # fmt: skip
    return member


def _require_a_manager_left(held: Membership, stays: bool) -> None:
    managers = Membership.objects.filter(
        shop=held.shop_id, active=True, role=StaffRole.MANAGER.value
    )
    if held.active and not stays and held.role == StaffRole.MANAGER and managers.count() < 2:
        raise Refused(f"{held.member} is the only manager. Make somebody else one first.")
