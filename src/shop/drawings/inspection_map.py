"""The bow to inspect: numbered places on its own drawing, or on a sketch where it has no twin."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from shop.drawings.bow_side_view import HEIGHT as SIDE_HEIGHT
from shop.drawings.bow_side_view import Canvas, Outline, pieces, still
from shop.drawings.svg import element, line, picture, text

WIDTH, HEIGHT = 300, 520
_SHAPES = {"": "todo", "fine": "fine", "watch": "watch", "replace": "replace", "stop": "stop"}


@dataclass(frozen=True)
class Spot:
    """One place: its number and key, where it lies, its outcome ("" unseen), its name."""

    number: int
    key: str
    at: tuple[tuple[float, float], ...]
    outcome: str
    name: str


def inspection_map(spots: list[Spot], outline: Outline | None = None) -> SafeString:
    """The drawn bow with every place on it. Each number is a link to its row.

    Parameters
    ----------
    spots : list of Spot
        In the order of the inspection.
    outline : dict, optional
        The bow at rest as `bowcore.bow.outline.outline` gives it; without one it is a sketch.
    """
    seen = sum(bool(spot.outcome) for spot in spots)
    label = f"The bow, {seen} of {len(spots)} places seen"
    if outline is None:
        at = {spot.key: [(x * WIDTH, y * HEIGHT) for x, y in spot.at] for spot in spots}
        return _picture(WIDTH, HEIGHT, label, _bow(), spots, at)
    place = Canvas(outline)
    drawn = [*still(outline, place), *pieces(outline, place, frozenset())]
    at = {key: [place.at(one) for one in points] for key, points in _places(outline).items()}
    return _picture(round(place.width), SIDE_HEIGHT, label, drawn, spots, at)


def _picture(
    width: int,
    height: int,
    label: str,
    drawn: list[str],
    spots: list[Spot],
    at: Mapping[str, Sequence[tuple[float, float]]],
) -> SafeString:
    marks = [mark for spot in spots for mark in _spot(spot, at[spot.key], width)]
    return picture(width, height, label, "inspection-map side", [*drawn, *marks], "group")


def _places(outline: Outline) -> dict[str, list[tuple[float, float]]]:
    """Where each place of an inspection lies on a bow. [in]"""
    (top, top_axle), (bottom, bottom_axle) = outline["limbs"]
    high, nock = top[1], outline["nock"]
    upper, lower = outline["ropes"]["string_u"][0], outline["ropes"]["string_l"][0]
    cable = outline["ropes"]["cable_b"][0]
    return {
        "limbs_top": [_between(top, top_axle, 0.45)],
        "limbs_bottom": [_between(bottom, bottom_axle, 0.45)],
        "cam_top": [(top_axle[0], top_axle[1])],
        "cam_bottom": [(bottom_axle[0], bottom_axle[1])],
        "string": [_between(lower[0], lower[1], 0.45)],
        "cables": [_between(cable[0], cable[1], 0.35)],
        "servings": [_between(upper[0], upper[1], 0.12), _between(lower[0], lower[1], 0.12)],
        "peep": [_between(upper[0], upper[1], 0.68)],
        "loop": [(nock[0], nock[1])],
        "rest": [(-0.9, 0.14 * high)],
        "guard": [(0.5 * nock[0], 0.2 * high)],
        "screws": [(-2.4, 0.36 * high), (-2.1, -0.3 * high)],
    }


def _between(start: Sequence[float], end: Sequence[float], share: float) -> tuple[float, float]:
    """A point on the way from one end to the other."""
    return start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1])


def _spot(spot: Spot, at: Sequence[tuple[float, float]], width: int) -> list[str]:
    found = []
    for x, cy in at:
        cx = min(max(x, 18.0), width - 18.0)
        class_ = f"spot {_SHAPES[spot.outcome]}"
        shape = (
            element("rect", x=cx - 15, y=cy - 15, width=30, height=30, class_=class_)
            if spot.outcome in ("replace", "stop")
            else element("circle", cx=cx, cy=cy, r=18, class_=class_)
        )
        label = text(cx, cy + 6, str(spot.number), text_anchor="middle", class_="nr")
        inside = element("title", f"{spot.name}: {spot.outcome or 'not seen yet'}") + shape + label
        found.append(
            element("a", inside, href=f"#place-{spot.key}", class_="spot-link", hx_boost="false")
        )
    return found


def _bow() -> list[str]:
    riser = "M110,120 C70,150 84,205 92,235 C84,262 84,285 96,300 C78,340 80,380 110,400"
    upper = "M104,122 C118,84 150,46 186,30 M120,128 C136,96 164,62 188,36"
    lower = "M104,398 C118,436 150,474 186,490 M120,392 C136,424 164,458 188,484"
    string = "M206,28 L228,60 L228,460 L206,492"
    cables = "M184,44 C150,170 150,350 196,482 M196,38 C168,170 160,340 184,478"
    bars = "M96,262 L152,262 M84,212 L40,198 L40,226 M88,300 L36,306"
    drawn = [
        element("path", d=path, class_=name)
        for path, name in (
            (riser, "body"),
            (upper, "body"),
            (lower, "body"),
            (cables, "faint"),
            (string, "string"),
            (bars, "faint"),
        )
    ]
    cams = [element("ellipse", cx=190, cy=y, rx=24, ry=26, class_="body") for y in (32, 488)]
    peep = element("ellipse", cx=228, cy=124, rx=5, ry=9, class_="body")
    loop = element("path", d="M228,252 c14,0 14,16 0,16", class_="body")
    return [*drawn, *cams, peep, loop, line(96, 246, 120, 246, "body")]
