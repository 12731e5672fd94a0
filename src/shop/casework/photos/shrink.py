"""Photographs: checked by what is in them, shrunk, turned upright, without their metadata."""

import io
import warnings
from dataclasses import dataclass
from typing import BinaryIO

from PIL import Image, ImageOps

from bowcore.errors import BadInput

MOST_PHOTO_BYTES = 15_000_000
MOST_PIXELS = 60_000_000
LONGEST_SIDE = 1600
_PHOTO_KINDS = ("JPEG", "PNG", "WEBP")


@dataclass(frozen=True)
class Shrunk:
    """A photograph as it is kept."""

    jpeg: bytes
    width: int
    height: int


def shrink(given: BinaryIO, size: int) -> Shrunk:
    """Check and shrink an uploaded photograph.

    Parameters
    ----------
    given : binary file
        As uploaded. Its name and its declared type are not trusted and not used.
    size : int
        Its length in bytes.

    Returns
    -------
    Shrunk
        A JPEG of at most 1600 pixels a side; nothing but pixels is taken over.

    Raises
    ------
    BadInput
        Too large, or not a photograph.
    """
    if size > MOST_PHOTO_BYTES:
        raise BadInput("That photo is over 15 MB.", "photo", "JPEG, PNG or WebP up to 15 MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            picture = Image.open(given, formats=_PHOTO_KINDS)
            if picture.width * picture.height > MOST_PIXELS:
                raise BadInput("That photo has too many pixels.", "photo", "up to 60 megapixels")
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (
        OSError,
        SyntaxError,
        ValueError,
        Image.DecompressionBombWarning,
        Image.DecompressionBombError,
    ):
        raise BadInput("That is not a photo.", "photo", "JPEG, PNG or WebP") from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    image = Image.new("RGB", upright.size)
    image.paste(upright)
    target = io.BytesIO()
    image.save(target, "JPEG", quality=80, optimize=True)
    return Shrunk(target.getvalue(), image.width, image.height)
