"""The page of people, and what a manager does on it."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.views import PasswordChangeView
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views.decorators.http import require_POST

from bowcore.work_order.roles import StaffRole, may
from shop.accounts.lockout import locked_names
from shop.accounts.selectors import shops_beside_this, with_code
from shop.casework.action_view import ActionView, SubmissionForm
from shop.casework.submissions import Submission
from shop.people import actions
from shop.people.forms import (
    STAFF_ROLES,
    ActiveForm,
    InviteForm,
    LogForm,
    OwnPasswordForm,
    RoleForm,
    TakeOnForm,
)
from shop.schema.accounts.models import Membership, Shop
from shop.schema.audit.selectors import events_of, log_as_csv, log_page
from shop.ui.ids import row_id

EVENTS_SHOWN = 60


def people_page(request: HttpRequest, status: int = 200, **extra: Any) -> HttpResponse:
    """Everybody, who works here first."""
    members = Membership.objects.filter(shop=Shop.current()).select_related("member")
    members = members.order_by("-active", "member__first_name", "member__username")
    locked = locked_names([held.member.username for held in members])
    coded = with_code(one.member_id for one in members)
    context = {
        "section": "shop",
        "members": [
            (
                held,
                held.member.username in locked,
                held.member_id in coded,
                held.member.home_id == held.shop_id,
            )
            for held in members
        ],
        "roles": STAFF_ROLES,
        "form": InviteForm(),
        "take_on": TakeOnForm() if shops_beside_this().exists() else None,
        "may_change": may(request.user.staff_role, "set_people"),  # type: ignore[union-attr]
    }
    return render(request, "people/people.html", context | extra, status=status)


def people(request: HttpRequest) -> HttpResponse:
    """The page."""
    return people_page(request)


def who_did_what(request: HttpRequest) -> HttpResponseBase:
    """The log of all jobs, narrowed; as a file where that is asked for. For managers."""
    if not may(request.user.staff_role, "see_log"):  # type: ignore[union-attr]
        raise PermissionDenied("Only a manager reads the log of all jobs.")
    form = LogForm(request.GET)
    if request.GET.get("as") == "csv":
        text = log_as_csv(events_of(form.wanted()))
        lines = StreamingHttpResponse(text, content_type="text/csv; charset=utf-8")
        lines["Content-Disposition"] = 'attachment; filename="log.csv"'
        return lines
    query = request.GET.copy()
    query.pop("before", None)
    context = {
        "section": "shop",
        "form": form,
        "page": log_page(form.wanted(), row_id(request.GET.get("before")), EVENTS_SHOWN),
        "query": query.urlencode(),
    }
    return render(request, "people/log.html", context)


@require_POST
def answer_shop(request: HttpRequest) -> HttpResponse:
    """Say to a shop that asked whether one works there too."""
    asked = row_id(request.POST.get("shop"))
    agrees = request.POST.get("answer") == "agree"
    if asked is not None:
        actions.answer_to_shop(request.user, asked, agrees)  # type: ignore[arg-type]
    return redirect("own_login")


class PeopleView(ActionView):
    """A post on the page of people."""

    right = "set_people"

    def done(self, form: Any) -> HttpResponse:
        return redirect("people")

    def show(self, status: int, **extra: Any) -> HttpResponse:
        if isinstance(extra.get("form"), TakeOnForm):
            extra["take_on"] = extra["refused"] = extra.pop("form")
        elif not isinstance(extra.get("form"), InviteForm):
            extra = {("refused" if name == "form" else name): one for name, one in extra.items()}
        return people_page(self.request, status, **extra)

    def show_once(self, word: str) -> None:
        """A password, on the next page and nowhere else."""
        messages.info(self.request, f"The password is {word}. It is shown this once.")


class InviteView(PeopleView):
    form_class = InviteForm

    def act(self, form: InviteForm, submission: Submission) -> None:
        data = form.cleaned_data
        role = StaffRole(data["role"])
        self.show_once(actions.invite(data["username"], data["full_name"], role, submission))


class TakeOnView(PeopleView):
    form_class = TakeOnForm

    def act(self, form: TakeOnForm, submission: Submission) -> None:
        data = form.cleaned_data
        actions.take_on(data["username"], StaffRole(data["role"]), submission)


class ChangeRoleView(PeopleView):
    form_class = RoleForm

    def act(self, form: RoleForm, submission: Submission) -> None:
        role = StaffRole(form.cleaned_data["role"])
        actions.change_role(self.kwargs["member_id"], role, submission)


class ResetPasswordView(PeopleView):
    def act(self, form: SubmissionForm, submission: Submission) -> None:
        self.show_once(actions.reset_password(self.kwargs["member_id"], submission))


class ForgetSecondStepView(PeopleView):
    """Somebody has lost phone and paper."""

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        actions.forget_second_step(self.kwargs["member_id"], submission)


class LetInView(PeopleView):
    """A login that wrong passwords have locked."""

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        actions.let_in(self.kwargs["member_id"], submission)


class SetActiveView(PeopleView):
    form_class = ActiveForm

    def act(self, form: ActiveForm, submission: Submission) -> None:
        actions.set_active(self.kwargs["member_id"], form.cleaned_data["active"], submission)


class OwnPassword(PasswordChangeView):
    """Everybody changes their own."""

    template_name = "people/password.html"
    form_class = OwnPasswordForm
    success_url = reverse_lazy("own_login")

    def form_valid(self, form: Any) -> HttpResponse:
        form.user.password_made = False
        return super().form_valid(form)
