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
from bowcore.quantities.inches import as_mixed, decimal_length, say_bare
from bowcore.quantities.quantity import Quantity
from bowcore.quantities.units import LengthUnit, length_unit
from shop.ui.form_fields import LengthField

register = template.Library()


@register.filter
def inches(value: float | Fraction | None, denominator: int = 64) -> SafeString:
    """A length in the unit in use, without it, its fraction set as a fraction."""
    if value is None:
        return mark_safe("–")
    if length_unit() is not LengthUnit.INCHES:
        return format_html("{}", say_bare(Fraction(value), denominator))
    return as_fraction(value, denominator)


@register.filter
def with_unit(value: float | Fraction | None, denominator: int = 64) -> SafeString:
    """A length with its unit, its fraction set as a fraction."""
    return format_html("{} {}", inches(value, denominator), length_unit().sign)


@register.simple_tag
def unit_of_length() -> str:
    """The sign of the unit that lengths are said in."""
    return length_unit().sign


@register.filter
def as_fraction(value: float | Fraction, denominator: int = 64) -> SafeString:
    """A number of inches, twists or turns with its fraction set as a fraction."""
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
    return "" if value is None else say_bare(float(value), 64)


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
        inches(abs(value)) if length_unit() is LengthUnit.INCHES else with_unit(abs(value)),
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
    return format_html("{}", direction.says.format(decimal_length(abs(value))))


@register.inclusion_tag("ui/row_count.html")
def rows_of(prefix: str, rows: Sized) -> dict[str, Any]:
    """How many rows of a formset follow."""
    return {"prefix": prefix, "count": len(rows)}


@register.filter
def row_name(prefix: str, number: int) -> str:
    """The name that a formset's row puts before its fields."""
    return f"{prefix}-{number}"


@register.filter
def typed_at(form: Any, prefix: str) -> dict[str, str]:
    """What was posted in the fields with that prefix, by the rest of their names; {} without a post."""
    if not getattr(form, "is_bound", False):
        return {}
    start = f"{prefix}-"
    return {
        name.removeprefix(start): form.data[name] for name in form.data if name.startswith(start)
    }


@register.simple_tag
def opened_line(lines: list[Any], refusal: Any = None) -> str:
    """Key of the line that is open: the one that was refused, else the first."""
    keys = [line.row.quantity.key for line in lines]
    refused = getattr(refusal, "path", "")
    return refused if refused in keys else next(iter(keys), "")


@register.inclusion_tag("ui/submission.html", takes_context=True)
def submission(context: Any, version: int = 0, form: Any = None) -> dict[str, Any]:
    """Hidden fields of every post: a key that makes it one fact, the version that was seen.

    What was refused keeps its key, unless the key belongs to something else that was recorded.
    """
    bound = getattr(form, "is_bound", False) and "already" not in context
    sent = form.data.get("key") if bound else None
    return {"key": sent or uuid.uuid4(), "seen": version}


@register.inclusion_tag("ui/field.html")
def field(bound: Any, hint: str = "") -> dict[str, Any]:
    """One labelled form field with its errors; `bound` is a form's field, marked if the form names it among
    what it cannot do without (`NEEDED`)."""
    widget = bound.field.widget
    kind = getattr(widget, "input_type", "text")
    choices = kind in ("radio", "checkbox") and hasattr(bound.field, "choices")
    return {
        "label": _with_unit_of(bound),
        "control": bound,
        "id": bound.id_for_label,
        "hint": hint,
        "errors": bound.errors,
        "needed": bound.name in getattr(bound.form, "NEEDED", ()),
        "options": list(bound) if choices else [],
        "tick": kind == "checkbox",
    }


def _with_unit_of(bound: Any) -> str:
    """A field's label; that of a length with the unit that is typed."""
    label = str(bound.label)
    return f"{label}, {length_unit().sign}" if isinstance(bound.field, LengthField) else label


@register.inclusion_tag("ui/field.html")
def length_text_field(name: str, label: str, *args: Any, **attributes: Any) -> dict[str, Any]:
    """A `text_field` for a length: its label says the unit that is typed."""
    return text_field(name, f"{label}, {length_unit().sign}", *args, **attributes)


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
