"""Template tags that every screen uses: numbers as people say them, stamps of forms, fields."""

import uuid
from fractions import Fraction
from typing import Any

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from bowcore.quantities.catalogue import QUANTITIES, Quantity
from bowcore.quantities.inches import as_mixed, say_inches

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
        whole, mixed.top, mixed.bottom, mixed.top, mixed.bottom,
    )  # fmt: skip


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
    if what.ways:
        return _with_way(value, what)
    if what.unit == "in":
        return inches(value, max(what.tool.denominator, 16))
    return format_html("{}", what.say(value))


def _with_way(value: float, what: Quantity) -> SafeString:
    """A size with the words of its direction, the fraction set as one."""
    before, _, after = what.way(value).says.partition("{}")
    if not after and not before.endswith(" "):
        return format_html('<span class="word">{}</span>', before)
    return format_html(
        '<span class="word">{}</span>{} <span class="word">{}</span>',
        before, inches(abs(value), 64), after.strip(),
    )  # fmt: skip


@register.simple_tag
def new_key() -> str:
    """A key that makes one post one fact, where there is no form to stamp."""
    return str(uuid.uuid4())


@register.filter
def live(value: float, quantity: Quantity) -> SafeString:
    """What a tool shows of a quantity with two directions, in decimals as it does."""
    way = quantity.way(value)
    return format_html("{}", way.says.format(f"{abs(value):.3f}"))


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
