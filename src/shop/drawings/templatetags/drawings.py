"""Choices that are made by a picture."""

from typing import Any

from django import template

from bowcore.bow.lay import LIKE, Lay
from shop.drawings.lay import lay_picture

register = template.Library()


@register.inclusion_tag("drawings/lay.html")
def lay_choice(name: str, chosen: str = "", keys: bool = False) -> dict[str, Any]:
    """How the threads of a string or cable run, chosen by picture, never by left and right."""
    lays = [(lay.value, LIKE[lay], lay_picture(lay)) for lay in Lay]
    return {"name": name, "chosen": chosen, "keys": keys, "lays": lays}
