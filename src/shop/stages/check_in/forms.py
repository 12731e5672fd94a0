"""The questions of check-in."""

from collections.abc import Collection
from dataclasses import fields
from datetime import date
from typing import Any, ClassVar

from django import forms
from django.utils import timezone

from bowcore.bow.specification import Family
from bowcore.work_order.holds import HOLDS
from bowcore.work_order.needs import FITTED, PATHS
from bowcore.work_order.services import SERVICES
from shop.book.actions import UnknownModel
from shop.book.selectors import book_here, roles_of
from shop.casework.action_view import SubmissionForm
from shop.schema.accounts.models import Member
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.stages.check_in.actions.check_in import CheckInAnswers
from shop.stages.check_in.actions.order import Order
from shop.ui.form_fields import LengthField, RowField, SignedLengthField, WeightField

_UNLISTED = {
    "new_maker": "Who made it?", "new_model": "Which model?", "new_family": "Which cams?",
    "new_ata_in": "How long, axle to axle?", "new_brace_in": "How high is the brace?",
}  # fmt: skip
"""What is asked of a model that is not in the book."""
_ON_EVERY_BOW = {
    "marked_weight_lbf": "What does the sticker say?", "marked_draw_in": "What does the sticker say?",
    "hand": "Which hand?",
}  # fmt: skip


def _offer(form: forms.Form, roles: Collection[str]) -> None:
    field = form.fields["services"]
    assert isinstance(field, forms.MultipleChoiceField)
    field.choices = [
        (one.key, one.name)
        for one in SERVICES.values()
        if not one.replaces or one.replaces in roles
    ]


class CheckInForm(SubmissionForm):
    """A known bow needs only the job's questions; a new one is described here."""

    NEEDED: ClassVar[tuple[str, ...]] = ("customer_name", *_ON_EVERY_BOW, "promised_on")
    """Marked on the screen: a bow is not checked in without them."""

    bow = RowField(
        lambda: Bow.objects.select_related("customer", "entry"),
        required=False,
        widget=forms.HiddenInput,
    )
    customer = RowField(Customer.objects.all, required=False, widget=forms.HiddenInput)
    customer_name = forms.CharField(max_length=80, required=False, label="Customer")
    customer_phone = forms.CharField(max_length=40, required=False, label="Phone")
    entry = RowField(book_here, required=False, label="Bow model", empty_label="choose")
    new_maker = forms.CharField(max_length=40, required=False, label="Maker")
    new_model = forms.CharField(max_length=40, required=False, label="Model")
    new_family = forms.ChoiceField(
        choices=[("", "choose"), *((f.value, f"{f.value} cams") for f in Family)],
        required=False, label="Cams",
    )  # fmt: skip
    new_ata_in = LengthField(required=False, label="Axle to axle")
    new_brace_in = LengthField(required=False, label="Brace height")
    tag = forms.CharField(max_length=40, required=False, label="Serial no. or markings")
    hand = forms.ChoiceField(
        choices=Bow.HANDS, required=False, widget=forms.RadioSelect, initial="right", label="Hand"
    )
    marked_weight_lbf = WeightField(required=False, label="Sticker weight, lbf")
    marked_draw_in = LengthField(required=False, label="Sticker draw")
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
    wanted_draw_in = LengthField(required=False, label="Wanted draw length")
    fitted = forms.MultipleChoiceField(
        choices=[(f.key, f.name) for f in FITTED], widget=forms.CheckboxSelectMultiple,
        required=False, label="On the bow",
    )  # fmt: skip
    arrows = forms.CharField(required=False, max_length=120, label="Arrows")
    release = forms.CharField(required=False, max_length=60, label="Release")
    brought = forms.CharField(required=False, max_length=200, label="What else came with it")
    note = forms.CharField(required=False, label="Note", widget=forms.Textarea({"rows": 2}))

    def offer(self, roles: Collection[str]) -> None:
        """Only parts that the chosen bow has are offered."""
        _offer(self, roles)

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
        data = self.cleaned_data
        names = [name for name in CheckInAnswers.__dataclass_fields__ if name in data]
        return CheckInAnswers(unknown=self._unknown(), **{name: data[name] for name in names})

    def _unknown(self) -> UnknownModel | None:
        """A model that is not in the book, if one was named."""
        data = self.cleaned_data
        if data.get("bow") or data.get("entry") or not data.get("new_model"):
            return None
        return UnknownModel(
            data["new_maker"],
            data["new_model"],
            Family(data["new_family"]),
            data["new_ata_in"],
            data["new_brace_in"],
        )

    def _require_new_bow(self, data: dict[str, Any]) -> None:
        if not data.get("customer") and not data.get("customer_name"):
            self.add_error("customer_name", "Whose bow is it?")
        unlisted = any(data.get(name) for name in _UNLISTED) and not data.get("entry")
        questions = _ON_EVERY_BOW | (_UNLISTED if unlisted else {"entry": "Which bow is it?"})
        for name, question in questions.items():
            if not data.get(name) and name not in self.errors:
                self.add_error(name, question)
        self._require_in_range(data)

    def _require_parts(self, data: dict[str, Any]) -> None:
        """What is to be replaced has to be a part of this bow."""
        entry = data["bow"].entry if data.get("bow") else data.get("entry")
        if entry is None:
            return
        roles = roles_of(entry)
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


