"""The bow along its draw, frame by frame, and its force-draw curve with the same frames marked."""

from collections.abc import Sequence
from math import ceil, floor
from typing import Any

from django.utils.safestring import SafeString

from bowcore.quantities.units import MM_PER_INCH, LengthUnit, length_unit
from shop.drawings.bow_side_view import HEIGHT, Canvas, pieces, still
from shop.drawings.svg import element, line, picture, text

CURVE_W, CURVE_H, LEFT, BASE, TOP = 560, 330, 46, 292, 16


def frames_drawing(outlines: Sequence[dict[str, Any]], part: str = "") -> SafeString:
    """Every frame in one drawing; only the first is shown until the slider says otherwise."""
    place = Canvas(*outlines)
    path = "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in (place.at(o["nock"]) for o in outlines))
    parts = [*still(outlines[0], place), element("path", d=path, class_="nockpath")]
    for number, outline in enumerate(outlines):
        hidden = {} if number == 0 else {"hidden": "hidden"}
        parts.append(
            element("g", "".join(pieces(outline, place, {part})), data_frame=number, **hidden)
        )
    return picture(round(place.width), HEIGHT, "The bow from its side, drawn", "side wide", parts)


def force_draw_curve(
    computed: dict[str, Any],
    measured: Sequence[tuple[float, float]] = (),
    fitted: dict[str, Any] | None = None,
) -> SafeString:
    """Force against draw length; measured points beside it, and a twin fitted to them; a marker per
    frame.

    `computed` is as `bowcore.bow.frames.frames` gives it.
    """
    draw_in, force_lbf = computed["curve"]
    xs, ys = [*draw_in, *(x for x, _ in measured)], [*force_lbf, *(y for _, y in measured)]
    low, high, most = min(xs), max(xs), 1.12 * max(ys)

    def at(x: float, y: float) -> tuple[float, float]:
        return (
            LEFT + (x - low) / (high - low) * (CURVE_W - LEFT - 18),
            BASE - y / most * (BASE - TOP),
        )

    def path(points: Sequence[tuple[float, float]]) -> str:
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in (at(*p) for p in points))

    points = list(zip(computed["draw_in"], computed["force_lbf"], strict=True))
    smooth = list(zip(draw_in, force_lbf, strict=True))
    parts = [line(LEFT, BASE, CURVE_W - 10, BASE, "axis"), line(LEFT, TOP, LEFT, BASE, "axis")]
    parts += _scale_x(low, high, at) + _scale_y(most, at)
    parts.append(element("path", d=path(smooth), class_="curve"))
    if fitted:
        line_of = list(zip(fitted["draw_in"], fitted["force_lbf"], strict=True))
        parts.append(element("path", d=path(line_of), class_="fitted"))
    if measured:
        parts += [
            element("circle", cx=at(*p)[0], cy=at(*p)[1], r=4, class_="measured") for p in measured
        ]
    for number, point in enumerate(points):
        x, y = at(*point)
        hidden = {} if number == 0 else {"hidden": "hidden"}
        mark = line(x, y, x, BASE, "drop") + element("circle", cx=x, cy=y, r=7, class_="dot")
        parts.append(element("g", mark, data_frame=number, **hidden))
    return picture(CURVE_W, CURVE_H, "Force-draw curve", "fdcurve", parts)


def _scale_x(low: float, high: float, at: Any) -> list[str]:
    metric = length_unit() is LengthUnit.MILLIMETRES
    step, an_inch = (20, MM_PER_INCH) if metric else (1, 1.0)
    parts = []
    for mark in range(ceil(low * an_inch / step), floor(high * an_inch / step) + 1):
        x, y = at(mark * step / an_inch, 0)
        big = mark % 2 == 0
        parts.append(line(x, y, x, y + (9 if big else 5), "axis"))
        if big:
            parts.append(text(x, y + 27, str(mark * step), text_anchor="middle"))
    words = f"draw length, {length_unit().sign}"
    return [*parts, text(CURVE_W - 10, BASE - 8, words, text_anchor="end", class_="soft")]


def _scale_y(most: float, at: Any) -> list[str]:
    parts = []
    for force in range(0, int(most) + 1, 10):
        y = at(0, force)[1]
        parts.append(line(LEFT - 6, y, LEFT, y, "axis"))
        if force % 20 == 0:
            parts.append(text(LEFT - 9, y + 5, str(force), text_anchor="end"))
    return [*parts, text(LEFT + 8, TOP + 8, "lbf", class_="soft")]
