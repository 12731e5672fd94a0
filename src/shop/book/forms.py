"""The book's forms: values are parsed here and judged by the same checks as an import."""

from decimal import Decimal
from typing import Any

from django import forms

from bowcore.errors import BadInput
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.units import LengthUnit
from shop.book.shapes import ROLES, entry_fields, may_be_unknown
from shop.book.transfer import as_dict, judged
from shop.schema.book.models import BookEntry

_LENGTHS = {
    "axle_to_axle_in", "brace_height_in", "draw_from_in", "draw_to_in", "top_first_in",
    "ata_tolerance_in", "brace_tolerance_in", "length_in", "served_top_in", "served_bottom_in",
    "peg_radius_in", "take_up_radius_in", "let_out_radius_in", "centre_shot_in",
}  # fmt: skip
_LABELS = {
    "axle_to_axle_in": "Axle to axle, in", "brace_height_in": "Brace height, in",
    "draw_from_in": "Draw from, in", "draw_to_in": "Draw to, in",
    "weight_from_lbf": "Weight from, lbf", "weight_to_lbf": "Weight to, lbf",
    "let_off": "Let-off, as a share", "peg_radius_in": "Stop peg radius, in",
    "take_up_radius_in": "Take-up radius, in", "let_out_radius_in": "Let-out radius, in",
    "bolt_turns_max": "Limb bolts out at most, turns", "two_stage": "Two-stage pressing allowed",
    "back_off": "Limb bolts backed off in any press",
    "stop_on": "Draw stop on the", "lean_by": "Lean adjusted by",
    "rest_hole": "Nock height from the rest hole's",
    "centre_shot_in": "Centre shot from the riser's face, in",
    "top_first_in": "Top stop first by, in", "ata_tolerance_in": "Axle to axle ±, in",
    "brace_tolerance_in": "Brace ±, in", "weight_tolerance_lbf": "Weight ±, lbf",
    "evidence": "Source", "length_in": "Length, in", "twists_per_in": "Twists per inch",
    "served_top_in": "Served from the top, in", "served_bottom_in": "Served from the bottom, in",
    "axle_out": "The axle comes out for it", "guard": "Cable guard",
    "ends": "From where to where", "shim_kits": "Shim kits", "modules": "Modules or holes",
}  # fmt: skip


def number(name: str, text: str) -> float | None:
    """A typed number; lengths as people say them."""
    if not text.strip():
        return None
    if name in _LENGTHS:
        return float(parse_inches(text, plain=LengthUnit.INCHES).value)
    try:
        return float(Decimal(text.strip()))
    except ArithmeticError:
        raise BadInput(f"“{text}” is not a number.", name) from None


class NumberField(forms.CharField):
    """A number or a length with its fraction; cleans to a float."""

    def __init__(self, name: str, **kwargs: Any):
        super().__init__(label=_LABELS.get(name, name.replace("_", " ").capitalize()), **kwargs)
        self._name = name

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        try:
            return number(self._name, text)
        except BadInput as error:
            raise forms.ValidationError(str(error)) from None


class EntryForm(forms.Form):
    """An entry's own fields, made from the model's."""

    def __init__(self, *args: Any, **kwargs: Any):
        super().__init__(*args, **kwargs)
        for name in entry_fields():
            self.fields[name] = _field_of(name)
        self.fields["why"] = forms.CharField(max_length=200, label="Where the numbers come from")

    def first_fields(self) -> list[Any]:
        """Everything but the long texts, which are below."""
        return [self[name] for name in self.fields if name not in ("note", "why", "shim_kits")]

    def values(self) -> dict[str, Any]:
        """What was filled in; what may be unknown and is empty stays unknown."""
        data = {name: self.cleaned_data[name] for name in entry_fields()}
        return {n: v for n, v in data.items() if v is not None or may_be_unknown(n)}


class PartForm(forms.Form):
    """One string or cable; a row without a length is not on this bow."""

    label = forms.CharField(max_length=40, required=False, label="Name")
    ends = forms.CharField(max_length=80, required=False, label=_LABELS["ends"])

    def __init__(self, *args: Any, role: str, **kwargs: Any):
        kwargs["prefix"] = role
        super().__init__(*args, **kwargs)
        self.role = role
        for name in ("length_in", "strands", "twists_per_in", "served_top_in", "served_bottom_in"):
            self.fields[name] = NumberField(name, required=False)
        self.fields["axle_out"] = forms.BooleanField(required=False, label=_LABELS["axle_out"])

    def values(self) -> dict[str, Any] | None:
        data = {n: v for n, v in self.cleaned_data.items() if v not in (None, "")}
        if not data.get("length_in"):
            return None
        if "strands" in data:
            data["strands"] = int(data["strands"])
        return {"role": self.role} | data


def forms_for(entry: BookEntry | None, post: Any = None) -> tuple[EntryForm, list[PartForm]]:
    """The forms of an entry, filled from it or from what was posted."""
    initial = as_dict(entry) if entry else {}
    parts = {part["role"]: part for part in initial.pop("parts", [])}
    head = EntryForm(post, initial=initial)
    return head, [PartForm(post, role=role, initial=parts.get(role, {})) for role in ROLES]


def whole(head: EntryForm, parts: list[PartForm]) -> tuple[dict[str, Any], list[str]]:
    """The entry as the book takes it, and what is wrong with it."""
    if not all([head.is_valid(), *(part.is_valid() for part in parts)]):
        return {}, ["Some fields were not understood. Each says why."]
    data = head.values() | {"parts": [v for part in parts if (v := part.values())]}
    return data, list(judged(0, data).problems)


def _field_of(name: str) -> forms.Field:
    model = BookEntry._meta.get_field(name)
    label = _LABELS.get(name, name.capitalize())
    if getattr(model, "choices", None):
        return forms.ChoiceField(choices=list(model.choices), label=label)  # type: ignore[union-attr,arg-type]
    if name in ("two_stage", "back_off"):
        return forms.BooleanField(required=False, label=label)
    if name in ("note", "shim_kits"):
        return forms.CharField(required=False, label=label, widget=forms.Textarea({"rows": 2}))
    if name in ("maker", "model", "modules"):
        return forms.CharField(max_length=model.max_length, required=name != "modules", label=label)  # type: ignore[union-attr]
    return NumberField(name, required=not may_be_unknown(name))
