"""Cases and answers about shots: a tear in words, a group, a line through distances, the next act."""

from typing import Annotated, Literal

from pydantic import Field

from bowcore.diagnosis.shots import FARTHEST_YD, MOST_OFF_IN
from bowcore.diagnosis.tears import SHEET_IN
from bowcore.io.edge import Edge, Flag, Number, Text, Whole

OnSheet = Annotated[float, Field(strict=True, ge=-SHEET_IN, le=SHEET_IN)]
Off = Annotated[float, Field(strict=True, ge=-MOST_OFF_IN, le=MOST_OFF_IN)]
Yards = Annotated[float, Field(strict=True, gt=0, le=FARTHEST_YD)]


class HolesCase(Edge):
    """Where point and nock went through the sheet: x to the right, y up, seen from behind. [in]"""

    point: tuple[OnSheet, OnSheet]
    nock: tuple[OnSheet, OnSheet]
    words: Literal["nock", "tail", "tip", "kick"] = "nock"


class HolesAnswer(Edge):
    """The nock's hole less the point's [in], and the tear in the shop's words."""

    x_in: Number
    y_in: Number
    words: Text


class ShotShape(Edge):
    """A shot: x to the right, y up [in]; not good where the archer called it bad."""

    x_in: Off
    y_in: Off
    good: Flag = True


ShotShapes = Annotated[tuple[ShotShape, ...], Field(min_length=1, max_length=200)]


class GroupCase(Edge):
    """Shots of one kind, nothing changed between them; the change to be seen and the usual scatter. [in]"""

    shots: ShotShapes
    usual_in: Annotated[float, Field(strict=True, gt=0, le=20)] = 0.08
    change_in: Annotated[float, Field(strict=True, gt=0, le=20)] | None = None


class GroupAnswer(Edge):
    """Centre and its standard errors [in], places of flyers, and shots a side to see the change."""

    x_in: Number
    y_in: Number
    sigma_x: Number
    sigma_y: Number
    scatter_in: Number
    flyers: tuple[Whole, ...]
    shots_needed: Whole | None


class DriftShape(Edge):
    """How far to the right an arrow hit from a distance. [yd, in]"""

    distance_yd: Yards
    x_in: Off


class LineCase(Edge):
    """A walk-back: impacts from several distances by one sight mark."""

    shots: Annotated[tuple[DriftShape, ...], Field(min_length=3, max_length=200)]


class LineAnswer(Edge):
    """The line, its errors, whether it slopes or bends beyond them, and where the rest would go. [in, yd]"""

    at_zero_in: Number
    slope_in_per_yd: Number
    slope_sigma: Number
    slopes: Flag
    bends: Flag
    rest_right_in: Number


class EvidenceShape(Edge):
    """A suspect's test: found or not; with `mended` it was mended, and the tear went away or not."""

    suspect: Text
    found: Flag
    mended: Flag = False


class NextCase(Edge):
    """Shots through paper since the last change, and what was looked at."""

    shots: Annotated[tuple[ShotShape, ...], Field(max_length=200)] = ()
    evidence: Annotated[tuple[EvidenceShape, ...], Field(max_length=200)] = ()
    left_handed: Flag = False


class SuspicionAnswer(Edge):
    """A suspect, its chance now, and where it is: open, cleared or proven."""

    suspect: Text
    chance: Number
    standing: Text


class NextAnswer(Edge):
    """What to do now and why, the taps if there are any, and every suspect of the larger tear."""

    kind: Text
    do: Text
    why: Text
    suspect: Text
    steps: dict[str, int]
    suspects: tuple[SuspicionAnswer, ...]
