"""The bow from its side, to scale, drawn from what the twin computed; parts can stand out.

Limbs, cams, string and cables are the twin's own. Riser, grip, guard and string stop are drawn to
usual proportions through the points that the twin has: pockets and the throat of the grip.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import atan2, cos, hypot, sin
from typing import Any

from django.utils.safestring import SafeString

from bowcore.bow.layout import STRING_ROPES
from bowcore.bow.specification import STRING
from shop.drawings.svg import element, picture, text

HEIGHT, MARGIN = 600, 16
POCKET_IN = 2.25
"""From a limb's pocket to the point that it bends about in the model."""
THICK_IN, THIN_IN = 0.68, 0.30
BASE_SHARE = 0.35
"""Of a limb's angle: how far it leans where it leaves the pocket."""
LIMB_POINTS = 18
Outline = dict[str, Any]
Point = Sequence[float]

_BACK = (
    (-1.1, 0.55), (-1.0, 0.32), (-0.9, 0.155), (0.35, 0.13), (0.32, 0.095), (0.0, 0.0), (0.22, -0.1),
    (0.34, -0.21), (0.05, -0.30), (-0.9, -0.39), (-0.8, -0.58),
)  # fmt: skip
"""The archer's side of the riser, from the sight window over shelf and grip to the lower truss: x in
inches from the throat, y as a share of the pivots' height."""
_FRONT = (
    (-2.35, -0.52), (-2.2, -0.28), (-1.7, -0.13), (-1.6, 0.03), (-2.45, 0.18), (-2.55, 0.36), (-2.4, 0.6),
)  # fmt: skip
_CUT_OUTS = ((-1.78, 0.42, 0.3, 0.1), (-1.62, -0.5, 0.24, 0.075))
"""Middle and half axes of each, in the same units."""


@dataclass(frozen=True)
class Marked:
    """A part that stands out: the role of a string or cable, or a place; with the number of an act."""

    place: str
    number: int = 0


def bow_side_view(
    outline: Outline,
    part: str = "",
    label: str = "The bow from its side",
    marked: Sequence[Marked] = (),
) -> SafeString:
    """A drawing of one state of a twin.

    Parameters
    ----------
    outline : dict
        As `bowcore.bow.outline.outline` gives it, in inches.
    part : str
        Role of the string or cable that stands out.
    label : str
        What the drawing says to those who cannot see it.
    marked : sequence of Marked
        What else stands out, with its number.
    """
    place = Canvas(outline)
    lit = {part, *(one.place for one in marked)}
    drawn = [*still(outline, place), *pieces(outline, place, lit)]
    discs = [_disc(outline, place, one) for one in marked if one.number]
    return picture(round(place.width), HEIGHT, label, "side", [*drawn, *discs])


def still(outline: Outline, place: "Canvas") -> list[str]:
    """What does not move when the bow is drawn: riser, guard and string stop."""
    high = outline["limbs"][0][0][1]
    guard = place.line([[-1.2, 0.24 * high], [0.72 * outline["nock"][0], 0.2 * high]])
    stop = [[-1.2, -0.42 * high], [outline["nock"][0] - 0.25, -0.42 * high]]
    x, y = place.at(stop[1])
    gx, gy = place.at([0.72 * outline["nock"][0], 0.2 * high])
    rod = [
        element("path", d=guard, class_="rod"),
        element("circle", cx=gx, cy=gy, r=4.5, class_="pin"),
    ]
    return [
        *([] if outline.get("guardless") else rod),
        element("path", d=place.line(stop), class_="rod"),
        element("rect", x=x - 4, y=y - 7, width=7, height=14, class_="riser"),
        element("path", d=_riser(outline, place), class_="riser"),
        *(_cut_out(one, high, place) for one in _CUT_OUTS),
    ]


