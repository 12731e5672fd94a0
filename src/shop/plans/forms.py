"""What the plan and the bow's page post."""

from django import forms

from shop.jobs.action_view import SubmissionForm


class PolicyForm(SubmissionForm):
    """One of the shop's choices, the other way on this job."""

    name = forms.CharField(max_length=20)
    value = forms.BooleanField(required=False)


class CorrectChangeForm(SubmissionForm):
    """The last change is corrected to what the bow shows, or it was as written."""

    as_written = forms.BooleanField(required=False)


class CurveForm(SubmissionForm):
    """A force-draw curve as a file; none when it comes from the draw board."""

    file = forms.FileField(required=False)


class FitForm(SubmissionForm):
    """Begin a fit, or stop it."""

    cancel = forms.BooleanField(required=False)
