"""What a photograph is posted with."""

from django import forms

from shop.casework.action_view import SubmissionForm


class PhotoForm(SubmissionForm):
    """A photograph and what it shows."""

    about = forms.CharField(max_length=20)
    photo = forms.FileField(error_messages={"required": "Choose a photo first."})
