"""One cam close up, to scale: its tracks and every string and cable that runs on or off it."""

from typing import Any

from django.utils.safestring import SafeString

from shop.drawings.svg import element, picture

SIZE, PER_INCH = 260, 52
SIDES = ("Top cam", "Bottom cam")


def cam(outline: dict[str, Any], side: int, said: str, part: str = "") -> SafeString:
    """A cam of one state.

    Parameters
    ----------
    outline : dict
        As `bowcore.mechanics.outline.outline` gives it, in inches.
    side : int
        0 for the top cam, 1 for the bottom one.
    said : str
        What its stop does, for those who cannot see it.
    part : str
        Role of the string or cable that stands out.
    """
    x0, y0 = outline["limbs"][side][1]
    ending = ("_t", "_b")[side]

    def path(points: list[list[float]]) -> str:
        places = (
            (SIZE / 2 + (x - x0) * PER_INCH, SIZE / 2 - (y - y0) * PER_INCH) for x, y in points
        )
        return "M" + " L".join(f"{x:.1f},{y:.1f}" for x, y in places)

    tracks = [line for name, line in outline["tracks"].items() if name.endswith(ending)]
    parts = [element("path", d=path(line) + "Z", class_="track") for line in tracks]
    for role, runs in outline["ropes"].items():
        class_ = "rope here" if role == part else ("string" if role == "string" else "rope")
        parts += [element("path", d=path(run), class_=class_) for run in runs]
    parts.append(element("circle", cx=SIZE / 2, cy=SIZE / 2, r=5, class_="axle"))
    return picture(SIZE, SIZE, f"{SIDES[side]}, {said}", "cam", parts)
