"""A photo of a sheet or a butt laid flat: perspective removed by four corners, cut out around one place."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

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
    photo = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR)
    if photo is None:
        raise BadInput("That is not a photo.", "photo")
    high, wide = photo.shape[:2]
    corners = np.array(tapped.corners, np.float32)
    if cv2.contourArea(corners) < LEAST_ENCLOSED * high * wide:
        raise BadInput("These corners are too close together to lay the sheet flat.", "corners")
    to_inches = _to_inches(corners, tapped)
    centre = cv2.perspectiveTransform(np.array([[middle]], np.float32), to_inches)[0, 0]
    scale = PIXELS / (2 * half_in)
    to_pixels = np.array(
        [
            [scale, 0, scale * (half_in - float(centre[0]))],
            [0, scale, scale * (half_in - float(centre[1]))],
            [0, 0, 1],
        ]
    )
    flat = cv2.warpPerspective(photo, to_pixels @ to_inches, (PIXELS, PIXELS))
    done, encoded = cv2.imencode(".jpg", flat, [cv2.IMWRITE_JPEG_QUALITY, QUALITY])
    if not done:
        raise BadInput("This photo cannot be laid flat.", "photo")
    return encoded.tobytes()


def _to_inches(corners: NDArray[np.float32], tapped: TappedCorners) -> NDArray[np.float64]:
    wide, high = tapped.wide_in, tapped.high_in
    true = np.array([[0, 0], [wide, 0], [wide, high], [0, high]], np.float32)
    return np.asarray(cv2.getPerspectiveTransform(corners, true), float)


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
