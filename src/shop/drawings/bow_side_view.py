"""The bow from its side, to scale, drawn from what the twin computed; one part can stand out."""

from typing import Any

from django.utils.safestring import SafeString

from bowcore.mechanics.specification import STRING
from shop.drawings.svg import element, picture

HEIGHT, MARGIN = 480, 14
Outline = dict[str, Any]


def bow_side_view(
    outline: Outline, part: str = "", label: str = "The bow from its side"
) -> SafeString:
    """A drawing of one state of a twin.

    Parameters
    ----------
    outline : dict
        As `bowcore.mechanics.outline.outline` gives it, in inches.
    part : str
        Role of the string or cable that stands out.
    label : str
        What the drawing says to those who cannot see it.
    """
    place = Canvas(outline)
    return picture(round(place.width), HEIGHT, label, "side", pieces(outline, place, part))


def pieces(outline: Outline, place: "Canvas", part: str = "") -> list[str]:
    """Everything that is drawn of one state, at its place."""
    parts = [
        element("path", d=_riser(outline, place), class_="body"),
        *(element("path", d=place.line(limb), class_="limb") for limb in outline["limbs"]),
        *(
            element("path", d=place.line(t) + "Z", class_="track")
            for t in outline["tracks"].values()
        ),
    ]
    for role, runs in outline["ropes"].items():
        class_ = "rope here" if role == part else ("string" if role == STRING else "rope")
        parts += [element("path", d=place.line(run), class_=class_) for run in runs]
        if role == part:
            parts += [_end(place, point) for point in _ends(runs)]
    return parts


class Canvas:
    """Inches to the drawing's units, so that every given state fits; y runs down."""

    def __init__(self, *outlines: Outline):
        points = [[0.0, 0.0]]
        for outline in outlines:
            points += [p for line in outline["tracks"].values() for p in line]
            points += [p for limb in outline["limbs"] for p in limb] + [outline["nock"]]
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        self._left, self._top = min(xs), max(ys)
        self._scale = (HEIGHT - 2 * MARGIN) / (max(ys) - min(ys))
        self.width = (max(xs) - min(xs)) * self._scale + 2 * MARGIN

    def at(self, point: list[float]) -> tuple[float, float]:
        return (
            MARGIN + (point[0] - self._left) * self._scale,
            MARGIN + (self._top - point[1]) * self._scale,
        )

    def line(self, points: list[list[float]]) -> str:
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in map(self.at, points))


def _riser(outline: Outline, place: Canvas) -> str:
    """From pocket to pocket through the throat of the grip."""
    (top, _), (bottom, _) = outline["limbs"]
    (x1, y1), (x2, y2), (gx, gy) = place.at(top), place.at(bottom), place.at([0.0, 0.0])
    up = f"M{x1:.1f},{y1:.1f} Q{gx - 26:.1f},{(y1 + gy) / 2:.1f} {gx:.1f},{gy:.1f}"
    return f"{up} Q{gx - 26:.1f},{(y2 + gy) / 2:.1f} {x2:.1f},{y2:.1f}"


def _ends(runs: list[Any]) -> list[list[float]]:
    return [runs[0][0], runs[-1][1]]


def _end(place: Canvas, point: list[float]) -> str:
    x, y = place.at(point)
    return element("circle", cx=x, cy=y, r=7, class_="rope-end")
