"""What is posted on the page of people."""

from django import forms

from bowcore.workflow.roles import StaffRole
from shop.jobs.action_view import SubmissionForm

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


class RoleForm(SubmissionForm):
    """Another role."""

    role = forms.ChoiceField(choices=STAFF_ROLES)


class ActiveForm(SubmissionForm):
    """Whether somebody works here."""

    active = forms.BooleanField(required=False)
