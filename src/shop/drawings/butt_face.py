"""A butt to tap an impact on, and the impacts of a test as one picture."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from shop.drawings.paper_sheet import under
from shop.drawings.svg import element, line, picture, text

HALF_BUTT_IN = 12.0
WIDE, HIGH = 300.0, 260.0


@dataclass(frozen=True)
class Impact:
    """Where an arrow hit, from the point aimed at [in], from how far [yd], with what; whether it counts."""

    distance_yd: float
    x_in: float
    y_in: float
    kind: str
    good: bool = True


def butt_face(photo: str = "") -> SafeString:
    """A face; its unit is the inch, its middle the point aimed at, x to the right, y down.

    Parameters
    ----------
    photo : str
        Address of a picture that lies under it, "" for none.
    """
    rings = [element("circle", cx=0, cy=0, r=r, class_="ring") for r in (2, 4, 6, 8, 10)]
    cross = [
        line(-HALF_BUTT_IN, 0, HALF_BUTT_IN, 0, "inch"),
        line(0, -HALF_BUTT_IN, 0, HALF_BUTT_IN, "inch"),
    ]
    hole = element("circle", class_="hole impact", cx=0, cy=0, r=0.5, data_hole="impact")
    frame = element(
        "svg", "".join([*under(photo, HALF_BUTT_IN), *cross, *rings, hole]), xmlns="http://www.w3.org/2000/svg",
        viewBox=f"{-HALF_BUTT_IN} {-HALF_BUTT_IN} {2 * HALF_BUTT_IN} {2 * HALF_BUTT_IN}",
        class_="paper-sheet butt", role="group", tabindex="0", data_sheet="yes",
        aria_label="A butt, two inches from ring to ring; its middle is the point aimed at",
    )  # fmt: skip
    return mark_safe(frame)  # noqa: S308  every part above is escaped


def impacts(shots: Sequence[Impact]) -> SafeString | str:
    """Impacts sideways against the distance; "" without any."""
    if not shots:
        return ""
    reach = max(2.0, *(abs(one.x_in) + 0.5 for one in shots))
    far = max(one.distance_yd for one in shots) * 1.1
    parts = [line(WIDE / 2, 0, WIDE / 2, HIGH - 18, "axis")]
    for yards in sorted({one.distance_yd for one in shots}):
        y = (HIGH - 18) * (1 - yards / far)
        parts += [line(0, y, WIDE, y, "axis"), text(4, y - 4, f"{yards:g} yd")]
    for one in shots:
        x, y = WIDE / 2 * (1 + one.x_in / reach), (HIGH - 18) * (1 - one.distance_yd / far)
        shown = "now" if one.kind == "fletched" else "then"
        parts.append(
            element("circle", cx=x, cy=y, r=6, class_=f"tear {shown}{'' if one.good else ' bad'}")
        )
    edge = f"{reach:.0f} in"
    parts += [
        text(4, HIGH - 4, f"left {edge}"),
        text(WIDE - 4, HIGH - 4, f"right {edge}", text_anchor="end"),
    ]
    return picture(int(WIDE), int(HIGH), "Impacts sideways by distance", "tears", parts)
