"""From where to where: a small bow with the two points of a quantity marked."""

from collections.abc import Callable

from django.utils.safestring import SafeString

from bowcore.quantities.quantity import Quantity
from shop.drawings.svg import element, line, picture, text

WIDTH, HEIGHT = 200, 150
AXLE_X, TOP, BOTTOM, STRING_X, GRIP_X = 118, 22, 128, 128, 56


def points(quantity: Quantity) -> SafeString:
    """The drawing of a quantity's two points, from the bow's right side or from behind it."""
    draw = _PICTURES.get(quantity.picture, _nothing)
    label = f"{quantity.name}: {quantity.how}"
    body = [] if quantity.picture in FROM_BEHIND else _bow()
    return picture(WIDTH, HEIGHT, label, "points", [*body, *draw()])


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
    return [drawn, *_dots((186, 75)), text(198, 148, words, font_size=13, text_anchor="end")]


def _draw_length() -> list[str]:
    drawn = element("path", d=f"M{STRING_X},{TOP} L186,75 L{STRING_X},{BOTTOM}", class_="faint")
    return [drawn, *_dots((GRIP_X, 75), (186, 75)), line(GRIP_X, 75, 186, 75, "span")]


def _tiller() -> list[str]:
    return [
        mark
        for y in (32, 118)
        for mark in (
            *_dots((GRIP_X + 24, y), (STRING_X, y)),
            line(GRIP_X + 24, y, STRING_X, y, "span"),
        )
    ]


def _string_stop() -> list[str]:
    rod = line(GRIP_X + 4, 96, STRING_X - 16, 96, "body")
    face = line(STRING_X - 16, 90, STRING_X - 16, 102, "body")
    return [
        rod,
        face,
        *_dots((STRING_X - 16, 96), (STRING_X, 96)),
        line(STRING_X - 16, 108, STRING_X, 108, "span"),
    ]


def _at_the_cams() -> list[str]:
    """Marks on both cams against their limbs."""
    return [
        mark
        for y, step in ((TOP, 10), (BOTTOM, -10))
        for mark in (
            *_dots((AXLE_X - 6, y + step)),
            line(AXLE_X, y, AXLE_X - 14, y + 1.6 * step, "span"),
        )
    ]


def _one_cam() -> list[str]:
    return [
        *_dots((AXLE_X - 6, BOTTOM - 10)),
        line(AXLE_X, BOTTOM, AXLE_X - 14, BOTTOM - 16, "span"),
    ]


def _nock_height() -> list[str]:
    hole = element("circle", cx=GRIP_X + 6, cy=70, r=4, class_="body")
    arrow = line(GRIP_X - 20, 66, STRING_X, 66, "body")
    level = line(GRIP_X + 6, 70, STRING_X + 18, 70, "faint")
    return [hole, arrow, level, *_dots((STRING_X, 66)), line(150, 60, 150, 76, "span")]


def _nock_to_kisser() -> list[str]:
    kisser = element("ellipse", cx=STRING_X, cy=62, rx=6, ry=3, class_="body")
    return [kisser, *_dots((STRING_X, 75), (STRING_X, 62)), line(152, 62, 152, 75, "span")]


def _loop() -> list[str]:
    loop = element("path", d=f"M{STRING_X},66 c28,0 28,18 0,18", class_="body")
    return [
        loop,
        *_dots((STRING_X, 75), (STRING_X + 21, 75)),
        line(STRING_X, 94, STRING_X + 21, 94, "span"),
    ]


def _from_behind(*marks: str) -> list[str]:
    """Riser and string as the archer sees them, the string a line; left is the archer's left."""
    riser = "M92,14 L92,52 C92,62 84,66 84,76 C84,86 92,90 92,98 L92,136"
    sides = [text(40, 146, "left", font_size=13), text(136, 146, "right", font_size=13)]
    return [
        element("path", d=riser, class_="body"),
        line(100, 8, 100, 140, "faint"),
        *sides,
        *marks,
    ]


def _centre_shot() -> list[str]:
    arrow = element("circle", cx=100, cy=70, r=5, class_="body")
    face = line(70, 60, 70, 82, "body")
    return _from_behind(face, arrow, *_dots((70, 70), (100, 70)), line(70, 92, 100, 92, "span"))


def _lean() -> list[str]:
    cam = element("path", d="M94,22 L106,22 L108,46 L92,46 Z", class_="body")
    shaft = line(101, 34, 112, 130, "span")
    return _from_behind(cam, shaft, *_dots((112, 130), (100, 130)))


def _lean_bottom() -> list[str]:
    cam = element("path", d="M92,114 L108,114 L106,138 L94,138 Z", class_="body")
    shaft = line(101, 126, 112, 30, "span")
    return _from_behind(cam, shaft, *_dots((112, 30), (100, 30)))


def _chronograph() -> list[str]:
    box = element("rect", x=4, y=62, width=34, height=26, class_="body")
    return [box, line(40, 75, STRING_X, 75, "span")]


def _paper() -> list[str]:
    sheet = element("rect", x=58, y=30, width=84, height=90, class_="body")
    torn = element("path", d="M84,70 L112,76 L112,80 L84,74 Z", class_="body")
    return [sheet, torn, *_dots((84, 72), (112, 78)), line(84, 96, 112, 96, "span")]


def _nothing() -> list[str]:
    return []


def _dots(*places: tuple[int, int]) -> list[str]:
    return [element("circle", cx=x, cy=y, r=4.5, class_="dot") for x, y in places]


FROM_BEHIND = ("centre_shot", "lean", "lean_bottom", "paper")

_PICTURES: dict[str, Callable[[], list[str]]] = {
    "axle_to_axle": _axle_to_axle,
    "brace_height": _brace_height,
    "nock_to_peep": _nock_to_peep,
    "on_the_way": lambda: _drawn("on the way up"),
    "at_the_stop": lambda: _drawn("at the stop"),
    "string_stop": _string_stop,
    "draw_length": _draw_length,
    "tiller": _tiller,
    "at_the_cams": _at_the_cams,
    "one_cam": _one_cam,
    "nock_height": _nock_height,
    "nock_to_kisser": _nock_to_kisser,
    "loop": _loop,
    "centre_shot": _centre_shot,
    "lean": _lean,
    "lean_bottom": _lean_bottom,
    "chronograph": _chronograph,
    "paper": _paper,
}
"""By the name that a quantity gives its picture."""
