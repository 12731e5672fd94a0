"""A chance on a rule of tenths."""

from django.utils.safestring import SafeString

from shop.drawings.svg import element, line, picture

WIDTH, HEIGHT, AXIS, TENTHS = 120, 26, 22, 10


def chance_rule(chance: float) -> SafeString:
    """From never to always, with a mark at a chance."""
    pitch = (WIDTH - 16) / TENTHS
    at = 8 + chance * (WIDTH - 16)
    parts = [line(8, AXIS, WIDTH - 8, AXIS, "axis")]
    parts += [
        line(8 + pitch * n, AXIS - (12 if n % 5 == 0 else 6), 8 + pitch * n, AXIS, "tick")
        for n in range(TENTHS + 1)
    ]
    head = f"{at - 7:.1f},4 {at + 7:.1f},4 {at:.1f},{AXIS - 2}"
    parts.append(element("polygon", points=head, class_="here"))
    return picture(WIDTH, HEIGHT, f"about {round(chance * TENTHS)} in ten", "chance-rule", parts)
