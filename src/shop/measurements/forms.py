"""What the screens of readings post."""

from django import forms

from shop.jobs.action_view import SubmissionForm
from shop.jobs.forms import ReasonForm
from shop.measurements.actions.take_reading import TypedReading


class ReadingForm(SubmissionForm):
    """One typed reading."""

    quantity = forms.CharField()
    text = forms.CharField(required=False, max_length=60)
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
        typed = f"{data['text']} {data['direction']}".strip()
        data["sure"] = bool(typed) and data["sure_of"] == typed
        if data["text"] or data["direction"]:
            data["device"] = ""
        elif data["device"]:
            data["text"], data["direction"] = data["tool_text"], data["tool_direction"]
        return TypedReading(**{name: data[name] for name in TypedReading.__dataclass_fields__})


class UnreadableForm(ReasonForm):
    """Why a quantity cannot be read."""

    quantity = forms.CharField()


class LeaveForm(ReasonForm):
    """What stays outside its band, and why."""

    quantity = forms.CharField(max_length=40)


class SkipForm(SubmissionForm):
    """What is passed over: a quantity or a mark, or all that may be."""

    only = forms.CharField(required=False, max_length=40)


class MarkForm(SubmissionForm):
    """Something written down, not measured."""

    mark = forms.CharField(max_length=20)
    value = forms.CharField(required=False, max_length=200)
