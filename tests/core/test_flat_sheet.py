"""A photo laid flat: marks that were drawn in perspective, without any transform, come back in place."""

import io

import numpy as np
import pytest
from PIL import Image, ImageDraw

from bowcore.errors import BadInput
from bowcore.stages.shooting_in.flat_sheet import PIXELS, TappedCorners, flat_sheet

WIDE, HIGH, PER_IN = 8.5, 11.0, 80
MARKS = ((4.25, 5.5), (3.0, 5.0), (5.75, 6.5))
CORNERS = ((140.0, 90.0), (700.0, 150.0), (760.0, 900.0), (60.0, 820.0))


def photo():
    """A sheet as it is seen askew: its outline and three marks drawn where the equations put them."""
    true = [(0, 0), (WIDE * PER_IN, 0), (WIDE * PER_IN, HIGH * PER_IN), (0, HIGH * PER_IN)]
    to_sheet = coefficients(CORNERS, true)
    seen = Image.new("RGB", (820, 960), "grey")
    draw = ImageDraw.Draw(seen)
    draw.polygon(CORNERS, fill="white")
    for mark in MARKS:
        x, y = in_photo(mark, to_sheet)
        draw.ellipse([x - 5, y - 5, x + 5, y + 5], fill="black")
    target = io.BytesIO()
    seen.save(target, "JPEG", quality=95)
    return target.getvalue(), to_sheet


def coefficients(seen, true):
    """Eight coefficients from the photo to the sheet, by linear equations."""
    rows, right = [], []
    for (x, y), (u, v) in zip(seen, true, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    return np.linalg.solve(np.array(rows, float), np.array(right, float))


def in_photo(where, sheet_of_photo):
    """Where a place of the sheet is in the photo, by inverting those coefficients."""
    matrix = np.append(sheet_of_photo, 1).reshape(3, 3)
    x, y, w = np.linalg.solve(matrix, [where[0] * PER_IN, where[1] * PER_IN, 1])
    return x / w, y / w


def test_marks_come_back_where_they_are_on_the_sheet():
    jpeg, to_sheet = photo()
    half = 2.5
    flat = flat_sheet(jpeg, TappedCorners(CORNERS, WIDE, HIGH), in_photo(MARKS[0], to_sheet), half)
    picture = np.array(Image.open(io.BytesIO(flat)).convert("L"))
    assert picture.shape == (PIXELS, PIXELS)
    dark = np.argwhere(picture < 90)
    for x, y in MARKS:
        wanted = np.array([y - MARKS[0][1], x - MARKS[0][0]]) * PIXELS / (2 * half) + PIXELS / 2
        near = dark[np.linalg.norm(dark - wanted, axis=1) < 25]
        off_in = (near.mean(axis=0) - wanted) * 2 * half / PIXELS
        assert np.linalg.norm(off_in) < 1 / 32


@pytest.mark.parametrize(
    ("corners", "wide"),
    [
        ((CORNERS[1], CORNERS[0], CORNERS[2], CORNERS[3]), WIDE),
        (tuple(reversed(CORNERS)), WIDE),
        ((CORNERS[0],) * 4, WIDE),
        (CORNERS, 0.2),
        (CORNERS, 900),
    ],
)
def test_corners_that_cross_or_a_size_that_no_sheet_has_are_refused(corners, wide):
    with pytest.raises(BadInput):
        TappedCorners(corners, wide, HIGH)


def test_what_is_no_photo_or_hardly_any_of_it_is_refused():
    jpeg, _ = photo()
    tiny = ((10.0, 10.0), (20.0, 10.0), (20.0, 20.0), (10.0, 20.0))
    with pytest.raises(BadInput, match="too close together"):
        flat_sheet(jpeg, TappedCorners(tiny, WIDE, HIGH), (15, 15), 3)
    with pytest.raises(BadInput, match="not a photo"):
        flat_sheet(b"no picture", TappedCorners(CORNERS, WIDE, HIGH), (15, 15), 3)
