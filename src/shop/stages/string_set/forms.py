"""What the set step posts: the order, what came, what is moved over."""

from typing import Any

from django import forms

from bowcore.stages.string_set.arrival import Contact
from bowcore.work_order.supply import Supply
from shop.casework.action_view import SubmissionForm
from shop.casework.forms import RowsForm
from shop.stages.string_set.actions import MeasuredComponent, SetOrder
from shop.ui.form_fields import LayField, LengthField, TextListField


class SupplyForm(forms.Form):
    """Where one new part comes from."""

    role = forms.CharField(max_length=20)
    source = forms.ChoiceField(choices=[(one.value, one.value) for one in Supply])


class OrderForm(RowsForm):
    """Where each new part comes from, and from whom the others are ordered."""

    row_form = SupplyForm
    prefix_of_rows = "supply"

    maker = forms.CharField(required=False, max_length=60)
    wishes = forms.CharField(required=False, max_length=200)
    wanted_by = forms.DateField(required=False)

    def order(self) -> SetOrder:
        """As the action takes it."""
        data = self.cleaned_data
        supply = {row["role"]: Supply(row["source"]) for row in self.cleaned_rows()}
        return SetOrder(data["maker"], data["wishes"], data["wanted_by"], supply)


class MoveOverForm(SubmissionForm):
    """What is moved over to the new set."""

    fittings = TextListField(required=False)
    note = forms.CharField(required=False, max_length=120)


class ComponentForm(forms.Form):
    """One component on the bench."""

    role = forms.CharField(max_length=20)
    length_in = LengthField(label="Length", error_messages={"required": "Measure every component."})
    strands = forms.IntegerField(
        label="Strands", error_messages={"invalid": "How many strands? Write a whole number."}
    )
    served_top_in = LengthField(required=False, label="Served, top")
    served_bottom_in = LengthField(required=False, label="Served, bottom")
    clipped = forms.BooleanField(required=False)
    lay = LayField()


class ArrivalForm(RowsForm):
    """A set on the bench, and what must meet a served zone."""

    row_form = ComponentForm
    prefix_of_rows = "component"

    clamp_in = LengthField(required=False, label="Rest cord's clamp from the top end")
    clamp_role = forms.CharField(required=False, max_length=20)
    stop_in = LengthField(required=False, label="Draw stop from the top end")
    stop_role = forms.CharField(required=False, max_length=20)

    def measured(self) -> list[MeasuredComponent]:
        """Every component as it was measured."""
        return [MeasuredComponent(**row) for row in self.cleaned_rows()]

    def contacts(self) -> list[Contact]:
        """What meets the new parts, where it was said."""
        data: dict[str, Any] = self.cleaned_data
        return [
            Contact(name, data[f"{key}_role"], float(data[f"{key}_in"]))
            for key, name in (("clamp", "The rest cord's clamp"), ("stop", "The draw stop"))
            if data[f"{key}_in"] and data[f"{key}_role"]
        ]