def pieces(outline: Outline, place: "Canvas", lit: "set[str] | frozenset[str]") -> list[str]:
    """Everything that moves with the draw, at its place: cables behind, limbs, cams, string."""
    ropes = outline["ropes"]
    behind = [role for role in ropes if role not in STRING_ROPES]
    drawn = [_rope(ropes[role], place, "rope here" if role in lit else "rope") for role in behind]
    drawn += [_limb(limb, place) for limb in outline["limbs"]]
    for side, limb in enumerate(outline["limbs"]):
        drawn += _cam(outline, side, limb[1], place)
    drawn.append(_rope(_runs(outline, STRING), place, "string here" if STRING in lit else "string"))
    for role in lit & set(behind):
        drawn += [_end(place, point) for point in _ends(ropes[role])]
    return drawn


class Canvas:
    """Inches to the drawing's units, so that every given state fits; y runs down."""

    def __init__(self, *outlines: Outline):
        points = [[-3.2, 0.0], [0.5, 0.0]]
        for outline in outlines:
            points += [p for line in outline["tracks"].values() for p in line]
            points += [p for limb in outline["limbs"] for p in limb] + [outline["nock"]]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        self._left, self._top = min(xs), max(ys)
        self._scale = (HEIGHT - 2 * MARGIN) / (max(ys) - min(ys))
        self.width = (max(xs) - min(xs)) * self._scale + 2 * MARGIN

    def at(self, point: Point) -> tuple[float, float]:
        return (
            MARGIN + (point[0] - self._left) * self._scale,
            MARGIN + (self._top - point[1]) * self._scale,
        )

    def size(self, inches: float) -> float:
        """A length in the drawing's units."""
        return inches * self._scale

    def line(self, points: Sequence[Point]) -> str:
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in map(self.at, points))

    def curve(self, points: Sequence[Point]) -> str:
        """A closed smooth line through points (Catmull-Rom as Bezier)."""
        at = [self.at(point) for point in points]
        count = len(at)
        path = f"M{at[0][0]:.1f},{at[0][1]:.1f}"
        for i in range(count):
            before, here, after, then = (at[(i + k) % count] for k in (-1, 0, 1, 2))
            one = (here[0] + (after[0] - before[0]) / 6, here[1] + (after[1] - before[1]) / 6)
            two = (after[0] - (then[0] - here[0]) / 6, after[1] - (then[1] - here[1]) / 6)
            path += " C" + " ".join(f"{x:.1f},{y:.1f}" for x, y in (one, two, after))
        return path + "Z"


def _riser(outline: Outline, place: Canvas) -> str:
    """One silhouette from pocket to pocket, through window, shelf, grip and lower truss."""
    top, bottom = (_pocket(limb) for limb in outline["limbs"])
    high = outline["limbs"][0][0][1]
    back = [(x, share * high) for x, share in _BACK]
    front = [(x, share * high) for x, share in _FRONT]
    across = 0.62
    upper = [(top[0] - across, top[1] + 0.5), (top[0] + across, top[1] + 0.7)]
    lower = [(bottom[0] + across, bottom[1] - 0.7), (bottom[0] - across, bottom[1] - 0.5)]
    return place.curve([*upper, (top[0] + 0.7, top[1] - 1.6), *back,
                        (bottom[0] + 0.7, bottom[1] + 1.6), *lower, *front])  # fmt: skip


def _cut_out(one: Sequence[float], high: float, place: Canvas) -> str:
    x, share, half_width, half_share = one
    cx, cy = place.at([x, share * high])
    rx, ry = place.size(half_width), place.size(half_share * high)
    return element("ellipse", cx=cx, cy=cy, rx=rx, ry=ry, class_="cut")


def _pocket(limb: Sequence[Point]) -> tuple[float, float]:
    """Where a limb leaves its pocket."""
    pivot, along = limb[0], _base(limb)
    return pivot[0] - POCKET_IN * along[0], pivot[1] - POCKET_IN * along[1]


def _base(limb: Sequence[Point]) -> tuple[float, float]:
    """Which way a limb leaves its pocket."""
    (px, py), (ax, ay) = limb
    up = 1 if ay > py else -1
    angle = BASE_SHARE * atan2(ax - px, abs(ay - py))
    return sin(angle), up * cos(angle)


