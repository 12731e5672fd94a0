"""Which three radii are read on the cams at full draw: a cable runs from the cam that takes it up to the
other."""

from math import asin, cos, hypot, sin

from django.utils.safestring import SafeString

from shop.drawings.svg import element, line, picture, text

_Place = tuple[float, float]
WIDTH, HEIGHT = 340, 470
TOP, BOTTOM = (120.0, 130.0), (120.0, 370.0)  # axles
PEG, TAKE_UP, LET_OUT = 88.0, 44.0, 32.0


def cam_measures() -> SafeString:
    """The top cam with its stop peg and take-up track, the bottom one with its let-out track, each radius
    numbered in the order in which it is asked for."""
    lean = asin((TAKE_UP + LET_OUT) / (BOTTOM[1] - TOP[1]))  # the cable crosses between the axles
    leaves = (TOP[0] + TAKE_UP * cos(lean), TOP[1] + TAKE_UP * sin(lean))
    ends = (BOTTOM[0] - LET_OUT * cos(lean), BOTTOM[1] - LET_OUT * sin(lean))
    peg = (TOP[0] + PEG * cos(0.6), TOP[1] - PEG * sin(0.6))
    parts = [
        _cam(TOP, 100.0, "Cam that takes the cable up", 16),
        _cam(BOTTOM, 84.0, "The other cam", HEIGHT - 6),
        _track(TOP, TAKE_UP),
        _track(BOTTOM, LET_OUT),
        line(*leaves, *ends, "cable"),
        element("circle", cx=peg[0], cy=peg[1], r=9.0, class_="peg"),
        *_radius("1", TOP, peg),
        *_radius("2", TOP, leaves),
        *_radius("3", BOTTOM, ends),
    ]
    words = "From the axle: 1 to the stop peg, 2 to the take-up track, 3 to the other cam's let-out track"
    return picture(WIDTH, HEIGHT, words, "cam-measures", parts)


def _cam(axle: _Place, size: float, name: str, y: float) -> str:
    outline = element("circle", cx=axle[0], cy=axle[1], r=size, class_="cam")
    return (
        outline + text(4, y, name) + element("circle", cx=axle[0], cy=axle[1], r=4.0, class_="axle")
    )


def _track(axle: _Place, radius: float) -> str:
    return element("circle", cx=axle[0], cy=axle[1], r=radius, class_="track")


def _radius(number: str, axle: _Place, to: _Place) -> list[str]:
    length = hypot(to[0] - axle[0], to[1] - axle[1])
    x, y = (b + 24 * (b - a) / length for a, b in zip(axle, to, strict=True))
    return [line(*axle, *to, "span"), text(x, y + 7, number, class_="number")]
