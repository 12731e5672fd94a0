"""Template tags that every screen uses: numbers as people say them, stamps of forms, fields."""

import uuid
from fractions import Fraction
from typing import Any

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from bowcore.quantities.catalogue import QUANTITIES, Quantity, say_gap
from bowcore.quantities.inches import as_mixed

register = template.Library()


@register.filter
def inches(value: float | Fraction | None, denominator: int = 64) -> SafeString:
    """A length with its fraction set as a fraction."""
    if value is None:
        return mark_safe("–")
    mixed = as_mixed(Fraction(value), denominator)
    sign = "−" if mixed.negative else ""
    if not mixed.top:
        return format_html("{}{}", sign, mixed.whole)
    whole = f"{sign}{mixed.whole}" if mixed.whole else sign
    return format_html(
        '{}<span class="frac" aria-label=" {}/{}"><b>{}</b><i>{}</i></span>',
        whole, mixed.top, mixed.bottom, mixed.top, mixed.bottom,
    )  # fmt: skip


@register.filter
def reading(value: float | None, quantity: Quantity | str) -> SafeString:
    """A value of a quantity, as it is read."""
    what = QUANTITIES[quantity] if isinstance(quantity, str) else quantity
    if value is None:
        return mark_safe("–")
    if what.key == "stop_gap":
        return _gap(value)
    if what.unit == "in":
        return inches(value, max(what.tool.denominator, 16))
    return format_html("{}", what.say(value))


def _gap(value: float) -> SafeString:
    if say_gap(value) == "both together":
        return mark_safe('<span class="word">together</span>')
    which = "top" if value > 0 else "bottom"
    return format_html(
        '<span class="word">{}</span> {} <span class="word">open</span>',
        which,
        inches(abs(value), 64),
    )


@register.inclusion_tag("ui/stamp.html")
def stamp(version: int = 0, form: Any = None) -> dict[str, Any]:
    """Hidden fields of every post: a key that makes it one fact, the version that was seen."""
    sent = form.data.get("key") if getattr(form, "is_bound", False) else None
    return {"key": sent or uuid.uuid4(), "seen": version}


@register.inclusion_tag("ui/field.html")
def field(bound: Any, hint: str = "") -> dict[str, Any]:
    """One labelled form field with its error; `bound` is a form's field."""
    widget = bound.field.widget
    kind = getattr(widget, "input_type", "text")
    return {"field": bound, "hint": hint, "kind": kind, "many": hasattr(widget, "option_template_name")
            and kind in ("radio", "checkbox") and hasattr(bound.field, "choices")}  # fmt: skip