def _limb(limb: Sequence[Point], place: Canvas) -> str:
    """A curve from the pocket to the axle, thinner toward its tip."""
    start, end, along = _pocket(limb), limb[1], _base(limb)
    reach = POCKET_IN + BASE_SHARE * hypot(end[0] - limb[0][0], end[1] - limb[0][1])
    middle = (start[0] + reach * along[0], start[1] + reach * along[1])
    one_face, other_face = [], []
    for step in range(LIMB_POINTS + 1):
        t = step / LIMB_POINTS
        x, y = (
            (1 - t) ** 2 * start[k] + 2 * t * (1 - t) * middle[k] + t**2 * end[k] for k in (0, 1)
        )
        dx, dy = (
            2 * (1 - t) * (middle[k] - start[k]) + 2 * t * (end[k] - middle[k]) for k in (0, 1)
        )
        half = (THICK_IN + (THIN_IN - THICK_IN) * t) / 2 / (hypot(dx, dy) or 1.0)
        one_face.append((x - half * dy, y + half * dx))
        other_face.append((x + half * dy, y - half * dx))
    return element("path", d=place.line([*one_face, *reversed(other_face)]) + "Z", class_="limb")


def _cam(outline: Outline, side: int, axle: Point, place: Canvas) -> list[str]:
    """The cam's real tracks, the largest one filled, the plate that carries its peg, its axle."""
    tracks = sorted(_tracks(outline["tracks"], side), key=_spread, reverse=True)
    x, y = place.at(axle)
    drawn = []
    peg = outline["pegs"][side]
    if peg is not None:
        px, py = place.at(peg)
        drawn.append(element("path", d=f"M{x:.1f},{y:.1f} L{px:.1f},{py:.1f}", class_="plate"))
    drawn += [
        element("path", d=place.line(track) + "Z", class_="cam" if n == 0 else "track")
        for n, track in enumerate(tracks)
    ]
    if peg is not None:
        drawn.append(element("circle", cx=px, cy=py, r=place.size(0.17), class_="peg"))
    drawn.append(element("circle", cx=x, cy=y, r=place.size(0.3), class_="pin"))
    drawn.append(element("circle", cx=x, cy=y, r=place.size(0.09), class_="peg"))
    return drawn


def _tracks(tracks: Mapping[str, list[Point]], side: int) -> list[list[Point]]:
    """Those of one cam: the top one's lie above the grip."""
    return [line for line in tracks.values() if (line[0][1] > 0) == (side == 0)]


def _spread(track: Sequence[Point]) -> float:
    xs = [point[0] for point in track]
    return max(xs) - min(xs)


def _rope(runs: Sequence[Sequence[Point]], place: Canvas, class_: str) -> str:
    return element("path", d=" ".join(place.line(run) for run in runs), class_=class_)


def _runs(outline: Outline, role: str) -> list[Any]:
    """The straight pieces of a string or cable."""
    parts = STRING_ROPES if role == STRING else (role,)
    return [run for one in parts for run in outline["ropes"][one]]


def _ends(runs: list[Any]) -> list[list[float]]:
    return [runs[0][0], runs[-1][1]]


def _end(place: Canvas, point: Point) -> str:
    x, y = place.at(point)
    return element("circle", cx=x, cy=y, r=7, class_="rope-end")


def _disc(outline: Outline, place: Canvas, one: Marked) -> str:
    """The number of an act, beside what is turned."""
    x, y = place.at(_where(outline, one.place))
    x = min(max(x, 20.0), place.width - 20.0)
    circle = element("circle", cx=x, cy=y, r=17, class_="disc")
    number = text(x, y + 7, str(one.number), text_anchor="middle", class_="disc-number")
    return circle + number


def _where(outline: Outline, place: str) -> Point:
    """Where on the bow something is turned: a rope a third along, a cam, a pocket."""
    if place == STRING or place in outline["ropes"]:
        start, end = _runs(outline, place)[0]
        share = 0.4 if place == STRING else 0.3
        return [start[k] + share * (end[k] - start[k]) for k in (0, 1)]
    (top, top_axle), (bottom, bottom_axle) = outline["limbs"]
    known: dict[str, Point] = {
        "top cam": top_axle,
        "bottom cam": bottom_axle,
        "top pocket": _pocket([top, top_axle]),
        "bottom pocket": _pocket([bottom, bottom_axle]),
    }
    nock: Point = outline["nock"]
    return known.get(place, nock)
