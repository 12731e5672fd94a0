"""The stabiliser's bars from above, to scale: weights as discs, and where the bars balance."""

from math import cos, radians, sin, sqrt

from django.utils.safestring import SafeString

from bowcore.stages.stabiliser.bars import Bars
from shop.drawings.svg import element, line, picture, text

WIDE, SIDE, AXIS = 360.0, 44.0, 56.0
BELOW = 48.0
"""Room for the balance and its words."""
LEAST_LONG_IN = 16.0
"""So many inches at least are in the picture: short bars look short."""
BOW_ROOM_IN = 4.0
MOST_SIDEWAYS = 100.0
"""What is drawn to the side of the front bar has so much room."""


def bars_from_above(bars: Bars) -> SafeString:
    """Front bar to the right, the back bar swung out below, the bow across the grip.

    Parameters
    ----------
    bars : Bars
        What is on the bow for the next hold.
    """
    out, back = (bars.back_in * of(radians(bars.back_deg)) for of in (sin, cos))
    long_in = max(LEAST_LONG_IN, bars.front_in + max(back, BOW_ROOM_IN))
    scale = min((WIDE - 2 * SIDE) / long_in, MOST_SIDEWAYS / max(out, 1.0))
    grip, high = SIDE + max(back, BOW_ROOM_IN) * scale, AXIS + out * scale + BELOW
    front, tail = (grip + bars.front_in * scale, AXIS), (grip - back * scale, AXIS + out * scale)
    parts = [line(grip, AXIS - 26, grip, AXIS + 26, "body"), line(grip, AXIS, *front, "bar")]
    parts += [
        *_weight(*front, bars.front_oz),
        text(grip - 6, AXIS - 32, "grip", text_anchor="middle"),
    ]
    if bars.back_in:
        parts += [line(grip, AXIS, *tail, "bar"), *_weight(*tail, bars.back_oz)]
    mass = bars.front_oz + bars.back_oz
    if mass:
        x = grip + bars.balance_in * scale
        y = AXIS + out * scale * bars.back_oz / mass
        parts += [
            element("path", d=f"M{x:.1f},{y + 5:.1f} l8,14 h-16 z", class_="balance"),
            text(x, y + 34, "balance", text_anchor="middle"),
        ]
    return picture(int(WIDE), int(high), "The bars from above, to scale", "tears bars", parts)


def _weight(x: float, y: float, ounces: float) -> list[str]:
    """A disc as large as its mass, and the mass."""
    if not ounces:
        return []
    radius = 4 * sqrt(ounces)
    return [
        element("circle", cx=x, cy=y, r=radius, class_="tear now"),
        text(x, y - radius - 5, f"{ounces:g} oz", text_anchor="middle"),
    ]
