"""From where to where: a small bow with the two points of a quantity marked."""

from collections.abc import Callable

from django.utils.safestring import SafeString

from bowcore.quantities.catalogue import Quantity
from shop.drawings.svg import element, line, picture, text

WIDTH, HEIGHT = 200, 150
AXLE_X, TOP, BOTTOM, STRING_X, GRIP_X = 118, 22, 128, 128, 56


def points(quantity: Quantity) -> SafeString:
    """The drawing of a quantity's two points; the bow is seen from its right side."""
    draw = _SPANS.get(quantity.key, _nothing)
    label = f"{quantity.name}: {quantity.how}"
    return picture(WIDTH, HEIGHT, label, "points", [*_bow(), *draw()])


def _bow() -> list[str]:
    riser = f"M{GRIP_X + 22},30 Q{GRIP_X - 14},58 {GRIP_X},75 Q{GRIP_X - 14},92 {GRIP_X + 22},120"
    limbs = (
        f"M{GRIP_X + 22},30 Q{GRIP_X + 46},16 {AXLE_X},{TOP}",
        f"M{GRIP_X + 22},120 Q{GRIP_X + 46},134 {AXLE_X},{BOTTOM}",
    )
    cams = [element("circle", cx=AXLE_X, cy=y, r=10, class_="faint") for y in (TOP, BOTTOM)]
    paths = [element("path", d=d, class_="body") for d in (riser, *limbs)]
    return [*paths, *cams, line(STRING_X, TOP, STRING_X, BOTTOM, "body")]


def _axle_to_axle() -> list[str]:
    return [
        *_dots((AXLE_X, TOP), (AXLE_X, BOTTOM)),
        line(170, TOP, 170, BOTTOM, "span"),
        line(AXLE_X + 12, TOP, 176, TOP, "span"),
        line(AXLE_X + 12, BOTTOM, 176, BOTTOM, "span"),
    ]


def _brace_height() -> list[str]:
    return [*_dots((GRIP_X, 75), (STRING_X, 75)), line(GRIP_X, 75, STRING_X, 75, "span")]


def _nock_to_peep() -> list[str]:
    peep = element("ellipse", cx=STRING_X, cy=50, rx=4, ry=7, class_="body")
    return [
        peep,
        *_dots((STRING_X, 75), (STRING_X, 50)),
        line(152, 50, 152, 75, "span"),
        line(STRING_X, 50, 158, 50, "span"),
        line(STRING_X, 75, 158, 75, "span"),
    ]


def _drawn(words: str) -> list[str]:
    drawn = element("path", d=f"M{STRING_X},{TOP} L186,75 L{STRING_X},{BOTTOM}", class_="faint")
    return [drawn, *_dots((186, 75)), text(136, 148, words, font_size=13)]


def _nothing() -> list[str]:
    return []


def _dots(*places: tuple[int, int]) -> list[str]:
    return [element("circle", cx=x, cy=y, r=4.5, class_="dot") for x, y in places]


_SPANS: dict[str, Callable[[], list[str]]] = {
    "axle_to_axle": _axle_to_axle,
    "brace_height": _brace_height,
    "nock_to_peep": _nock_to_peep,
    "peak_weight": lambda: _drawn("on the way"),
    "holding_weight": lambda: _drawn("at the stop"),
    "stop_gap": lambda: _drawn("at the stop"),
}
