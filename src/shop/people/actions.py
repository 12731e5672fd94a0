"""What a manager does with the shop's people; each act is in the log."""

from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import StaffRole, require
from shop.accounts.actions import new_password, stop_second_step
from shop.accounts.lockout import let_in_again
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
        word = new_password()
        first, _, last = full_name.strip().partition(" ")
        made = Member.objects.create_user(name, password=word, first_name=first, last_name=last)
        Membership.objects.create(member=made, shop=Shop.current(), role=role.value)
        event.result, event.summary = str(made.pk), f"invited {made}, {role.value}"
        return word


def take_on(username: str, role: StaffRole, submission: Submission) -> None:
    """Let somebody of another shop work here too, with the login that they have.

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
        values = {"role": role.value}
        _, new = Membership.objects.get_or_create(
            member=member, shop=Shop.current(), defaults=values
        )
        if not new:
            raise BadInput(f"{member} is in the list already.", "username")
        event.result, event.summary = str(member.pk), f"took on {member}, {role.value}"


def change_role(member_id: int, role: StaffRole, submission: Submission) -> None:
    """Give a person another role; the last manager stays one."""
    require(submission.by.staff_role, "set_people")
    with without_job("change_role", submission) as event:
        held = _membership(member_id)
        _require_a_manager_left(held, role is StaffRole.MANAGER)
        held.role = role.value
        held.save(update_fields=["role"])
        member = held.member
        event.result, event.summary = str(member.pk), f"{member} is {role.value} now"


def reset_password(member_id: int, submission: Submission) -> str:
    """A new password, shown once; whoever is logged in with the old one is logged out."""
    require(submission.by.staff_role, "set_people")
    with without_job("reset_password", submission) as event:
        member, word = _own_member(member_id), new_password()
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
        member = _membership(member_id).member
        let_in_again(member.username)
        event.result, event.summary = str(member.pk), f"{member}'s login is open again"


def set_active(member_id: int, active: bool, submission: Submission) -> None:
    """Send a person away, or take them back. What they did stays under their name.

    A login without any shop is closed.
    """
    require(submission.by.staff_role, "set_people")
    with without_job("set_active", submission) as event:
        held = _membership(member_id)
        _require_a_manager_left(held, active)
        held.active = active
        held.save(update_fields=["active"])
        member = held.member
        member.is_active = member.memberships.filter(active=True).exists()
        member.save(update_fields=["is_active"])
        if not active:
            log_out_everywhere(member)
        event.result = str(member.pk)
        event.summary = f"{member} {'works here again' if active else 'no longer works here'}"


def log_out_everywhere(member: Member) -> int:
    """End every session of a person; how many there were."""
    return member.sessions.all().delete()[0]


def forget_second_step(member_id: int, submission: Submission) -> None:
    """The password alone lets somebody in again who has lost the phone and the codes on paper."""
    require(submission.by.staff_role, "set_people")
    with without_job("forget_second_step", submission) as event:
        member = _own_member(member_id)
        stop_second_step(member)
        event.result, event.summary = str(member.pk), f"{member} logs in without a code now"


def _membership(member_id: int) -> Membership:
    """Of somebody in this shop; of nobody else."""
    here = Membership.objects.select_for_update().select_related("member")
    found = here.filter(member=member_id, shop=shop_here()).first()
    if found is None:
        raise Refused("There is no such person.")
    return found


def _own_member(member_id: int) -> Member:
    """Somebody who works in this shop alone: a manager here has no say over other shops' logins."""
    member = _membership(member_id).member
    if member.memberships.exclude(shop=shop_here()).exists():
        raise Refused(f"{member} works in other shops too and changes the login alone. If it is "
                      "lost, whoever runs the server sets a new one.")  # fmt: skip
    return member


def _require_a_manager_left(held: Membership, stays: bool) -> None:
    managers = Membership.objects.filter(
        shop=held.shop_id, active=True, role=StaffRole.MANAGER.value
    )
    if not stays and held.role == StaffRole.MANAGER and managers.count() < 2:
        raise Refused(f"{held.member} is the only manager. Make somebody else one first.")
