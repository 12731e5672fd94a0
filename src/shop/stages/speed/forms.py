"""What is posted at the chronograph."""

from django import forms

from bowcore.stages.speed.speed_board import SPEED
from bowcore.stages.speed.speed_strings import FARTHEST_WEIGHTS_IN, HEAVIEST_GR, LIGHTEST_GR
from shop.casework.action_view import SubmissionForm
from shop.casework.readings.forms import ReadingForm
from shop.stages.speed.actions import SpeedTyped
from shop.ui.form_fields import LengthField


class SpeedForm(ReadingForm):
    """One speed: of the job's own arrow where no mass is given."""

    arrow = forms.CharField(required=False, max_length=80)
    mass = forms.FloatField(required=False, min_value=LIGHTEST_GR, max_value=HEAVIEST_GR)
    weights = LengthField(required=False, max_length=20)
    bad = forms.BooleanField(required=False)

    def clean_weights(self) -> float | None:
        """From each cam; a place that is on no string is refused. [in]"""
        value = self.cleaned_data["weights"]
        if value is not None and not 0 < value <= FARTHEST_WEIGHTS_IN:
            raise forms.ValidationError(
                f"String weights sit 0 to {FARTHEST_WEIGHTS_IN:g} in from the cam."
            )
        return None if value is None else float(value)

    def speed(self) -> SpeedTyped:
        """What was shot."""
        data = self.cleaned_data
        mass = data["mass"]
        name = data["arrow"].strip() if mass is not None else ""
        return SpeedTyped(self.reading_of(SPEED), name, mass, data["weights"], not data["bad"])


class ShotsFileForm(SubmissionForm):
    """A file of shots."""

    file = forms.FileField(error_messages={"required": "Choose a file first."})
