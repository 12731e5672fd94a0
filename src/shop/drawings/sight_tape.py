"""A sight tape at true scale: printed without scaling, an inch on it is an inch on the bar."""

from collections.abc import Sequence

from django.utils.safestring import SafeString, mark_safe

from bowcore.stages.fit.sight_marks import TapeMark
from shop.drawings.svg import element, text

WIDTH_IN, EDGE_IN = 0.75, 0.2
PER_INCH = 96.0


def sight_tape(marks: Sequence[TapeMark]) -> SafeString:
    """The tape as SVG with its size in inches."""
    high = max(one.down_in for one in marks) + 2 * EDGE_IN
    wide, tall = WIDTH_IN * PER_INCH, high * PER_INCH
    parts = [element("rect", x=0, y=0, width=wide, height=tall, fill="#fff", stroke="#000")]
    for one in marks:
        y = (EDGE_IN + one.down_in) * PER_INCH
        reach = (0.35 if one.named else 0.15) * PER_INCH
        parts.append(element("line", x1=0, y1=y, x2=reach, y2=y, stroke="#000"))
        if one.named:
            words = str(one.distance_yd)
            parts.append(text(reach + 5, y + 4, words, font_size=11, fill="#000"))
    frame = element(
        "svg",
        "".join(parts),
        xmlns="http://www.w3.org/2000/svg",
        width=f"{WIDTH_IN}in",
        height=f"{high:.3f}in",
        viewBox=f"0 0 {wide:g} {tall:.1f}",
        font_family="sans-serif",
        role="img",
        aria_label="Sight tape at true scale",
    )
    return mark_safe(frame)  # noqa: S308  every part above is escaped
