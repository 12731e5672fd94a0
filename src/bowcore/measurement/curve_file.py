"""A measured force-draw curve: read from CSV, and what it says on its own.

Columns, in any order, others ignored: `draw_length_in` (as draw length is given: to the throat of the
grip plus 1 3/4 in) and `force_lbf`, one line a position on the way up.
"""

import csv
import io
import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from bowcore.errors import BadInput

CURVE_COLUMNS = ("draw_length_in", "force_lbf")
LEAST_POINTS, MOST_POINTS = 8, 2000
DRAWS_IN, FORCES_LBF = (4.0, 36.0), (0.0, 120.0)
"""What no bow goes outside of."""

CurvePoint = tuple[float, float]


@dataclass(frozen=True)
class CurveSummary:
    """What a curve says on its own. `energy_ftlb` is the area under it from its first position."""

    peak_lbf: float
    holding_lbf: float
    let_off: float
    draw_length_in: float
    energy_ftlb: float


def read_curve(text: str) -> list[CurvePoint]:
    """Positions and forces of a CSV file, by position.

    Parameters
    ----------
    text : str
        The file; comma or semicolon between columns.

    Returns
    -------
    list of (float, float)
        Draw length [in] and force [lbf], rising along the draw.

    Raises
    ------
    BadInput
        A column is missing, a line is not a number (named), or it is not the curve of a draw.
    """
    text = text.removeprefix("\ufeff")
    first = text.partition("\n")[0]
    reader = csv.DictReader(io.StringIO(text), delimiter=";" if ";" in first else ",")
    missing = [name for name in CURVE_COLUMNS if name not in (reader.fieldnames or [])]
    if missing:
        raise BadInput(
            f"The file has no column {' or '.join(missing)}.", "file", ", ".join(CURVE_COLUMNS)
        )
    try:
        points = [_point(number, row) for number, row in enumerate(reader, 2)]
    except csv.Error as error:
        raise BadInput(f"This file is not CSV: {error}.", "file") from None
    return checked_curve(points)


def checked_curve(points: Sequence[CurvePoint]) -> list[CurvePoint]:
    """The points in order, if they are the curve of a draw.

    Raises
    ------
    BadInput
        Too few or too many points, two at one position, or a force that does not rise and let off.
    """
    if not LEAST_POINTS <= len(points) <= MOST_POINTS:
        raise BadInput(
            f"{len(points)} points: a curve needs {LEAST_POINTS} to {MOST_POINTS}.", "file"
        )
    ordered = sorted(points)
    if any(a[0] == b[0] for a, b in itertools.pairwise(ordered)):
        raise BadInput("Two forces at one position: only the way up belongs in the file.", "file")
    forces = [force for _, force in ordered]
    for what, values, (low, high) in (
        ("draw length", [draw for draw, _ in ordered], DRAWS_IN),
        ("force", forces, FORCES_LBF),
    ):
        if min(values) < low or max(values) > high:
            raise BadInput(
                f"A {what} outside {low:g} to {high:g} is not one of a bow: is it in inches and pounds?",
                "file",
            )
    if min(forces) < 0 or forces[-1] >= max(forces):
        raise BadInput("A draw rises to a peak and falls to its holding weight.", "file")
    return ordered


def summary_of(points: Sequence[CurvePoint]) -> CurveSummary:
    """Peak, holding weight, let-off, draw length and energy of a checked curve."""
    forces = [force for _, force in points]
    peak, holding = max(forces), forces[-1]
    area = sum((b[0] - a[0]) * (a[1] + b[1]) / 2 for a, b in itertools.pairwise(points))
    return CurveSummary(peak, holding, 1 - holding / peak, points[-1][0], area / 12)


def _point(number: int, row: dict[str, str]) -> CurvePoint:
    try:
        draw, force = (float((row[name] or "").replace(",", ".")) for name in CURVE_COLUMNS)
    except ValueError:
        raise BadInput(f"Line {number} is not a position and a force.", "file") from None
    if not (isfinite(draw) and isfinite(force)):
        raise BadInput(f"Line {number} is not a position and a force.", "file")
    return draw, force
