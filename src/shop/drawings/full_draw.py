"""The twin pulled to full draw: where peep and arrow are then, and the string's angle."""

from math import hypot

from django.utils.safestring import SafeString

from bowcore.accessories.rest_cord import REST_ABOVE_THROAT_IN
from bowcore.bow.layout import STRING_ROPES, UPPER
from shop.drawings.bow_side_view import HEIGHT, Canvas, Outline, Point, pieces, still
from shop.drawings.svg import element, line, picture, text


def full_draw(
    outline: Outline, nock_to_peep_in: float, angle_deg: float, clamp: Point | None = None
) -> SafeString:
    """A drawing of the bow at full draw.

    Parameters
    ----------
    outline : dict
        As `bowcore.bow.outline.outline` gives it, of that state. [in]
    nock_to_peep_in : float
        Along the string. [in]
    angle_deg : float
        Between the two halves of the string. [deg]
    clamp : point, optional
        Where the rest's cord is clamped then. [in]
    """
    place = Canvas(outline)
    nock = outline["nock"]
    start, _ = outline["ropes"][STRING_ROPES[UPPER]][0]
    reach = hypot(start[0] - nock[0], start[1] - nock[1])
    share = nock_to_peep_in / reach
    peep = [nock[at] + share * (start[at] - nock[at]) for at in (0, 1)]
    rest = [0.0, REST_ABOVE_THROAT_IN]
    (nx, ny), (px, py), (rx, ry) = place.at(nock), place.at(peep), place.at(rest)
    parts = [
        *still(outline, place),
        *pieces(outline, place, set()),
        line(rx - 30, ry, nx, ny, "shaft-line"),
        element("path", d=f"M{rx - 7:.1f},{ry + 4:.1f} h14 l-7,12 z", class_="arm"),
        element("circle", cx=px, cy=py, r=7, class_="peg"),
        text(px + 12, py, "peep", font_size=20),
        text(nx - 8, ny + 34, f"{angle_deg:.0f}\u00b0", font_size=24, text_anchor="end"),
    ]
    if clamp is not None:
        cx, cy = place.at(clamp)
        parts += [
            line(rx, ry, cx, cy, "cord"),
            element("circle", cx=cx, cy=cy, r=6, class_="clamp"),
        ]
        parts.append(text(cx - 10, cy + 6, "clamp", font_size=20, text_anchor="end"))
    words = f"The bow at full draw, its string at {angle_deg:.0f} degrees"
    return picture(round(place.width) + 60, HEIGHT, words, "side", parts)
