"""The paper: a sheet to tap two holes on, and the tears from change to change as one picture."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import hypot

from django.utils.safestring import SafeString, mark_safe

from bowcore.evidence.tears import CLEAN_IN
from shop.drawings.svg import element, line, picture, text

HALF_SHEET_IN = 3.0
"""From the middle of the sheet to its edge, in inches."""
HEAD, LEAST_ARROW = 12.0, 14.0
"""An arrow's head, and the shortest arrow that gets one, in pixels."""


@dataclass(frozen=True)
class Hole:
    """A tear, nock's hole less point's [in], and whether the shot was called good."""

    x_in: float
    y_in: float
    good: bool = True


def paper_sheet(photo: str = "") -> SafeString:
    """A gridded sheet; its unit is the inch, its middle 0, x to the right, y down.

    Parameters
    ----------
    photo : str
        Address of a picture that lies under the grid, "" for none.
    """
    grid = [
        *(line(n / 4, -HALF_SHEET_IN, n / 4, HALF_SHEET_IN, _weight(n)) for n in range(-12, 13)),
        *(line(-HALF_SHEET_IN, n / 4, HALF_SHEET_IN, n / 4, _weight(n)) for n in range(-12, 13)),
    ]
    holes = [
        element("line", class_="shaft-run", x1=0, y1=0, x2=0, y2=0, data_run="yes"),
        element("circle", class_="hole point", cx=0, cy=0, r=0.11, data_hole="point"),
        element("circle", class_="hole nock", cx=0, cy=0, r=0.17, data_hole="nock"),
    ]
    frame = element(
        "svg", "".join([*under(photo, HALF_SHEET_IN), *grid, *holes]), xmlns="http://www.w3.org/2000/svg",
        viewBox=f"{-HALF_SHEET_IN} {-HALF_SHEET_IN} {2 * HALF_SHEET_IN} {2 * HALF_SHEET_IN}",
        class_="paper-sheet", role="group",
        aria_label="A sheet of paper, a quarter of an inch from line to line", tabindex="0", data_sheet="yes",
    )  # fmt: skip
    return mark_safe(frame)  # noqa: S308  every part above is escaped


def photo_to_tap(
    photo: str, wide: int, high: int, places: Mapping[str, Sequence[float] | None]
) -> SafeString:
    """A photo in which places are tapped in turn; its unit is the pixel, from the top left corner.

    Parameters
    ----------
    photo : str
        Its address.
    wide, high : int
        Its size. [pixels]
    places : mapping of str to pair of float, or to None
        Where each was tapped before, by the name of the fields that take it. [pixels]
    """
    r = max(wide, high) / 90
    rings = [
        element(
            "circle", class_="hole corner" + (" placed" if at else ""), cx=at[0] if at else 0,
            cy=at[1] if at else 0, r=r, data_hole=name,
        )
        for name, at in places.items()
    ]  # fmt: skip
    image = element("image", href=photo, x=0, y=0, width=wide, height=high)
    frame = element(
        "svg", "".join([image, *rings]), xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {wide} {high}",
        class_="paper-sheet photo", role="group", tabindex="0", data_sheet="yes", data_step=f"{r / 4:.2f}",
        aria_label="The photo: tap its four corners in turn, then the middle",
    )  # fmt: skip
    return mark_safe(frame)  # noqa: S308  every part above is escaped


def under(photo: str, half_in: float) -> list[str]:
    """A picture that fills a face from edge to edge; nothing where its address is ""."""
    if not photo:
        return []
    side = 2 * half_in
    return [element("image", href=photo, x=-half_in, y=-half_in, width=side, height=side)]


def _weight(n: int) -> str:
    return "inch" if n % 4 == 0 else "quarter"


def tears_so_far(groups: Sequence[Sequence[Hole]]) -> SafeString | str:
    """Every tear by the change before it, the newest filled, and the ring of a clean hole; "" without any."""
    if not groups:
        return ""
    reach = max([1.0, *(abs(v) + 0.3 for g in groups for h in g for v in (h.x_in, h.y_in))])
    size = 260.0
    scale = size / 2 / reach

    def at(hole: Hole) -> tuple[float, float]:
        return size / 2 + hole.x_in * scale, size / 2 - hole.y_in * scale

    parts = [
        line(0, size / 2, size, size / 2, "axis"),
        line(size / 2, 0, size / 2, size, "axis"),
        element("circle", cx=size / 2, cy=size / 2, r=CLEAN_IN * scale, class_="clean"),
        text(size - 4, size / 2 - 6, "nock right", text_anchor="end"),
        text(size / 2 + 6, 14, "nock high"),
    ]
    parts += _arrows([at(_centre(group)) for group in groups])
    for number, group in enumerate(groups, 1):
        newest = number == len(groups)
        for place, hole in enumerate(group):
            x, y = at(hole)
            name = ("now" if newest else "then") + ("" if hole.good else " bad")
            parts.append(element("circle", cx=x, cy=y, r=6, class_=f"tear {name}"))
            if not place:
                parts.append(text(x + 8, y - 6, str(number), class_="number"))
    return picture(int(size), int(size), "The tears so far, numbered by change", "tears", parts)


def _centre(group: Sequence[Hole]) -> Hole:
    """The middle of the good ones, of all where none were."""
    counted = [one for one in group if one.good] or list(group)
    x, y = (sum(getattr(h, name) for h in counted) / len(counted) for name in ("x_in", "y_in"))
    return Hole(x, y)


def _arrows(centres: Sequence[tuple[float, float]]) -> list[str]:
    """From the middle of each group to that of the next, with a head at its end."""
    found = []
    for (x1, y1), (x2, y2) in pairwise(centres):
        found.append(line(x1, y1, x2, y2, "trial"))
        long = hypot(x2 - x1, y2 - y1)
        if long < LEAST_ARROW:
            continue
        ux, uy = (x2 - x1) / long * HEAD, (y2 - y1) / long * HEAD
        tips = (
            f"{x2:.1f},{y2:.1f} {x2 - ux - uy / 2:.1f},{y2 - uy + ux / 2:.1f} "
            f"{x2 - ux + uy / 2:.1f},{y2 - uy - ux / 2:.1f}"
        )
        found.append(element("polygon", points=tips, class_="trial"))
    return found
