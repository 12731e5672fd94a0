"""What the set step posts: the order, what came, what goes over."""

import re
from typing import Any

from django import forms

from bowcore.errors import BadInput
from bowcore.quantities.inches import parse_inches
from bowcore.service.arrival import Contact
from shop.bench.actions.take_reading import decimal
from shop.bench.forms import LengthField, StampedForm


class MakerForm(StampedForm):
    maker = forms.CharField(required=False, max_length=60)


class MoveForm(StampedForm):
    """What travels over to the new set: fields named fittings."""

    note = forms.CharField(required=False, max_length=120)


class ArrivalForm(StampedForm):
    """A set on the bench: fields named length-<role>, and what must meet a served zone."""

    clamp_in = LengthField(required=False, label="Rest cord's clamp from the top end, in")
    clamp_role = forms.CharField(required=False, max_length=20)
    stop_in = LengthField(required=False, label="Draw stop from the top end, in")
    stop_role = forms.CharField(required=False, max_length=20)

    def contacts(self) -> list[Contact]:
        """What meets the new parts, where it was said."""
        data = self.cleaned_data
        return [
            Contact(name, data[f"{key}_role"], float(data[f"{key}_in"]))
            for key, name in (("clamp", "The rest cord's clamp"), ("stop", "The draw stop"))
            if data[f"{key}_in"] and data[f"{key}_role"]
        ]

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        try:
            measured_of(self.data)
        except BadInput as error:
            self.add_error(None, str(error))
        return data


def measured_of(data: Any) -> list[dict[str, Any]]:
    """Every component of a posted arrival, its lengths parsed.

    Raises
    ------
    BadInput
        A length or a count that was not understood.
    """
    found = []
    for name in data:
        role = name.removeprefix("length-")
        if role == name:
            continue
        strands = str(data.get(f"strands-{role}", ""))
        if not re.fullmatch("[0-9]{1,3}", strands):
            raise BadInput(f"How many strands? “{strands}” is no count.", name)
        served = {
            f"served_{end}_in": decimal(parse_inches(text).value)
            for end in ("top", "bottom")
            if (text := data.get(f"{end}-{role}", "").strip())
        }
        length = decimal(parse_inches(data[name]).value)
        found.append({"role": role, "length_in": length, "strands": int(strands),
                      "clipped": f"clipped-{role}" in data} | served)  # fmt: skip
    return found
