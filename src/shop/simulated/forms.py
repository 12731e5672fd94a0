"""What the tools page posts."""

from django import forms

from shop.casework.action_view import SubmissionForm


class ToolForm(SubmissionForm):
    """A tool, and how it behaves from now on."""

    tool = forms.CharField(max_length=20)
    state = forms.CharField(max_length=12, required=False)
