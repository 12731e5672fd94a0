"""What is posted about arrows."""

from typing import Any

from django import forms

from bowcore.accessories.arrow import class_of_spine
from bowcore.accessories.arrow_build import (
    LEAST_CLEARANCE_IN,
    ArrowParts,
    CarbonState,
    SetArrow,
    cut_to_in,
)
from bowcore.errors import BadInput
from shop.casework.action_view import SubmissionForm
from shop.casework.forms import RowsForm
from shop.stages.arrow.actions import BuiltArrow
from shop.ui.form_fields import LengthField, SignedLengthField

CARBON_WORDS = {
    CarbonState.NOT_YET: "not flexed yet", CarbonState.SOUND: "sound", CarbonState.CREAKS: "creaks",
}  # fmt: skip
LEAST_GR, MOST_GR = 50.0, 1500.0
PARTS_ASKED = (
    ("draw_length", "Draw length", "in"), ("rest_ahead", "Rest ahead of the throat", "in, − behind it"),
    ("clearance", "Shaft ahead of the rest at full draw", "in"),
    ("length", "Length, if it is cut already", "in"), ("shaft_gr_per_in", "Bare shaft", "gr an inch"),
    ("shaft_in", "Shaft's diameter", "in"), ("point", "Point", "gr"), ("insert", "Insert", "gr"),
    ("nock", "Nock", "gr"), ("fletching", "Fletching", "gr"), ("wrap", "Wrap", "gr"),
)  # fmt: skip
"""Field, label, unit."""


def _grains(required: bool = False) -> forms.FloatField:
    return forms.FloatField(required=required, min_value=0, max_value=MOST_GR)


class PartsForm(forms.Form):
    """An arrow's parts; without a length it is cut for the draw length."""

    name = forms.CharField(required=False, max_length=80)
    spine = forms.CharField(required=False, max_length=20)
    draw_length = LengthField(required=False, max_length=20)
    rest_ahead = SignedLengthField(required=False, max_length=20)
    clearance = LengthField(required=False, max_length=20)
    length = LengthField(required=False, max_length=20)
    shaft_in = LengthField(required=False, max_length=20)
    shaft_gr_per_in = forms.FloatField(min_value=0, max_value=30)
    point = _grains(required=True)
    insert, nock, fletching, wrap = _grains(), _grains(), _grains(), _grains()

    def __init__(self, *args: Any, **options: Any):
        super().__init__(*args, **options)
        for name, label, _ in PARTS_ASKED:
            self.fields[name].label = label

    def cut_in(self) -> float | None:
        """Where it is cut by the draw length; None while that is not known. [in]"""
        data = self.cleaned_data
        if data["draw_length"] is None:
            return None
        clearance = LEAST_CLEARANCE_IN if data["clearance"] is None else float(data["clearance"])
        return cut_to_in(float(data["draw_length"]), float(data["rest_ahead"] or 0), clearance)

    def parts(self) -> ArrowParts:
        """What it is made of.

        Raises
        ------
        BadInput
            Neither a length nor a draw length, or a figure that no arrow has.
        """
        data = self.cleaned_data
        length = self.cut_in() if data["length"] is None else float(data["length"])
        if length is None:
            raise BadInput("How long is it? Write its length, or the draw length.", "length")
        return ArrowParts(
            length, data["shaft_gr_per_in"], data["point"],
            *(data[name] or 0.0 for name in ("insert", "nock", "fletching", "wrap")),
        )  # fmt: skip

    def chosen_spine(self) -> float | None:
        """The class that was chosen; None where it is not a plain number."""
        return class_of_spine(self.cleaned_data["spine"]) or None


class BuildForm(SubmissionForm, PartsForm):
    """The arrow that the bow is to be set up for."""

    def built(self) -> BuiltArrow:
        """It, with its parts.

        Raises
        ------
        BadInput
            Its diameter is missing, or `parts` cannot be used.
        """
        data = self.cleaned_data
        if data["shaft_in"] is None:
            raise BadInput("What is the shaft's diameter?", "shaft_in")
        return BuiltArrow(
            data["name"].strip(), self.parts(), float(data["shaft_in"]), data["spine"].strip()
        )


class SetRowForm(forms.Form):
    """One arrow of a set; an empty row is passed over."""

    number = forms.CharField(required=False, max_length=10, label="Number")
    mass = forms.FloatField(required=False, min_value=LEAST_GR, max_value=MOST_GR, label="Mass")
    spine = forms.FloatField(required=False, min_value=0, max_value=2000, label="Spine")
    carbon = forms.ChoiceField(
        choices=[(one.value, words) for one, words in CARBON_WORDS.items()], required=False
    )


class SetForm(RowsForm):
    """A set as it was weighed."""

    row_form = SetRowForm
    prefix_of_rows = "arrows"

    name = forms.CharField(required=False, max_length=80)

    def arrows(self) -> list[SetArrow]:
        """Every row with a mass."""
        return [_set_arrow(row) for row in self.cleaned_rows() if row.get("mass")]


def _set_arrow(row: dict[str, Any]) -> SetArrow:
    carbon = CarbonState(row["carbon"] or CarbonState.NOT_YET.value)
    return SetArrow(row["number"].strip(), row["mass"], row["spine"] or 0.0, carbon)
