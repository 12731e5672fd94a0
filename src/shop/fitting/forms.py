"""What is posted about the fit."""

from django import forms

from bowcore.adjusters.rest_move import MOST_REST_STEPS
from bowcore.adjusters.steps import Steps
from shop.jobs.action_view import SubmissionForm

LONGEST_DETAIL = 100


def _taps() -> forms.IntegerField:
    return forms.IntegerField(required=False, min_value=-MOST_REST_STEPS, max_value=MOST_REST_STEPS)


class ThingForm(SubmissionForm):
    """Something on the bow; each detail is a field of its own name."""

    thing = forms.CharField(max_length=20)

    def typed(self) -> dict[str, str]:
        """Every detail as it was typed."""
        own = {*self.fields, "csrfmiddlewaretoken"}
        return {
            name: str(self.data[name])[:LONGEST_DETAIL] for name in self.data if name not in own
        }


class ArrowForm(SubmissionForm):
    """One of the customer's arrows."""

    arrow = forms.IntegerField(min_value=1, max_value=10**15)


class TriedForm(forms.Form):
    """Taps that somebody tries on the drawing."""

    nock_point = _taps()
    rest_up = _taps()
    rest_out = _taps()

    def steps(self) -> Steps:
        """What was set; nothing where it cannot be read."""
        return Steps({key: count for key, count in self.cleaned_data.items() if count})


class FitActForm(SubmissionForm):
    """An act of the fit that was done, or is to be done in the press."""

    sets = forms.CharField(max_length=40)