class AgreedForm(SubmissionForm):
    """What was agreed at the counter, changed later."""

    SAME: ClassVar[tuple[str, ...]] = (
        "promised_on", "services", "path", "fitted", "arrows", "arrow_here", "release", "release_here",
        "brought", "note", "assigned_to",
    )  # fmt: skip
    """Fields that the job keeps as the form has them."""

    promised_on = forms.DateField(
        label="Due", widget=forms.DateInput({"type": "date"}, format="%Y-%m-%d")
    )
    assigned_to = RowField(
        Member.working_here, required=False, label="Assigned to", empty_label="anybody"
    )
    phone = forms.CharField(max_length=40, required=False, label="Phone")
    tag = forms.CharField(max_length=40, required=False, label="Serial no. or markings")
    services = forms.MultipleChoiceField(
        choices=[(one.key, one.name) for one in SERVICES.values()],
        widget=forms.CheckboxSelectMultiple, label="Asked for",
        error_messages={"required": "Choose what the bow is here for."},
    )  # fmt: skip
    path = forms.ChoiceField(
        choices=list(PATHS.items()), widget=forms.RadioSelect, label="How it is set up"
    )
    wanted_weight_lbf = WeightField(required=False, label="Wanted weight, lbf")
    wanted_draw_in = LengthField(required=False, label="Wanted draw length")
    wanted_gap_in = SignedLengthField(required=False, label="Wanted gap by feel")
    fitted = forms.MultipleChoiceField(
        choices=[(f.key, f.name) for f in FITTED], widget=forms.CheckboxSelectMultiple,
        required=False, label="On the bow",
    )  # fmt: skip
    arrows = forms.CharField(required=False, max_length=120, label="Arrows")
    arrow_here = forms.BooleanField(required=False, label="An arrow is here")
    release = forms.CharField(required=False, max_length=60, label="Release")
    release_here = forms.BooleanField(required=False, label="The release is here")
    brought = forms.CharField(required=False, max_length=200, label="What else came with it")
    note = forms.CharField(required=False, label="Note", widget=forms.Textarea({"rows": 2}))

    def offer(self, roles: Collection[str]) -> None:
        """Only parts that this bow has are offered."""
        _offer(self, roles)

    def order(self) -> Order:
        """As the action takes it."""
        return Order(**{one.name: self.cleaned_data[one.name] for one in fields(Order)})


class PartToAddForm(SubmissionForm):
    """A string or cable, by its role."""

    role = forms.CharField(max_length=20)
