"""What the screens of a job post: parsed and checked here, never judged here."""

from datetime import date
from decimal import Decimal
from typing import Any

from django import forms
from django.utils import timezone

from bowcore.errors import Unreadable
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.weights import parse_weight
from bowcore.service.needs import FITTED, PATHS
from bowcore.service.order import ReplaceSchool
from bowcore.service.tug import Tug
from shop.accounts.models import Member
from shop.bench.actions.check_in import Intake
from shop.bench.actions.check_part import Tugged
from shop.bench.actions.take_reading import Typed, decimal
from shop.book.models import BookEntry
from shop.bows.models import Bow
from shop.customers.models import Customer
from shop.records.deeds import Stamp


class LengthField(forms.CharField):
    """A length as people say it; cleans to a Decimal of inches."""

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        if not text:
            return None
        try:
            return decimal(parse_inches(text).value)
        except Unreadable as error:
            raise forms.ValidationError(str(error)) from None


class WeightField(forms.CharField):
    """A weight as a scale shows it; cleans to a Decimal of pounds."""

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        if not text:
            return None
        try:
            return decimal(parse_weight(text).value).quantize(Decimal("0.01"))
        except Unreadable as error:
            raise forms.ValidationError(str(error)) from None


class StampedForm(forms.Form):
    """Every post carries a key (one fact) and the version of the job that was on screen."""

    key = forms.UUIDField(widget=forms.HiddenInput)
    seen = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    def stamp(self, by: Member) -> Stamp:
        return Stamp(by, self.cleaned_data["key"], self.cleaned_data["seen"])


SERVICES = [
    ("replace_cable_a", "New cable that the top cam takes up"),
    ("replace_cable_b", "New cable that the bottom cam takes up"),
    ("replace_string", "New string"),
    ("back_to_spec", "Back to spec"),
]
WAITS = [("set", "its string set"), ("arrows", "the arrows"), ("customer", "the customer")]


class CheckInForm(StampedForm):
    """The counter's questions. A known bow needs only the job's; a new one is described here."""

    bow = forms.ModelChoiceField(
        Bow.objects.select_related("customer", "entry"), required=False, widget=forms.HiddenInput
    )
    customer = forms.ModelChoiceField(
        Customer.objects.all(), required=False, widget=forms.HiddenInput
    )
    customer_name = forms.CharField(max_length=80, required=False, label="Customer")
    customer_phone = forms.CharField(max_length=40, required=False, label="Phone")
    entry = forms.ModelChoiceField(
        BookEntry.objects.all(), required=False, label="Bow, from the book", empty_label="choose"
    )
    tag = forms.CharField(max_length=40, required=False, label="Told apart by")
    hand = forms.ChoiceField(
        choices=Bow.HANDS,
        required=False,
        widget=forms.RadioSelect,
        initial="right",
        label="Hand",
    )
    marked_weight_lbf = WeightField(required=False, label="Marked weight, lbf")
    marked_draw_in = LengthField(required=False, label="Marked draw length, in")
    services = forms.MultipleChoiceField(
        choices=SERVICES,
        widget=forms.CheckboxSelectMultiple,
        label="Asked for",
        error_messages={"required": "Say what the bow is here for."},
    )
    path = forms.ChoiceField(
        choices=list(PATHS.items()),
        widget=forms.RadioSelect,
        initial="carry_over",
        label="Path",
    )
    promised_on = forms.DateField(
        label="Promised for", widget=forms.DateInput({"type": "date"}, format="%Y-%m-%d")
    )
    wanted_weight_lbf = WeightField(required=False, label="Wanted weight, lbf")
    arrow_here = forms.BooleanField(required=False, label="An arrow is here")
    release_here = forms.BooleanField(required=False, label="The release is here")
    waits = forms.MultipleChoiceField(
        choices=WAITS, widget=forms.CheckboxSelectMultiple, required=False, label="Waits for"
    )
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

    def intake(self) -> Intake:
        names = [name for name in Intake.__dataclass_fields__ if name in self.cleaned_data]
        return Intake(**{name: self.cleaned_data[name] for name in names})

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
        labels = dict(SERVICES)
        for service in data.get("services", []):
            if service.startswith("replace_") and service.removeprefix("replace_") not in roles:
                self.add_error("services", f"{entry} has no such part: {labels[service].lower()}.")

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
                says = f"The book says {low.normalize():f} to {high.normalize():f} {unit}."
                self.add_error(name, says)


class ReadingForm(StampedForm):
    """One typed reading."""

    quantity = forms.CharField()
    text = forms.CharField(required=False, max_length=60)
    way = forms.CharField(required=False)
    start = forms.CharField(required=False)
    end = forms.CharField(required=False)
    sure = forms.BooleanField(required=False)
    device = forms.CharField(required=False, max_length=20)
    live_text = forms.CharField(required=False, max_length=20)
    live_way = forms.CharField(required=False, max_length=20)

    def typed(self) -> Typed:
        """What was typed; with nothing typed, what the tool on the bench showed."""
        data = dict(self.cleaned_data)
        if data["text"] or data["way"]:
            data["device"] = ""
        elif data["device"]:
            data["text"], data["way"] = data["live_text"], data["live_way"]
        return Typed(**{name: data[name] for name in Typed.__dataclass_fields__})


class MarkForm(StampedForm):
    """Something written down, not measured."""

    mark = forms.CharField(max_length=20)
    value = forms.CharField(required=False, max_length=200)


class PhotoForm(StampedForm):
    """A photograph and what it shows."""

    about = forms.CharField(max_length=20)
    photo = forms.FileField(error_messages={"required": "There was no photo in that."})


class ReasonForm(StampedForm):
    """A reason in words, for a reading that cannot be taken or a hold that is lifted."""

    quantity = forms.CharField(required=False)
    reason = forms.CharField(required=False, max_length=200)


class ReplaceForm(StampedForm):
    role = forms.CharField()


class SchoolForm(StampedForm):
    """How this job's parts are replaced."""

    school = forms.ChoiceField(choices=[(s.value, s.value) for s in ReplaceSchool])


class NewPartForm(StampedForm):
    length_in = LengthField(label="Measured length, in")
    strands = forms.IntegerField(min_value=4, max_value=60, label="Strands")
    note = forms.CharField(required=False, max_length=120, label="Maker, colour, batch")


class CheckForm(StampedForm):
    """The tug test of a new part, or why it could not be made."""

    role = forms.CharField(max_length=20)
    tug = forms.ChoiceField(choices=[(t.value, t.value) for t in Tug], required=False)
    off_mark_in = LengthField(required=False, label="How far off the mark, in")
    not_because = forms.CharField(required=False, max_length=150)

    def tugged(self) -> Tugged:
        data = self.cleaned_data
        return Tugged(
            data["role"], data["tug"], data["off_mark_in"] or Decimal(0), data["not_because"]
        )
