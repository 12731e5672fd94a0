"""The questions of check-in."""

from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from bowcore.workflow.holds import HOLDS
from bowcore.workflow.needs import FITTED, PATHS
from bowcore.workflow.services import SERVICES
from shop.book.models import BookEntry
from shop.bows.models import Bow
from shop.check_in.actions import CheckInAnswers
from shop.customers.models import Customer
from shop.jobs.action_view import SubmissionForm
from shop.ui.form_fields import LengthField, WeightField


class CheckInForm(SubmissionForm):
    """A known bow needs only the job's questions; a new one is described here."""

    bow = forms.ModelChoiceField(
        Bow.objects.select_related("customer", "entry"), required=False, widget=forms.HiddenInput
    )
    customer = forms.ModelChoiceField(
        Customer.objects.all(), required=False, widget=forms.HiddenInput
    )
    customer_name = forms.CharField(max_length=80, required=False, label="Customer")
    customer_phone = forms.CharField(max_length=40, required=False, label="Phone")
    entry = forms.ModelChoiceField(
        BookEntry.objects.all(), required=False, label="Bow model", empty_label="choose"
    )
    tag = forms.CharField(max_length=40, required=False, label="Serial no. or markings")
    hand = forms.ChoiceField(
        choices=Bow.HANDS, required=False, widget=forms.RadioSelect, initial="right", label="Hand"
    )
    marked_weight_lbf = WeightField(required=False, label="Weight on the sticker, lbf")
    marked_draw_in = LengthField(required=False, label="Draw length on the sticker, in")
    services = forms.MultipleChoiceField(
        choices=[(one.key, one.name) for one in SERVICES.values()],
        widget=forms.CheckboxSelectMultiple,
        label="Asked for",
        error_messages={"required": "Choose what the bow is here for."},
    )
    path = forms.ChoiceField(
        choices=list(PATHS.items()), widget=forms.RadioSelect, initial="carry_over",
        label="How it is set up",
    )  # fmt: skip
    promised_on = forms.DateField(
        label="Due", widget=forms.DateInput({"type": "date"}, format="%Y-%m-%d")
    )
    wanted_weight_lbf = WeightField(required=False, label="Wanted weight, lbf")
    arrow_here = forms.BooleanField(required=False, label="An arrow is here")
    release_here = forms.BooleanField(required=False, label="The release is here")
    waits = forms.MultipleChoiceField(
        choices=[(one.key, one.name) for one in HOLDS.values() if not one.danger],
        widget=forms.CheckboxSelectMultiple, required=False, label="What it waits for",
    )  # fmt: skip
    wanted_draw_in = LengthField(required=False, label="Wanted draw length, in")
    fitted = forms.MultipleChoiceField(
        choices=[(f.key, f.name) for f in FITTED], widget=forms.CheckboxSelectMultiple,
        required=False, label="On the bow",
    )  # fmt: skip
    arrows = forms.CharField(required=False, max_length=120, label="Arrows")
    release = forms.CharField(required=False, max_length=60, label="Release")
    brought = forms.CharField(required=False, max_length=200, label="What else came with it")
    note = forms.CharField(required=False, label="Note", widget=forms.Textarea({"rows": 2}))

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        if not data.get("bow"):
            self._require_new_bow(data)
        self._require_parts(data)
        return data

    def clean_promised_on(self) -> date:
        promised: date = self.cleaned_data["promised_on"]
        if promised < timezone.localdate():
            raise forms.ValidationError("That day is past.")
        return promised

    def answers(self) -> CheckInAnswers:
        """As the action takes them."""
        names = [name for name in CheckInAnswers.__dataclass_fields__ if name in self.cleaned_data]
        return CheckInAnswers(**{name: self.cleaned_data[name] for name in names})

    def _require_new_bow(self, data: dict[str, Any]) -> None:
        if not data.get("customer") and not data.get("customer_name"):
            self.add_error("customer_name", "Whose bow is it?")
        needed = {"entry": "Which bow is it?", "marked_weight_lbf": "What does the sticker say?",
                  "marked_draw_in": "What does the sticker say?", "hand": "Which hand?"}  # fmt: skip
        for name, question in needed.items():
            if not data.get(name) and name not in self.errors:
                self.add_error(name, question)
        self._require_in_range(data)

    def _require_parts(self, data: dict[str, Any]) -> None:
        """What is to be replaced has to be a part of this bow."""
        entry = data["bow"].entry if data.get("bow") else data.get("entry")
        if entry is None:
            return
        roles = set(entry.parts.values_list("role", flat=True))
        for service in (SERVICES[key] for key in data.get("services", [])):
            if service.replaces and service.replaces not in roles:
                self.add_error("services", f"{entry} has no such part: {service.name.lower()}.")

    def _require_in_range(self, data: dict[str, Any]) -> None:
        entry = data.get("entry")
        if not entry:
            return
        for name, low, high, unit in (
            ("marked_weight_lbf", entry.weight_from_lbf, entry.weight_to_lbf, "lbf"),
            ("marked_draw_in", entry.draw_from_in, entry.draw_to_in, "in"),
        ):
            value = data.get(name)
            if value and not low <= value <= high:
                published = f"{low.normalize():f} to {high.normalize():f} {unit}"
                self.add_error(name, f"The published specs go from {published}.")
