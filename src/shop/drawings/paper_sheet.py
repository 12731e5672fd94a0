"""The paper: a sheet to tap two holes on, with the tears from change to change."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from bowcore.evidence.tears import CLEAN_IN
from shop.drawings.svg import element, line, text

HALF_SHEET_IN = 3.0
"""From the middle of the sheet to its edge, in inches."""
LINES = 12
"""From the middle to the edge."""
FAR_IN = 1.3
"""Up to here tears fit on half a sheet, which shows them twice as large."""


@dataclass(frozen=True)
class Hole:
    """A tear, nock's hole less point's [in], and whether the shot was called good."""

    x_in: float
    y_in: float
    good: bool = True


def paper_sheet(
    photo: str = "", groups: Sequence[Sequence[Hole]] = (), leads_to: Hole | None = None
) -> SafeString:
    """A gridded sheet to tap on, with the tears so far; its unit is the inch, its middle 0, y down.

    Parameters
    ----------
    photo : str
        Address of a picture that lies under the grid, "" for none.
    groups : sequence of sequence of Hole
        Tears by the change before them, the newest last; drawn from a point's hole in the middle.
    leads_to : Hole, optional
        Where the next act should bring the tear.
    """
    far = max((abs(v) for group in groups for h in group for v in (h.x_in, h.y_in)), default=0.0)
    half = HALF_SHEET_IN if photo or far > FAR_IN else HALF_SHEET_IN / 2
    ends = [n * half / LINES for n in range(-LINES, LINES + 1)]
    grid = [line(at, -half, at, half, _weight(at)) for at in ends]
    grid += [line(-half, at, half, at, _weight(at)) for at in ends]
    holes = [
        element("line", class_="shaft-run", x1=0, y1=0, x2=0, y2=0, data_run="yes"),
        element("circle", class_="hole point", cx=0, cy=0, r=half / 27, data_hole="point"),
        element("circle", class_="hole nock", cx=0, cy=0, r=half / 18, data_hole="nock"),
    ]
    seen = [*_seen(groups, half), *_led(leads_to, half)]
    square = "1/4" if half == HALF_SHEET_IN else "1/8"
    frame = element(
        "svg", "".join([*under(photo, half), *grid, *seen, *holes]), xmlns="http://www.w3.org/2000/svg",
        viewBox=f"{-half} {-half} {2 * half} {2 * half}", class_="paper-sheet", role="group",
        aria_label=f"A sheet of paper, {square} in from line to line", tabindex="0", data_sheet="yes",
    )  # fmt: skip
    return mark_safe(frame)  # noqa: S308  every part above is escaped


def _seen(groups: Sequence[Sequence[Hole]], half_in: float) -> list[str]:
    """The clean circle, tears before the last change in grey, those since over them; what a square is."""
    square = "1/4 in" if half_in == HALF_SHEET_IN else "1/8 in"
    size, r = half_in / 12, half_in / 42
    parts = [element("circle", cx=0, cy=0, r=CLEAN_IN, class_="clean")]
    for at, group in enumerate(groups):
        name = "now" if at == len(groups) - 1 else "then"
        for hole in group:
            bad = "" if hole.good else " bad"
            x, y = float(hole.x_in), -float(hole.y_in)
            parts.append(line(0, 0, x, y, f"seen-run {name}{bad}"))
            parts.append(element("circle", cx=x, cy=y, r=r, class_=f"seen {name}{bad}"))
    edge = half_in - size / 2
    parts.append(text(-edge, -edge + size, f"a square is {square}", font_size=size))
    parts.append(
        text(CLEAN_IN + size / 2, CLEAN_IN + size, "clean", font_size=size, class_="clean-word")
    )
    return parts


def _led(leads_to: Hole | None, half_in: float) -> list[str]:
    """The ring that the next act should bring the nock's hole into."""
    if leads_to is None:
        return []
    x, y = float(leads_to.x_in), -float(leads_to.y_in)
    return [element("circle", cx=x, cy=y, r=half_in / 24, class_="led-to")]


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


def _weight(at_in: float) -> str:
    return "inch" if abs(at_in - round(at_in)) < 1e-9 else "quarter"
