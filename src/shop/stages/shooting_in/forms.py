"""What is posted at the paper."""

from typing import Any

from django import forms

from bowcore.accessories.arrow import SOFTEST, STIFFEST
from bowcore.evidence.shots import FARTHEST_YD, MOST_OFF_IN, ShaftKind, ShotTest
from bowcore.evidence.tears import SHEET_IN, Holes
from bowcore.stages.shooting_in.butt import BUTT_TESTS
from bowcore.stages.shooting_in.flat_sheet import PixelPlace, TappedCorners, corners_of
from bowcore.stages.shooting_in.suspects import SUSPECTS
from shop.casework.action_view import SubmissionForm
from shop.casework.photos.shrink import LONGEST_SIDE
from shop.stages.shooting_in.actions import ShotTyped
from shop.ui.form_fields import LengthField


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

    sheet = forms.IntegerField(required=False, min_value=1, max_value=10**15)
    shooter = forms.CharField(max_length=80, required=False)
    arrow = forms.CharField(max_length=80, required=False)
    spine = forms.FloatField(min_value=STIFFEST, max_value=SOFTEST, required=False)
    bad = forms.BooleanField(required=False)

    def shot(self) -> ShotTyped:
        """What was shot."""
        data = self.cleaned_data
        x, y = self.holes().tear
        return ShotTyped(
            x,
            y,
            data["shooter"].strip(),
            data["arrow"].strip(),
            not data["bad"],
            sheet=data["sheet"],
            spine=data["spine"] or 0.0,
        )


class ButtShotForm(SubmissionForm):
    """An impact on the butt, x to the right and y up, in inches from the point aimed at."""

    test = forms.ChoiceField(choices=[(key.value, words) for key, words in BUTT_TESTS.items()])
    distance = forms.FloatField(min_value=1, max_value=FARTHEST_YD)
    kind = forms.ChoiceField(choices=[(one.value, one.value) for one in ShaftKind])
    impact_x = forms.FloatField(min_value=-MOST_OFF_IN, max_value=MOST_OFF_IN)
    impact_y = forms.FloatField(min_value=-MOST_OFF_IN, max_value=MOST_OFF_IN)
    sheet = forms.IntegerField(required=False, min_value=1, max_value=10**15)
    bad = forms.BooleanField(required=False)

    def shot(self) -> ShotTyped:
        """What was shot."""
        data = self.cleaned_data
        return ShotTyped(
            data["impact_x"], data["impact_y"], good=not data["bad"], test=ShotTest(data["test"]),
            distance_yd=data["distance"], kind=ShaftKind(data["kind"]), sheet=data["sheet"],
        )  # fmt: skip


PLACES_TAPPED = ("first", "second", "third", "fourth", "middle")
"""Four corners in turn, then what becomes the middle."""


class CornersForm(SubmissionForm):
    """Five places tapped in a photo, x to the right and y up from its top left corner, in pixels; and what
    the corners enclose."""

    wide = LengthField(max_length=20)
    high = LengthField(max_length=20)

    def __init__(self, *args: Any, **options: Any):
        super().__init__(*args, **options)
        for name in PLACES_TAPPED:
            self.fields[f"{name}_x"] = forms.FloatField(min_value=0, max_value=LONGEST_SIDE)
            self.fields[f"{name}_y"] = forms.FloatField(min_value=-LONGEST_SIDE, max_value=0)

    def tapped(self) -> TappedCorners:
        """The corners; BadInput where they cross."""
        data = self.cleaned_data
        corners = corners_of([self._place(name) for name in PLACES_TAPPED[:4]])
        return TappedCorners(corners, float(data["wide"]), float(data["high"]))

    def middle(self) -> PixelPlace:
        """What becomes the middle. [pixels]"""
        return self._place(PLACES_TAPPED[4])

    def _place(self, name: str) -> PixelPlace:
        return self.cleaned_data[f"{name}_x"], -self.cleaned_data[f"{name}_y"]


class ButtTapForm(SubmissionForm):
    """The taps that a test on the butt asks for."""

    test = forms.ChoiceField(choices=[(key.value, words) for key, words in BUTT_TESTS.items()])


class LookedAtForm(SubmissionForm):
    """A suspect that was looked at, or mended."""

    suspect = forms.ChoiceField(choices=[(one.key, one.name) for one in SUSPECTS])
    found = forms.BooleanField(required=False)
    mended = forms.BooleanField(required=False)
    test = forms.ChoiceField(
        choices=[(key.value, words) for key, words in BUTT_TESTS.items()], required=False
    )
    """From whose page of the butt it is posted, if from any."""
