"""Where the stops meet their cables: one touching, the other open by the gap, drawn eight times."""

from django.utils.safestring import SafeString

from bowcore.quantities.catalogue import say_gap
from bowcore.quantities.inches import as_mixed, say_bare
from shop.drawings.svg import element, line, picture, text

WIDTH, HEIGHT, CABLE, RADIUS = 200, 310, 40, 26
PIXELS_PER_INCH = 8 * 96  # eight times life size on a usual screen


def stop_gap(gap_in: float, aim_in: float = 0.0) -> SafeString:
    """Both stops against their cables at the moment when the first one touches.

    `gap_in` is signed as in the core: positive leaves the top stop open; so is the policy's
    `aim_in`, drawn as a dashed ring where it leaves a stop open.
    """
    top, bottom = max(gap_in, 0.0), max(-gap_in, 0.0)
    parts = [
        *_stop("Top stop", 78, top, max(aim_in, 0.0)),
        *_stop("Bottom stop", 232, bottom, max(-aim_in, 0.0)),
    ]
    return picture(WIDTH, HEIGHT, f"Stops: {say_gap(gap_in)}", "stopgap", parts)


def _stop(name: str, y: float, gap_in: float, aim_in: float) -> list[str]:
    size, touching = say_bare(gap_in), as_mixed(gap_in).zero
    gap = min(gap_in * PIXELS_PER_INCH, 66.0) if not touching else 0.0
    x = CABLE + 2.5 + gap + RADIUS
    aimed = CABLE + 2.5 + min(aim_in * PIXELS_PER_INCH, 66.0) + RADIUS
    parts = [
        text(0, y - 52, f"{name}: {'touches' if touching else 'open'}", font_size=17),
        line(CABLE, y - 42, CABLE, y + 58, "cable"),
        element("circle", cx=x, cy=y, r=float(RADIUS), class_="peg touch" if touching else "peg"),
    ]
    if aim_in:
        parts.append(element("circle", cx=aimed, cy=y, r=float(RADIUS), class_="peg aim"))
    if not touching:
        left, right, at = CABLE + 2.5, x - RADIUS, y + 46
        parts += [
            line(left, at - 10, left, at + 8, "span"),
            line(right, y, right, at + 8, "span"),
            line(left, at, right, at, "span"),
            text(right + 8, at + 10, size, class_="gaptext"),
        ]
    return parts
