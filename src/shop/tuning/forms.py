"""What is posted at the paper."""

from django import forms

from bowcore.diagnosis.suspects import SUSPECTS
from bowcore.diagnosis.tears import SHEET_IN, Holes
from shop.jobs.action_view import SubmissionForm
from shop.tuning.actions import ShotTyped


def _place() -> forms.FloatField:
    return forms.FloatField(min_value=-SHEET_IN, max_value=SHEET_IN)


class HolesForm(forms.Form):
    """Two holes on a sheet, x to the right and y up, in inches from its middle."""

    point_x = _place()
    point_y = _place()
    nock_x = _place()
    nock_y = _place()

    def holes(self) -> Holes:
        """Where the holes are; BadInput if they are not on one sheet."""
        return Holes(**{name: self.cleaned_data[name] for name in HolesForm.base_fields})


class ShotForm(SubmissionForm, HolesForm):
    """A shot through paper."""

    shooter = forms.CharField(max_length=80, required=False)
    arrow = forms.CharField(max_length=80, required=False)
    bad = forms.BooleanField(required=False)

    def shot(self) -> ShotTyped:
        """What was shot."""
        data = self.cleaned_data
        return ShotTyped(
            self.holes(), data["shooter"].strip(), data["arrow"].strip(), not data["bad"]
        )


class LookedAtForm(SubmissionForm):
    """A suspect that was looked at, or mended."""

    suspect = forms.ChoiceField(choices=[(one.key, one.name) for one in SUSPECTS])
    found = forms.BooleanField(required=False)
    mended = forms.BooleanField(required=False)
