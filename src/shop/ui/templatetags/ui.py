"""Template tags that every screen uses: numbers as people say them, fields of posts."""

import uuid
from collections.abc import Sized
from fractions import Fraction
from typing import Any

from django import template
from django.forms.utils import flatatt
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import as_mixed, say_inches
from bowcore.quantities.quantity import Quantity

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
        '<span class="mixed">{}<span class="frac" aria-label=" {}/{}"><b>{}</b><i>{}</i></span></span>',
        whole,
        mixed.top,
        mixed.bottom,
        mixed.top,
        mixed.bottom,
    )


@register.filter
def plain_inches(value: float | None) -> str:
    """A length as it is typed, to the nearest 1/64."""
    return "" if value is None else say_inches(float(value), 64)


@register.filter
def reading(value: float | None, quantity: Quantity | str) -> SafeString:
    """A value of a quantity, as it is read."""
    what = QUANTITIES[quantity] if isinstance(quantity, str) else quantity
    if value is None:
        return mark_safe("–")
    if what.directions:
        return _with_direction(value, what)
    if what.unit == "in":
        return inches(value, max(what.tool.denominator, 16))
    return format_html("{}", what.say(value))


def _with_direction(value: float, what: Quantity) -> SafeString:
    """A size with the words of its direction, the fraction set as one."""
    direction = what.direction(value)
    before, after = direction.around
    if not direction.sign:
        return format_html('<span class="word">{}</span>', before)
    return format_html(
        '<span class="word">{}</span>{} <span class="word">{}</span>',
        before,
        inches(abs(value), 64),
        after.strip(),
    )


@register.simple_tag
def new_key() -> str:
    """A key that makes one post one fact, where a post has no form."""
    return str(uuid.uuid4())


@register.filter
def decimals(value: float, quantity: Quantity) -> SafeString:
    """What a tool shows of a quantity with two directions, in decimals as it does."""
    direction = quantity.direction(value)
    return format_html("{}", direction.says.format(f"{abs(value):.3f}"))


@register.inclusion_tag("ui/row_count.html")
def rows_of(prefix: str, rows: Sized) -> dict[str, Any]:
    """How many rows of a formset follow."""
    return {"prefix": prefix, "count": len(rows)}


@register.filter
def row_name(prefix: str, number: int) -> str:
    """The name that a formset's row puts before its fields."""
    return f"{prefix}-{number}"


@register.inclusion_tag("ui/submission.html")
def submission(version: int = 0, form: Any = None) -> dict[str, Any]:
    """Hidden fields of every post: a key that makes it one fact, the version that was seen."""
    sent = form.data.get("key") if getattr(form, "is_bound", False) else None
    return {"key": sent or uuid.uuid4(), "seen": version}


@register.inclusion_tag("ui/field.html")
def field(bound: Any, hint: str = "") -> dict[str, Any]:
    """One labelled form field with its errors; `bound` is a form's field."""
    widget = bound.field.widget
    kind = getattr(widget, "input_type", "text")
    choices = kind in ("radio", "checkbox") and hasattr(bound.field, "choices")
    return {
        "label": bound.label,
        "control": bound,
        "id": bound.id_for_label,
        "hint": hint,
        "errors": bound.errors,
        "options": list(bound) if choices else [],
        "tick": kind == "checkbox",
    }


@register.inclusion_tag("ui/field.html")
def text_field(
    name: str, label: str, value: Any = "", hint: str = "", errors: Any = (), **attributes: Any
) -> dict[str, Any]:
    """One labelled text field that is filled from elsewhere than a form.

    Attributes become those of the input (`_` becomes `-`); `autofocus` is left out when it is false.
    """
    attributes.setdefault("id", f"field-{name}")
    attributes.setdefault("type", "text")
    named = {key.replace("_", "-"): given for key, given in attributes.items() if given != ""}
    control = format_html("<input{}>", flatatt(named | {"name": name, "value": value or ""}))
    return {
        "label": label,
        "control": control,
        "id": attributes["id"],
        "hint": hint,
        "errors": errors,
    }
