"""What is posted at the press and after it: steps, gates, schools, changes, curves, hand-over."""

import re
from typing import Any

from django import forms
from django.contrib.auth import authenticate

from shop.bench.forms import StampedForm


class TimingForm(StampedForm):
    """One of the shop's choices, the other way on this job."""

    name = forms.CharField(max_length=20)
    value = forms.BooleanField(required=False)


class CurveForm(StampedForm):
    """A force-draw curve as a file; none when it comes from the draw board."""

    file = forms.FileField(required=False)


class ChangeForm(StampedForm):
    """A change that is not turned in steps."""

    change = forms.CharField(max_length=30)
    note = forms.CharField(required=False, max_length=200)


class BackForm(StampedForm):
    """Where in the job's order the taking back begins."""

    since = forms.IntegerField(min_value=1)


class OptionForm(StampedForm):
    option = forms.IntegerField(min_value=0, max_value=9)


class StepsForm(StampedForm):
    """Half twists per part: fields named steps-<role>."""

    note = forms.CharField(required=False, max_length=120)

    def steps(self) -> list[tuple[str, int]]:
        """Only whole numbers; anything else is nought."""
        found = []
        for name, value in self.data.items():
            if name.startswith("steps-") and re.fullmatch(r"-?[0-9]{1,3}", str(value)):
                found.append((name.removeprefix("steps-"), int(value)))
        return found


class GateForm(StampedForm):
    """The gate's points and, where it is needed, a second person's signature."""

    points = forms.Field(required=False, widget=forms.MultipleHiddenInput)
    nothing_done = forms.BooleanField(required=False)
    second_name = forms.CharField(required=False)
    second_password = forms.CharField(required=False)

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        data["second"] = None
        if data.get("second_name"):
            data["second"] = authenticate(
                self.request, username=data["second_name"], password=data["second_password"]
            )
            if data["second"] is None:
                self.add_error("second_name", "That name and password do not fit together.")
        return data

    def __init__(self, *args: Any, request: Any = None, **kwargs: Any):
        super().__init__(*args, **kwargs)
        self.request = request


class HandOverForm(StampedForm):
    not_done = forms.CharField(required=False, label="Not done", widget=forms.Textarea({"rows": 2}))
    override = forms.CharField(
        required=False, max_length=300, label="Hand over all the same, because"
    )
