"""The bow to inspect: numbered places on a drawing of it, seen from its right side."""

from dataclasses import dataclass

from django.utils.safestring import SafeString

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


def inspection_map(spots: list[Spot]) -> SafeString:
    """The drawn bow with every place on it. Each number is a link to its row."""
    parts = [*_bow(), *(mark for spot in spots for mark in _spot(spot))]
    seen = sum(bool(spot.outcome) for spot in spots)
    label = f"The bow, {seen} of {len(spots)} places seen"
    return picture(WIDTH, HEIGHT, label, "inspection-map", parts, "group")


def _spot(spot: Spot) -> list[str]:
    found = []
    for x, y in spot.at:
        cx, cy = x * WIDTH, y * HEIGHT
        class_ = f"spot {_SHAPES[spot.outcome]}"
        shape = (
            element("rect", x=cx - 15, y=cy - 15, width=30, height=30, class_=class_)
            if spot.outcome in ("replace", "stop")
            else element("circle", cx=cx, cy=cy, r=16, class_=class_)
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
