"""Which three distances are read on the cams at full draw: a cable runs from the cam that takes it up to the
other. Tracks are not round, so the cable's line is drawn out and measured square to it."""

from math import acos, atan2, cos, hypot, pi, sin

from django.utils.safestring import SafeString

from shop.drawings.svg import element, line, picture, text

_Place = tuple[float, float]
WIDTH, HEIGHT = 340, 470
TOP, BOTTOM = (120.0, 130.0), (120.0, 370.0)  # axles
PEG, TAKE_UP, LET_OUT = 88.0, 48.0, 38.0
TAKE_UP_MIDDLE, LET_OUT_MIDDLE = (112.0, 112.0), (132.0, 382.0)
BEYOND, CORNER = 70.0, 9.0


def cam_measures() -> SafeString:
    """The top cam with its stop peg and take-up track, the bottom one with its let-out track, each distance
    numbered in the order in which it is asked for."""
    leaves, ends = _crossing(TAKE_UP_MIDDLE, TAKE_UP, LET_OUT_MIDDLE, LET_OUT)
    foot_up, foot_down = (_foot(axle, leaves, ends) for axle in (TOP, BOTTOM))
    peg = (TOP[0] + PEG * cos(0.6), TOP[1] - PEG * sin(0.6))
    parts = [
        _cam(TOP, 100.0, "Cam that takes the cable up", 16),
        _cam(BOTTOM, 84.0, "The other cam", HEIGHT - 6),
        _track(TAKE_UP_MIDDLE, TAKE_UP),
        _track(LET_OUT_MIDDLE, LET_OUT),
        line(*_onward(ends, leaves, BEYOND), *_onward(leaves, ends, BEYOND), "drawn-out"),
        line(*leaves, *ends, "cable"),
        element("circle", cx=peg[0], cy=peg[1], r=9.0, class_="peg"),
        *_distance("1", TOP, peg),
        *_distance("2", TOP, foot_up),
        *_distance("3", BOTTOM, foot_down),
        _square(TOP, foot_up, leaves, ends),
        _square(BOTTOM, foot_down, ends, leaves),
    ]
    words = (
        "From the axle: 1 to the stop peg, 2 square to the cable's line on the cam that takes it up, 3 "
        "square to the same line on the other cam"
    )
    return picture(WIDTH, HEIGHT, words, "cam-measures", parts)


def _crossing(one: _Place, r1: float, other: _Place, r2: float) -> tuple[_Place, _Place]:
    """Where a rope that crosses between two circles touches them: the right side of the first."""
    apart = hypot(other[0] - one[0], other[1] - one[1])
    towards = atan2(other[1] - one[1], other[0] - one[0])
    at = towards - acos((r1 + r2) / apart)
    touch = (one[0] + r1 * cos(at), one[1] + r1 * sin(at))
    return touch, (other[0] + r2 * cos(at + pi), other[1] + r2 * sin(at + pi))


def _foot(of: _Place, one: _Place, other: _Place) -> _Place:
    """The point of a line that is square below a place."""
    along = (other[0] - one[0], other[1] - one[1])
    share = ((of[0] - one[0]) * along[0] + (of[1] - one[1]) * along[1]) / (
        along[0] ** 2 + along[1] ** 2
    )
    return one[0] + share * along[0], one[1] + share * along[1]


def _onward(start: _Place, through: _Place, by: float) -> _Place:
    """A place beyond another, as seen from a third."""
    length = hypot(through[0] - start[0], through[1] - start[1])
    return (
        through[0] + by * (through[0] - start[0]) / length,
        through[1] + by * (through[1] - start[1]) / length,
    )


def _square(axle: _Place, foot: _Place, one: _Place, other: _Place) -> str:
    """The small corner that says: square."""
    back = _onward(axle, foot, -CORNER)
    to_side = hypot(other[0] - one[0], other[1] - one[1])
    u = ((other[0] - one[0]) / to_side * CORNER, (other[1] - one[1]) / to_side * CORNER)
    corner = (back[0] + u[0], back[1] + u[1])
    places = (back, corner, (foot[0] + u[0], foot[1] + u[1]))
    points = " ".join(f"{x:.1f},{y:.1f}" for x, y in places)
    return element("polyline", points=points, class_="span", fill="none")


def _cam(axle: _Place, size: float, name: str, y: float) -> str:
    outline = element("circle", cx=axle[0], cy=axle[1], r=size, class_="cam")
    return (
        outline + text(4, y, name) + element("circle", cx=axle[0], cy=axle[1], r=4.0, class_="axle")
    )


def _track(middle: _Place, radius: float) -> str:
    return element("circle", cx=middle[0], cy=middle[1], r=radius, class_="track")


def _distance(number: str, axle: _Place, to: _Place) -> list[str]:
    x, y = _onward(axle, to, 24)
    return [line(*axle, *to, "span"), text(x, y + 7, number, class_="number")]
