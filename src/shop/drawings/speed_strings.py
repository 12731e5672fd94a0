"""Speeds as dots, one row for each string, with its mean; and string weights with their parabola."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from bowcore.quantities.inches import say_bare
from shop.drawings.svg import element, line, picture, text

WIDE, SIDE, ROW = 360.0, 14.0, 44.0
LEAST_RANGE_FPS = 8.0


@dataclass(frozen=True)
class StringRow:
    """A string as it is drawn: its words, its speeds, those that do not count, its mean. [ft/s]"""

    words: str
    speeds: tuple[float, ...]
    left_out: tuple[float, ...]
    mean: float
    before: bool = False


def speed_rows(rows: Sequence[StringRow]) -> SafeString | str:
    """One row a string, all on one scale; "" without any."""
    if not rows:
        return ""
    every = [fps for row in rows for fps in (*row.speeds, *row.left_out)]
    middle = (max(every) + min(every)) / 2
    half = max(LEAST_RANGE_FPS, max(every) - min(every)) / 2 * 1.15
    high = ROW * len(rows) + 22

    def at(fps: float) -> float:
        return SIDE + (WIDE - 2 * SIDE) * (fps - (middle - half)) / (2 * half)

    parts = []
    for place, row in enumerate(rows):
        y = ROW * place + 31
        parts += [
            text(0, y - 14, row.words),
            line(0, y, WIDE, y, "axis"),
            line(at(row.mean), y - 9, at(row.mean), y + 9, "mean"),
        ]
        shown = "then" if row.before else "now"
        for fps in row.speeds:
            parts.append(element("circle", cx=at(fps), cy=y, r=6, class_=f"tear {shown}"))
        for fps in row.left_out:
            parts.append(element("circle", cx=at(fps), cy=y, r=6, class_="tear then bad"))
    for fps in (middle - half, middle, middle + half):
        parts.append(text(at(fps), high - 4, f"{fps:.0f}", text_anchor="middle"))
    return picture(
        int(WIDE), int(high), "Speeds by string, in feet a second", "tears speeds", parts
    )


def weights_curve(
    places: Sequence[tuple[float, float, float]], top: tuple[float, float] | None = None
) -> SafeString | str:
    """Mean speed by the weights' place, each with its doubt; a line at the parabola's top.

    Parameters
    ----------
    places : sequence of (place [in], mean [ft/s], sigma [ft/s])
        What was tried.
    top : pair of float, optional
        The best place and its standard uncertainty. [in]
    """
    if not places:
        return ""
    high, bottom = 200.0, 178.0
    xs, ys = [p[0] for p in places], [p[1] for p in places]
    doubt = max(p[2] for p in places)
    left, right = min(xs) - 0.25, max(xs) + 0.25
    low, up = min(ys) - 2 * doubt, max(ys) + 2 * doubt

    def at(place: float, fps: float) -> tuple[float, float]:
        x = 40 + (WIDE - 70) * (place - left) / (right - left)
        return x, 10 + (bottom - 20) * (1 - (fps - low) / (up - low))

    parts = [
        line(40, bottom, WIDE, bottom, "axis"),
        text(2, 20, f"{up:.0f}"),
        text(2, bottom, f"{low:.0f}"),
    ]
    if top is not None:
        x, _ = at(top[0], low)
        wide = max((WIDE - 70) * top[1] / (right - left), 1.0)
        parts.append(
            element("rect", x=x - wide, y=8, width=2 * wide, height=bottom - 8, class_="doubt")
        )
        parts.append(line(x, 8, x, bottom, "mean"))
    for place, fps, sigma in places:
        x, y = at(place, fps)
        parts += [
            line(x, at(place, fps - sigma)[1], x, at(place, fps + sigma)[1], "mean"),
            element("circle", cx=x, cy=y, r=6, class_="tear now"),
            text(x, high - 6, say_bare(place, 8), text_anchor="middle"),
        ]
    return picture(int(WIDE), int(high), "Speed by the weights' place", "tears speeds", parts)
