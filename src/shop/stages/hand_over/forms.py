"""What is posted when a bow goes back."""

from django import forms

from shop.casework.action_view import SubmissionForm


class HandOverForm(SubmissionForm):
    """A manager's reason where points are open, and what was not done."""

    override = forms.CharField(required=False, max_length=300)
    not_done = forms.CharField(required=False, max_length=2000)
