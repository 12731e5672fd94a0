"""What is posted about the fit."""

from django import forms

from bowcore.adjusters.rest_move import MOST_REST_STEPS
from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput
from bowcore.quantities.catalogue import FITTED_TO_SHOOT, QUANTITIES
from bowcore.quantities.entries import read_both, read_entry
from shop.casework.action_view import SubmissionForm

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


class BeingTypedForm(forms.Form):
    """A reading of the fit while it is typed: the drawing shows it before it is saved."""

    quantity = forms.ChoiceField(choices=[(key, key) for key in FITTED_TO_SHOOT])
    text = forms.CharField(max_length=40, required=False)
    other = forms.CharField(max_length=40, required=False)
    direction = forms.CharField(max_length=20, required=False)

    def typed(self) -> dict[str, float]:
        """What it would be, by quantity; empty while it cannot be read yet, or is nothing that a bow has."""
        given = self.cleaned_data
        what = QUANTITIES[given["quantity"]]
        try:
            entry = (
                read_both(what, given["text"], given["other"])
                if what.two
                else read_entry(what, given["text"], given["direction"])
            )
        except BadInput:
            return {}
        least, most = what.limits
        return {what.key: float(entry.value)} if least <= entry.value <= most else {}


class FitActForm(SubmissionForm):
    """An act of the fit that was done, or is to be done in the press."""

    sets = forms.CharField(max_length=40)
