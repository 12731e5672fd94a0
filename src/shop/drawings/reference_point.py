"""Close views of single points: which edge, knot or face of a thing is meant."""

from django.utils.safestring import SafeString

from bowcore.quantities.quantity import ReferencePoint
from shop.drawings.svg import element, line, picture

WIDTH, HEIGHT = 64, 44


def reference_point(point: ReferencePoint) -> SafeString | str:
    """The small drawing of a point, or "" where words are enough."""
    if point.key not in _DRAWN:
        return ""
    things, x, y = _DRAWN[point.key]
    dot = element("circle", cx=x, cy=y, r=4.5, class_="dot")
    return picture(WIDTH, HEIGHT, point.name, "reference-point", [*things, dot])


def _ellipse(cx: float, cy: float, rx: float, ry: float) -> str:
    return element("ellipse", cx=cx, cy=cy, rx=rx, ry=ry, class_="body")


_NOCK = [
    line(32, 0, 32, 44, "body"),
    line(0, 22, 30, 22, "faint"),
    _ellipse(32, 11, 5, 3.5),
    _ellipse(32, 33, 5, 3.5),
    element("path", d="M36,11 c22,0 22,22 0,22", class_="body"),
]
_PEEP = [line(32, 0, 32, 10, "body"), line(32, 34, 32, 44, "body"), _ellipse(32, 22, 7, 12)]
_HOLE = [line(6, 22, 58, 22, "faint"), _ellipse(32, 22, 11, 11)]
_SHELF = [line(6, 12, 58, 12, "faint"), line(6, 38, 58, 38, "body")]
_TIED = [
    line(32, 0, 32, 44, "body"),
    line(0, 22, 30, 22, "faint"),
    _ellipse(32, 8, 5, 5),
    _ellipse(32, 36, 5, 5),
]
_ARROW = [line(4, 15, 60, 15, "body"), line(4, 29, 60, 29, "body")]
_STRING = [line(28, 0, 28, 44, "body"), line(38, 0, 38, 44, "body"), line(0, 22, 26, 22, "faint")]
_BESIDE = [line(14, 4, 14, 40, "body"), line(50, 0, 50, 44, "faint"), _ellipse(50, 22, 5, 5)]

_DRAWN: dict[str, tuple[list[str], float, float]] = {
    "loop_knot": (_NOCK, 32, 15),
    "nock_tie": (_NOCK, 32, 7),
    "nock_groove": (_NOCK, 32, 22),
    "loop_centre": (_NOCK, 52, 22),
    "peep_centre": (_PEEP, 32, 22),
    "peep_top": (_PEEP, 32, 10),
    "hole_centre": (_HOLE, 32, 22),
    "hole_edge": (_HOLE, 32, 33),
    "hole_top": (_HOLE, 32, 11),
    "shelf": (_SHELF, 32, 38),
    "tie_under": (_TIED, 32, 13),
    "tie_over": (_TIED, 32, 31),
    "arrow_centre": (_ARROW, 32, 22),
    "arrow_under": (_ARROW, 32, 29),
    "near_face": (_STRING, 28, 22),
    "far_face": (_STRING, 38, 22),
    "riser_face": (_BESIDE, 14, 22),
    "string_plane": (_BESIDE, 50, 22),
}
