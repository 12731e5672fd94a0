"""The shop's policy as a form."""

from dataclasses import dataclass

from django import forms

from bowcore.workflow.policies import CHOICES
from shop.accounts.models import Shop

_OTHER_REASONS = {
    "back_off": "Six turns out from bottomed, counted from where they are, never past the maker's "
    "limit. Without it they are left alone in a press that holds the limb tips, unless the maker asks.",
    "second_eyes": "The gate is the last look before the load comes back on.",
}


@dataclass(frozen=True)
class ChoiceRow:
    """A yes or no of the policy, and why a shop says yes."""

    field: forms.BoundField
    why: str


class ShopForm(forms.ModelForm):  # type: ignore[type-arg]
    class Meta:
        model = Shop
        fields = [
            "name",
            "press",
            "replacement",
            "draw_in",
            "spacer_sizes",
            *_OTHER_REASONS,
            *CHOICES,
        ]

    def choices(self) -> list[ChoiceRow]:
        """Every yes or no, in order."""
        reasons = _OTHER_REASONS | {key: one.why for key, one in CHOICES.items()}
        return [ChoiceRow(self[key], why) for key, why in reasons.items()]
