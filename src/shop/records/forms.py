"""A file with a record."""

from django import forms

from shop.casework.action_view import SubmissionForm


class RecordForm(SubmissionForm):
    """The file."""

    file = forms.FileField(
        label="The file", error_messages={"required": "Choose the file of a record."}
    )
