"""A photo of a sheet or a butt laid flat: perspective removed by four corners, cut out around one place."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from bowcore.errors import BadInput, require_within

PIXELS = 600
"""Side of the flat picture."""
LEAST_SIDE_IN, MOST_SIDE_IN = 1.0, 80.0
LEAST_ENCLOSED = 0.02
"""The four corners enclose at least this share of the photo: our figure."""
QUALITY = 85

PixelPlace = tuple[float, float]


@dataclass(frozen=True)
class TappedCorners:
    """Four corners of something flat as they are in a photo, in pixels, y down: top left, top right, bottom
    right, bottom left; and what they enclose truly. [in]"""

    corners: tuple[PixelPlace, PixelPlace, PixelPlace, PixelPlace]
    wide_in: float
    high_in: float

    def __post_init__(self) -> None:
        """Refuse what nobody sees of a sheet.

        Raises
        ------
        BadInput
            The corners cross or fall together, or nobody shoots at anything of that size.
        """
        for name, side in (("Width", self.wide_in), ("Height", self.high_in)):
            require_within(name, side, (LEAST_SIDE_IN, MOST_SIDE_IN), "in")
        turns = [
            _turn(*(self.corners[(at + n) % 4] for n in range(3)))
            for at in range(len(self.corners))
        ]
        if not all(turn > 0 for turn in turns):
            raise BadInput(
                "Tap the corners in turn: top left, top right, bottom right, bottom left.",
                "corners",
            )


def _turn(first: PixelPlace, second: PixelPlace, third: PixelPlace) -> float:
    """Twice the area of a triangle, positive clockwise as it is seen, y down."""
    return (second[0] - first[0]) * (third[1] - first[1]) - (second[1] - first[1]) * (
        third[0] - first[0]
    )


def flat_sheet(jpeg: bytes, tapped: TappedCorners, middle: PixelPlace, half_in: float) -> bytes:
    """The part of a photo around one place, as if it were seen straight from the front.

    Parameters
    ----------
    jpeg : bytes
        The photo.
    tapped : TappedCorners
        Corners of what is known to be a rectangle.
    middle : pair of float
        The place in the photo that becomes the middle. [pixels]
    half_in : float
        From there to each edge of the flat picture. [in]

    Returns
    -------
    bytes
        A JPEG, `PIXELS` a side.

    Raises
    ------
    BadInput
        It is not a picture, or the corners enclose next to nothing of it.
    """
    photo = _opened(jpeg)
    if _enclosed(tapped.corners) < LEAST_ENCLOSED * photo.width * photo.height:
        raise BadInput("These corners are too close together to lay the sheet flat.", "corners")
    to_inches = _to_inches(tapped)
    x, y = _carried(to_inches, middle)
    scale = PIXELS / (2 * half_in)
    to_pixels = np.array(
        [[scale, 0, scale * (half_in - x)], [0, scale, scale * (half_in - y)], [0, 0, 1]]
    )
    back = np.linalg.inv(to_pixels @ to_inches)
    flat = photo.transform(
        (PIXELS, PIXELS),
        Image.Transform.PERSPECTIVE,
        tuple((back / back[2, 2]).ravel()[:8]),
        Image.Resampling.BICUBIC,
    )
    kept = io.BytesIO()
    flat.save(kept, "JPEG", quality=QUALITY)
    return kept.getvalue()


def _opened(jpeg: bytes) -> Image.Image:
    """The photo as it was held, in colour."""
    try:
        with Image.open(io.BytesIO(jpeg)) as photo:
            return ImageOps.exif_transpose(photo).convert("RGB")
    except (UnidentifiedImageError, OSError):
        raise BadInput("That is not a photo.", "photo") from None


def _enclosed(corners: Sequence[PixelPlace]) -> float:
    """Area of a polygon, by the shoelace formula. [square pixels]"""
    places = np.array(corners)
    x, y = places.T
    return float(abs(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2)


def _to_inches(tapped: TappedCorners) -> NDArray[np.float64]:
    """The homography from the photo's pixels to inches on the sheet, by its four corners.

    Two equations a corner for eight unknowns, the ninth being 1. Source: Hartley and Zisserman, Multiple
    View Geometry, 2nd ed. 2004, section 4.1, inhomogeneous solution (from memory).
    """
    wide, high = tapped.wide_in, tapped.high_in
    rows, right = [], []
    for (x, y), (u, v) in zip(
        tapped.corners, ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)), strict=True
    ):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    found = np.linalg.solve(np.array(rows), np.array(right))
    return np.append(found, 1.0).reshape(3, 3)


def _carried(by: NDArray[np.float64], place: PixelPlace) -> tuple[float, float]:
    """Where a homography takes a place."""
    x, y, w = by @ np.array([*place, 1.0])
    return float(x / w), float(y / w)


def corners_of(
    places: Sequence[PixelPlace],
) -> tuple[PixelPlace, PixelPlace, PixelPlace, PixelPlace]:
    """Four places as corners.

    Raises
    ------
    BadInput
        There are more or fewer.
    """
    if len(places) != 4:
        raise BadInput("Tap four corners.", "corners")
    first, second, third, fourth = places
    return first, second, third, fourth
