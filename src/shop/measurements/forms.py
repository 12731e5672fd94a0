"""What the screens of readings post."""

from django import forms

from shop.jobs.action_view import SubmissionForm
from shop.jobs.forms import ReasonForm, RowsForm
from shop.measurements.actions.take_reading import TypedReading
from shop.ui.form_fields import TextListField


class ReadingForm(SubmissionForm):
    """One typed reading."""

    quantity = forms.CharField()
    text = forms.CharField(required=False, max_length=60)
    other = forms.CharField(required=False, max_length=60)
    direction = forms.CharField(required=False)
    start = forms.CharField(required=False)
    end = forms.CharField(required=False)
    sure_of = forms.CharField(required=False, max_length=60)
    device = forms.CharField(required=False, max_length=20)
    tool_text = forms.CharField(required=False, max_length=20)
    tool_direction = forms.CharField(required=False, max_length=20)

    def typed(self) -> TypedReading:
        """What was typed; with nothing typed, what the plugged-in tool showed."""
        data = dict(self.cleaned_data)
        data["sure"] = bool(self.as_typed()) and data["sure_of"] == self.as_typed()
        if self.as_typed():
            data["device"] = ""
        elif data["device"]:
            data["text"], data["direction"] = data["tool_text"], data["tool_direction"]
        return TypedReading(**{name: data[name] for name in TypedReading.__dataclass_fields__})

    def as_typed(self) -> str:
        """All that was typed, so that a confirmation is bound to it."""
        data = self.cleaned_data
        return " ".join(data[name] for name in ("text", "other", "direction") if data[name])


class PulledForm(forms.Form):
    """One number of a pull; what was not read is left empty."""

    quantity = forms.CharField(max_length=40)
    text = forms.CharField(required=False, max_length=60)
    direction = forms.CharField(required=False, max_length=20)


class PullForm(RowsForm):
    """Everything that one pull on the board showed."""

    row_form = PulledForm
    prefix_of_rows = "pulled"

    sure_of = forms.CharField(required=False, max_length=300)

    def pulled(self) -> list[TypedReading]:
        """What was typed, row by row; confirmed if it is what was confirmed."""
        rows = [row for row in self.cleaned_rows() if row["text"] or row["direction"]]
        sure = bool(rows) and self.cleaned_data["sure_of"] == self.fingerprint()
        return [TypedReading(r["quantity"], r["text"], r["direction"], sure=sure) for r in rows]

    def fingerprint(self) -> str:
        """All that was typed, so that a confirmation is bound to it."""
        rows = self.cleaned_rows()
        return " ".join(f"{r['quantity']}={r['text']}{r['direction']}" for r in rows)[:300]


class UnreadableForm(ReasonForm):
    """Why a quantity cannot be read."""

    quantity = forms.CharField()


class LeaveForm(ReasonForm):
    """What stays outside its band, and why."""

    quantity = TextListField(error_messages={"required": "What stays as it is?"})


class SkipForm(SubmissionForm):
    """What is passed over: a quantity or a mark, or all that may be."""

    only = forms.CharField(required=False, max_length=40)


class MarkForm(SubmissionForm):
    """Something written down, not measured."""

    mark = forms.CharField(max_length=20)
    value = forms.CharField(required=False, max_length=200)
