"""What is posted on the page of people."""

from django import forms
from django.contrib.auth.forms import PasswordChangeForm

from bowcore.work_order.roles import StaffRole
from shop.casework.action_view import SubmissionForm
from shop.schema.accounts.models import Member
from shop.schema.audit.selectors import LogFilter
from shop.schema.audit.verbs import KINDS_OF_ACT
from shop.ui.form_fields import RowField

STAFF_ROLES = [(role.value, role.value) for role in StaffRole]


class InviteForm(SubmissionForm):
    """A new person."""

    username = forms.SlugField(
        max_length=40, label="Login name", error_messages={"required": "Which login name?"}
    )
    full_name = forms.CharField(
        max_length=80, label="Name", error_messages={"required": "What is the name?"}
    )
    role = forms.ChoiceField(choices=STAFF_ROLES, label="Role")


class TakeOnForm(SubmissionForm):
    """Somebody of another shop."""

    username = forms.SlugField(
        max_length=40, label="Login name", error_messages={"required": "Which login name?"}
    )
    role = forms.ChoiceField(choices=STAFF_ROLES, label="Role here")


class RoleForm(SubmissionForm):
    """Another role."""

    role = forms.ChoiceField(choices=STAFF_ROLES)


class LogForm(forms.Form):
    """What is shown of the log."""

    by = RowField(Member.of_this_shop, required=False, label="Who", empty_label="everybody")
    verb = forms.ChoiceField(
        choices=[("", "anything"), *((one, one.replace("_", " ")) for one in KINDS_OF_ACT)],
        required=False,
        label="What was done",
    )
    job = forms.IntegerField(required=False, min_value=1, max_value=2**31, label="Job")
    since = forms.DateField(required=False, label="From", widget=forms.DateInput({"type": "date"}))
    until = forms.DateField(required=False, label="To", widget=forms.DateInput({"type": "date"}))
    words = forms.CharField(required=False, max_length=80, label="Words")

    def wanted(self) -> LogFilter:
        """As the log takes it; what was not understood is left out."""
        self.is_valid()
        data = self.cleaned_data
        by = data.get("by")
        return LogFilter(
            by.pk if by else None,
            data.get("verb") or "",
            data.get("job"),
            data.get("since"),
            data.get("until"),
            data.get("words") or "",
        )


class OwnPasswordForm(PasswordChangeForm):
    """Another password than before."""

    def clean_new_password1(self) -> str:
        word = str(self.cleaned_data["new_password1"])
        if self.user.check_password(word):
            raise forms.ValidationError("That is the password you have. Choose another one.")
        return word


class ActiveForm(SubmissionForm):
    """Whether somebody works here."""

    active = forms.BooleanField(required=False)
