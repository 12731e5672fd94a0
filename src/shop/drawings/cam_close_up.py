"""One cam close up, to scale: its tracks and every string and cable that runs on or off it."""

from dataclasses import dataclass
from math import atan2, cos, hypot, sin
from typing import Any

from django.utils.safestring import SafeString

from bowcore.bow.layout import side_of_track
from bowcore.bow.specification import STRING
from shop.drawings.svg import element, picture

SIZE, PER_INCH = 260, 52
CAM_NAMES = ("Top cam", "Bottom cam")


@dataclass(frozen=True)
class Stop:
    """What a cam's stop leaves open and what the policy wants it to leave open, and the two in words. [in]"""

    open_in: float
    aim_in: float
    words: str


def cam_close_up(outline: dict[str, Any], side: int, stop: Stop, part: str = "") -> SafeString:
    """A cam in one state.

    Parameters
    ----------
    outline : dict
        As `bowcore.bow.outline.outline` gives it, in inches.
    side : int
        0 for the top cam, 1 for the bottom one.
    stop : Stop
        Its gap and the aim; where the peg would be at the aim is drawn as a ring.
    part : str
        Role of the string or cable that stands out.
    """
    x0, y0 = outline["limbs"][side][1]

    def place(x: float, y: float) -> tuple[float, float]:
        return SIZE / 2 + (x - x0) * PER_INCH, SIZE / 2 - (y - y0) * PER_INCH

    def path(points: list[list[float]]) -> str:
        places = (place(x, y) for x, y in points)
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in places)

    tracks = [line for name, line in outline["tracks"].items() if side_of_track(name) == side]
    parts = [element("path", d=path(line) + "Z", class_="track") for line in tracks]
    for role, runs in outline["ropes"].items():
        class_ = "rope here" if role == part else ("string" if role == STRING else "rope")
        parts += [element("path", d=path(run), class_=class_) for run in runs]
    parts.append(element("circle", cx=SIZE / 2, cy=SIZE / 2, r=5, class_="axle"))
    peg = outline["pegs"][side]
    if peg is not None:
        aim = _turned(peg, (x0, y0), (stop.open_in - stop.aim_in) * (-1, 1)[side])
        for (x, y), class_, size in ((aim, "peg aim", 9), (peg, "peg", 6)):
            at_x, at_y = place(x, y)
            parts.append(element("circle", cx=at_x, cy=at_y, r=size, class_=class_))
    return picture(SIZE, SIZE, f"{CAM_NAMES[side]}, {stop.words}", "cam", parts)


def _turned(peg: list[float], axle: tuple[float, float], along_in: float) -> tuple[float, float]:
    """A peg moved along its circle about the axle, counter-clockwise. [in]"""
    x, y = peg[0] - axle[0], peg[1] - axle[1]
    radius, at = hypot(x, y), atan2(y, x)
    at += along_in / radius
    return axle[0] + radius * cos(at), axle[1] + radius * sin(at)
