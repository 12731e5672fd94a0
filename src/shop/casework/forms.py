"""Forms of a job as a whole, and forms with a row for each of several things."""

from collections.abc import Iterator
from typing import Any, ClassVar

from django import forms

from shop.casework.action_view import SubmissionForm

MOST_FORM_ROWS = 60


class ReasonForm(SubmissionForm):
    """A reason in words."""

    reason = forms.CharField(required=False, max_length=200)


class RowsForm(SubmissionForm):
    """A post with one row for each of several things: a formset beside the submission."""

    row_form: ClassVar[type[forms.Form]]
    prefix_of_rows: ClassVar[str] = "rows"

    def __init__(self, data: Any = None, files: Any = None, **options: Any):
        super().__init__(data, files, **options)
        factory = forms.formset_factory(self.row_form, extra=0, max_num=MOST_FORM_ROWS)
        whole = {"empty_permitted": False, "use_required_attribute": False}
        self.rows = factory(data, prefix=self.prefix_of_rows, form_kwargs=whole)

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        if not self.rows.is_valid():
            self.add_error(None, self._first_error())
        return data

    def cleaned_rows(self) -> Iterator[dict[str, Any]]:
        """What was understood, row by row."""
        return (row.cleaned_data for row in self.rows)

    def _first_error(self) -> str:
        found = [*self.rows.non_form_errors()]
        for row in self.rows:
            for name, errors in row.errors.items():
                label = row.fields[name].label if name in row.fields else ""
                found += [f"{label}: {error}" if label else str(error) for error in errors]
        return str(found[0])
