"""Form fields that understand lengths and weights as people say them."""

from collections.abc import Callable
from decimal import Decimal
from fractions import Fraction
from typing import Any

from django import forms
from django.db.models import QuerySet

from bowcore.bow.lay import LIKE, Lay
from bowcore.errors import Unreadable
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.weights import parse_weight


def decimal(value: Fraction) -> Decimal:
    """An exact fraction as the database keeps it; 1/64 in has six places."""
    return Decimal(value.numerator) / Decimal(value.denominator)


class RowField(forms.ModelChoiceField):  # type: ignore[type-arg]
    """A choice among rows that are asked for when the form is made, so that they are of one shop."""

    def __init__(self, rows: Callable[[], QuerySet[Any]], **options: Any):
        super().__init__(None, **options)
        self.rows = rows

    def __deepcopy__(self, memo: dict[int, Any]) -> "RowField":
        mine: RowField = super().__deepcopy__(memo)
        mine.queryset = self.rows()
        return mine


class LengthField(forms.CharField):
    """A length as people say it; cleans to a Decimal of inches, None where nothing was typed."""

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        if not text:
            return None
        try:
            return decimal(parse_inches(text).value)
        except Unreadable as error:
            raise forms.ValidationError(str(error)) from None


class SignedLengthField(LengthField):
    """The same with a sign before it; cleans to None where nothing was typed."""

    def clean(self, value: Any) -> Any:
        text = str(value or "").strip()
        size = super().clean(text.lstrip("+-\u2212"))
        minus = text.startswith(("-", "\u2212"))
        return -size if minus and size is not None else size


class WeightField(forms.CharField):
    """A weight as a scale shows it; cleans to a Decimal of pounds, None where nothing was typed."""

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        if not text:
            return None
        try:
            return decimal(parse_weight(text).value).quantize(Decimal("0.01"))
        except Unreadable as error:
            raise forms.ValidationError(str(error)) from None


class LayField(forms.ChoiceField):
    """How the threads of a string or cable run; empty where nobody has looked."""

    def __init__(self) -> None:
        choices = [("", "not looked at"), *((lay.value, LIKE[lay]) for lay in Lay)]
        super().__init__(choices=choices, required=False, label="Its threads run")


class TextListField(forms.MultipleChoiceField):
    """Several texts under one name; the action judges them."""

    def valid_value(self, value: str) -> bool:
        return True
