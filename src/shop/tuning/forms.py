"""What is posted at the paper."""

from django import forms

from bowcore.diagnosis.shots import FARTHEST_YD, MOST_OFF_IN, ShaftKind, ShotTest
from bowcore.diagnosis.suspects import SUSPECTS
from bowcore.diagnosis.tears import SHEET_IN, Holes
from bowcore.workflow.butt import BUTT_TESTS
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
        x, y = self.holes().tear
        return ShotTyped(x, y, data["shooter"].strip(), data["arrow"].strip(), not data["bad"])


class ButtShotForm(SubmissionForm):
    """An impact on the butt, x to the right and y up, in inches from the point aimed at."""

    test = forms.ChoiceField(choices=[(key.value, words) for key, words in BUTT_TESTS.items()])
    distance = forms.FloatField(min_value=1, max_value=FARTHEST_YD)
    kind = forms.ChoiceField(choices=[(one.value, one.value) for one in ShaftKind])
    impact_x = forms.FloatField(min_value=-MOST_OFF_IN, max_value=MOST_OFF_IN)
    impact_y = forms.FloatField(min_value=-MOST_OFF_IN, max_value=MOST_OFF_IN)
    bad = forms.BooleanField(required=False)

    def shot(self) -> ShotTyped:
        """What was shot."""
        data = self.cleaned_data
        return ShotTyped(
            data["impact_x"], data["impact_y"], good=not data["bad"], test=ShotTest(data["test"]),
            distance_yd=data["distance"], kind=ShaftKind(data["kind"]),
        )  # fmt: skip


class ButtTapForm(SubmissionForm):
    """The taps that a test on the butt asks for."""

    test = forms.ChoiceField(choices=[(key.value, words) for key, words in BUTT_TESTS.items()])


class LookedAtForm(SubmissionForm):
    """A suspect that was looked at, or mended."""

    suspect = forms.ChoiceField(choices=[(one.key, one.name) for one in SUSPECTS])
    found = forms.BooleanField(required=False)
    mended = forms.BooleanField(required=False)
