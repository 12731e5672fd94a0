"""What is posted about a hold."""

from django import forms

from bowcore.stages.stabiliser.bars import (
    BEST_RATING,
    LONGEST_BAR_IN,
    MOST_OZ,
    WIDEST_DEG,
    Bars,
    FloatSet,
    PinFloat,
)
from shop.casework.action_view import SubmissionForm

PIN_WORDS = {
    PinFloat.STILL: "still", PinFloat.RIDES_HIGH: "rides high", PinFloat.DIPS: "dips",
    PinFloat.SIDEWAYS: "drifts sideways",
}  # fmt: skip


def _upto(most: float, required: bool = True) -> forms.FloatField:
    return forms.FloatField(required=required, min_value=0, max_value=most)


class FloatForm(SubmissionForm):
    """A hold: the bars, what the pin did, how it was rated."""

    front_in, front_oz = _upto(LONGEST_BAR_IN), _upto(MOST_OZ)
    back_in, back_oz = _upto(LONGEST_BAR_IN, False), _upto(MOST_OZ, False)
    back_deg = _upto(WIDEST_DEG, False)
    pin = forms.ChoiceField(choices=[(one.value, words) for one, words in PIN_WORDS.items()])
    rating = forms.IntegerField(min_value=1, max_value=BEST_RATING)

    def held(self) -> FloatSet:
        """The hold."""
        data = self.cleaned_data
        back = (data[name] or 0.0 for name in ("back_in", "back_oz", "back_deg"))
        bars = Bars(data["front_in"], data["front_oz"], *back)
        return FloatSet(bars, PinFloat(data["pin"]), data["rating"])
