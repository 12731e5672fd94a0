"""What the screens of readings post."""

from typing import Any

from django import forms

from shop.casework.action_view import SubmissionForm
from shop.casework.forms import ReasonForm
from shop.casework.readings.actions.take_reading import TypedReading
from shop.ui.form_fields import TextListField


class TypedForm(forms.Form):
    """One reading as it was typed; with nothing typed, what the plugged-in tool showed."""

    text = forms.CharField(required=False, max_length=60)
    other = forms.CharField(required=False, max_length=60)
    direction = forms.CharField(required=False, max_length=20)
    start = forms.CharField(required=False, max_length=40)
    end = forms.CharField(required=False, max_length=40)
    device = forms.CharField(required=False, max_length=20)
    tool_text = forms.CharField(required=False, max_length=20)
    tool_direction = forms.CharField(required=False, max_length=20)

    def as_typed(self) -> str:
        """All that was typed, in one text."""
        data = self.cleaned_data
        return " ".join(data[name] for name in ("text", "other", "direction") if data[name])

    def reading(self, quantity: str, sure: bool) -> TypedReading:
        """It as a reading of that quantity."""
        data = self.cleaned_data
        as_shown = (data["text"], data["direction"]) == (data["tool_text"], data["tool_direction"])
        from_tool = data["device"] and (as_shown or not self.as_typed())
        return TypedReading(
            quantity,
            data["tool_text"] if from_tool else data["text"],
            data["tool_direction"] if from_tool else data["direction"],
            data["start"],
            data["end"],
            sure,
            data["device"] if from_tool else "",
            data["other"],
        )


class ReadingsForm(SubmissionForm):
    """What was read with the bow as it is, a line for each quantity, named after it.

    A confirmation is bound to all that was typed.
    """

    line = TextListField(error_messages={"required": "What was read?"})
    sure_of = forms.CharField(required=False, max_length=600)

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        self.lines = {key: TypedForm(self.data, prefix=key) for key in data.get("line", ())}
        wrong = [one for one in self.lines.values() if not one.is_valid()]
        if wrong:
            self.add_error(None, next(iter(wrong[0].errors.values()))[0])
        return data

    def readings(self) -> list[TypedReading]:
        """The lines that say something; the first one where none does."""
        sure = bool(self.as_typed()) and self.cleaned_data["sure_of"] == self.as_typed()
        found = {key: one.reading(key, sure) for key, one in self.lines.items()}
        said = [one for one in found.values() if one.text or one.other or one.direction]
        return said or [*found.values()][:1]

    def as_typed(self) -> str:
        """All that was typed, so that a confirmation is bound to it."""
        typed = ((key, one.as_typed()) for key, one in self.lines.items())
        return "; ".join(f"{key} {words}" for key, words in typed if words)[:600]


class ReadingForm(SubmissionForm, TypedForm):
    """One reading by itself."""

    sure_of = forms.CharField(required=False, max_length=200)

    def reading_of(self, quantity: str) -> TypedReading:
        """It as a reading of that quantity; confirmed if it is what was confirmed."""
        typed = self.as_typed()
        return self.reading(quantity, sure=bool(typed) and self.cleaned_data["sure_of"] == typed)


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
