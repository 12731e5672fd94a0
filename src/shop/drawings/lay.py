"""How the threads of a string or cable run, drawn: a short piece of it from the side."""

from django.utils.safestring import SafeString

from bowcore.bow.lay import LIKE, Lay
from shop.drawings.svg import line, picture

WIDTH, HEIGHT = 56, 64
_LEFT, _RIGHT, _RISE, _GAP = 18, 38, 14, 12


def lay_picture(lay: Lay) -> SafeString:
    """An upright piece of string, its threads slanting across it."""
    edges = [line(x, 0, x, HEIGHT, "body") for x in (_LEFT, _RIGHT)]
    low, high = (_LEFT, _RIGHT) if lay is Lay.Z else (_RIGHT, _LEFT)
    threads = [line(low, y, high, y - _RISE, "body") for y in range(_RISE, HEIGHT + _RISE, _GAP)]
    return picture(WIDTH, HEIGHT, f"Threads {LIKE[lay]}", "lay", [*edges, *threads])
