"""What the plan and the bow's page post."""

from django import forms

from bowcore.bow.cam_radii import RADII, CamRadii
from shop.casework.action_view import SubmissionForm
from shop.ui.form_fields import LengthField


class PolicyForm(SubmissionForm):
    """One of the shop's choices, the other way on this job."""

    name = forms.CharField(max_length=20)
    value = forms.BooleanField(required=False)


class CorrectChangeForm(SubmissionForm):
    """The last change is corrected to what the bow shows, or it was as written."""

    as_written = forms.BooleanField(required=False)


class CurveForm(SubmissionForm):
    """A force-draw curve as a file; none when it comes from the draw board."""

    file = forms.FileField(required=False)


class CamForm(SubmissionForm):
    """Three radii of the cam, by caliper."""

    peg_in, take_up_in, let_out_in = (LengthField(max_length=20) for _ in range(3))
    sure = forms.BooleanField(required=False)

    def radii(self) -> CamRadii:
        """As the core takes them."""
        data = self.cleaned_data
        return CamRadii(*(float(data[name]) for name in RADII))


class FitForm(SubmissionForm):
    """Begin a fit, or stop it."""

    cancel = forms.BooleanField(required=False)


class ModuleForm(SubmissionForm):
    """The module or hole that is on now."""

    sets_to = forms.CharField(
        max_length=100, error_messages={"required": "Which module or hole is on now?"}
    )
