"""The shop's policy as a form."""

from dataclasses import dataclass
from typing import Any

from django import forms

from bowcore.deciding.policies import CHOICES
from bowcore.quantities.catalogue import MOST_TAKES, QUANTITIES, REPEATED
from shop.accounts.selectors import shops_beside_this
from shop.schema.accounts.models import Shop

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


def _takes_field(key: str) -> str:
    return f"takes_{key}"


SHOOTING = ("paper", "last_test", "up_first", "side_first")


class ShopForm(forms.ModelForm):  # type: ignore[type-arg]
    class Meta:
        model = Shop
        fields = [
            "name",
            "press",
            "replacement",
            "lengths",
            "tears",
            *SHOOTING,
            "draw_in",
            "spacer_sizes",
            "share_models",
            *_OTHER_REASONS,
            *CHOICES,
        ]

    def __init__(self, *args: Any, **kwargs: Any):
        super().__init__(*args, **kwargs)
        if not shops_beside_this().exists():
            del self.fields["share_models"]
        for key in REPEATED:
            what = QUANTITIES[key]
            self.fields[_takes_field(key)] = forms.IntegerField(
                required=False,
                min_value=1,
                max_value=MOST_TAKES,
                label=what.name,
                initial=self.instance.takes.get(key, what.takes),
            )

    def shooting(self) -> list[forms.BoundField]:
        """How bows are shot in."""
        return [self[name] for name in SHOOTING]

    def takes(self) -> list[forms.BoundField]:
        """How often each quantity is read that is read more than once."""
        return [self[_takes_field(key)] for key in REPEATED]

    def clean(self) -> dict[str, Any]:
        data: dict[str, Any] = super().clean() or {}
        wanted = {key: data.get(_takes_field(key)) for key in REPEATED}
        self.instance.takes = {key: count for key, count in wanted.items() if count}
        return data

    def choices(self) -> list[ChoiceRow]:
        """Every yes or no, in order."""
        reasons = _OTHER_REASONS | {key: one.why for key, one in CHOICES.items()}
        return [ChoiceRow(self[key], why) for key, why in reasons.items()]


class CodeForm(forms.Form):
    """A code of the phone, or one from paper."""

    token = forms.CharField(
        max_length=20,
        label="Code",
        widget=forms.TextInput({"autocomplete": "one-time-code", "inputmode": "text"}),
        error_messages={"required": "Which code does the phone show?"},
    )
