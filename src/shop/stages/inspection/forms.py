"""What an inspection posts: a row a place."""

from django import forms

from bowcore.stages.inspection.places import OUTCOMES
from shop.casework.forms import RowsForm
from shop.stages.inspection.actions import PlaceSeen
from shop.ui.form_fields import TextListField


class PlaceForm(forms.Form):
    """What was seen at one place."""

    place = forms.CharField(max_length=20)
    outcome = forms.ChoiceField(
        choices=list(OUTCOMES.items()),
        error_messages={"required": "Say what was seen at every place."},
    )
    note = forms.CharField(required=False, max_length=200)
    parts = TextListField(required=False)


class InspectionForm(RowsForm):
    """Every place."""

    row_form = PlaceForm
    prefix_of_rows = "place"

    def places(self) -> list[PlaceSeen]:
        """What was seen, place by place."""
        return [
            PlaceSeen(row["place"], row["outcome"], row["note"], tuple(row["parts"]))
            for row in self.cleaned_rows()
        ]
