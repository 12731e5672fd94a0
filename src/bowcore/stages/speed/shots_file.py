"""Shots in and out as CSV, one line a shot, seen from behind the bow: x to the right, y up.

Columns, in any order, others ignored: `test` (paper, bare_shaft, french, walk_back, broadhead or
chronograph), `distance_yd`, `x_in`, `y_in`, `kind`, `arrow`, `spine`, `shooter`, `called` (good or bad); of
the chronograph `speed_fps`, `mass_gr` and `weights_in` instead of a place.
"""

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite
from typing import TypeVar

from bowcore.errors import BadInput
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.evidence.tears import PAPER_YD
from bowcore.stages.speed.speed_strings import SpeedShot

CHRONOGRAPH_TEST = "chronograph"
SHOT_COLUMNS = (
    "test", "distance_yd", "x_in", "y_in", "kind", "arrow", "spine", "shooter", "called", "speed_fps",
    "mass_gr", "weights_in",
)  # fmt: skip
CALLED_GOOD, CALLED_BAD = "good", "bad"
MOST_LINES = 500
MOST_NAME = 80
_Choice = TypeVar("_Choice", bound=StrEnum)


@dataclass(frozen=True)
class FiledShots:
    """What a file holds: places on paper and butt, and speeds; each in the order of its lines."""

    shots: tuple[Shot, ...]
    speeds: tuple[SpeedShot, ...]


def read_shots_file(text: str, seq: int) -> FiledShots:
    """Every shot of a file; one that cannot be used refuses the whole file.

    Parameters
    ----------
    text : str
        The file; comma or semicolon between columns.
    seq : int
        Where the shots are among the changes of the job: after the last one.

    Raises
    ------
    BadInput
        No column `test`, nothing in it, too long, or a line that cannot be used; the line is named.
    """
    text = text.removeprefix("\ufeff")
    first = text.partition("\n")[0]
    reader = csv.DictReader(io.StringIO(text), delimiter=";" if ";" in first else ",")
    if "test" not in (reader.fieldnames or []):
        raise BadInput("The file has no column test.", "file", ", ".join(SHOT_COLUMNS))
    shots: list[Shot] = []
    speeds: list[SpeedShot] = []
    for number, row in enumerate(reader, 2):
        if number > MOST_LINES + 1:
            raise BadInput("More shots than one file takes.", "file", f"{MOST_LINES} lines")
        try:
            one = _shot_of(row, seq)
        except BadInput as error:
            raise BadInput(f"Line {number}: {error}", "file") from None
        if isinstance(one, SpeedShot):
            speeds.append(one)
        else:
            shots.append(one)
    if not shots and not speeds:
        raise BadInput("There are no shots in the file.", "file")
    return FiledShots(tuple(shots), tuple(speeds))


def write_shots_file(shots: Sequence[Shot], speeds: Sequence[SpeedShot]) -> list[dict[str, object]]:
    """Shots and speeds as rows of such a file, in the order in which they were shot."""
    rows = [(one.seq, _row_of_shot(one)) for one in shots]
    rows += [(one.seq, _row_of_speed(one)) for one in speeds]
    return [row for _, row in sorted(rows, key=lambda pair: pair[0])]


def _shot_of(row: Mapping[str, str | None], seq: int) -> Shot | SpeedShot:
    cells = {name: (row.get(name) or "").strip() for name in SHOT_COLUMNS}
    called = cells["called"] or CALLED_GOOD
    if called not in (CALLED_GOOD, CALLED_BAD):
        raise BadInput(f"called: '{called}'?", "called", f"{CALLED_GOOD} or {CALLED_BAD}")
    good, arrow, shooter = (
        called == CALLED_GOOD,
        cells["arrow"][:MOST_NAME],
        cells["shooter"][:MOST_NAME],
    )
    if cells["test"] == CHRONOGRAPH_TEST:
        weights = _number(cells, "weights_in") if cells["weights_in"] else None
        return SpeedShot(
            seq, _number(cells, "speed_fps"), _number(cells, "mass_gr"), arrow, weights, good
        )
    test = _choice(ShotTest, cells["test"], "test", CHRONOGRAPH_TEST)
    kind = _choice(ShaftKind, cells["kind"] or ShaftKind.FLETCHED.value, "kind")
    on_paper = test is ShotTest.PAPER and not cells["distance_yd"]
    distance = PAPER_YD if on_paper else _number(cells, "distance_yd")
    x, y = _number(cells, "x_in"), _number(cells, "y_in")
    spine = _number(cells, "spine") if cells["spine"] else 0.0
    return Shot(seq, test, distance, x, y, kind, arrow, shooter, good, spine)


def _choice(kinds: type[_Choice], text: str, column: str, *more: str) -> _Choice:
    try:
        return kinds(text)
    except ValueError:
        allowed = ", ".join([*(one.value for one in kinds), *more])
        raise BadInput(f"{column}: '{text}'?", column, allowed) from None


def _number(cells: Mapping[str, str], name: str) -> float:
    text = cells[name].replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not isfinite(value):
        raise BadInput(f"{name}: '{cells[name]}' is not a number.", name)
    return value


def _row_of_shot(one: Shot) -> dict[str, object]:
    return {
        "test": one.test.value, "distance_yd": one.distance_yd, "x_in": one.x_in, "y_in": one.y_in,
        "kind": one.kind.value, "arrow": one.arrow, "spine": one.spine or "", "shooter": one.shooter,
        "called": _called(one.good),
    }  # fmt: skip


def _row_of_speed(one: SpeedShot) -> dict[str, object]:
    weights = "" if one.weights_in is None else one.weights_in
    return {
        "test": CHRONOGRAPH_TEST, "arrow": one.arrow, "called": _called(one.good), "speed_fps": one.fps,
        "mass_gr": one.mass_gr, "weights_in": weights,
    }  # fmt: skip


def _called(good: bool) -> str:
    return CALLED_GOOD if good else CALLED_BAD
