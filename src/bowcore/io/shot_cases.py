"""Cases and answers about shots: a tear in words, a group, a line through distances, the next act."""

from typing import Annotated, Literal

from pydantic import Field

from bowcore.evidence.shots import FARTHEST_YD, MOST_OFF_IN
from bowcore.evidence.tears import SHEET_IN
from bowcore.io.edge import Edge, Flag, Number, Text, Whole
from bowcore.stages.shooting_in.suspects import Mending
from bowcore.stages.speed.speed_strings import HEAVIEST_GR, LIGHTEST_GR

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
    """A suspect's test: found or not; or what became of the tear when it was mended."""

    suspect: Text
    found: Flag = False
    mended: Annotated[Mending, Field(strict=False)] | None = None


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


Grains = Annotated[float, Field(strict=True, ge=LIGHTEST_GR, le=HEAVIEST_GR)]
FeetASecond = Annotated[float, Field(strict=True, ge=80, le=450)]
Mass = Annotated[float, Field(strict=True, ge=0, le=400)]


class SpeedStringShape(Edge):
    """Speeds of one arrow with nothing changed between them [ft/s]; its mass [gr]; where the string weights
    were, from each cam, if they are being tried. [in]"""

    speeds_fps: Annotated[tuple[FeetASecond, ...], Field(min_length=1, max_length=50)]
    mass_gr: Grains
    weights_in: Annotated[float, Field(strict=True, gt=0, le=10)] | None = None


class SpeedCase(Edge):
    """Strings in the order in which they were shot, and masses whose speed is wanted. [gr]"""

    strings: Annotated[tuple[SpeedStringShape, ...], Field(min_length=1, max_length=50)]
    predict_gr: Annotated[tuple[Grains, ...], Field(max_length=20)] = ()


class SpeedStringAnswer(Edge):
    """Mean, its standard uncertainty and spread [ft/s], energy [ft lbf], momentum [lbf s], and whether three
    agree."""

    mean_fps: Number
    sigma_fps: Number
    spread_fps: Number
    energy_ft_lbf: Number
    momentum_lb_s: Number
    finished: Flag


class PredictedSpeed(Edge):
    """How fast an arrow of some mass flies and the standard uncertainty of that. [gr, ft/s]"""

    mass_gr: Number
    fps: Number
    sigma_fps: Number


class SpeedAnswer(Edge):
    """Every string; what moves with the arrow by the lightest and the heaviest [gr], null where they do not
    say; speeds of other arrows; where the string weights go next [in], null where none were tried."""

    strings: tuple[SpeedStringAnswer, ...]
    moving_gr: Number | None
    moving_sigma_gr: Number | None
    predicted: tuple[PredictedSpeed, ...]
    weights_next_in: Number | None
    weights_done: Flag


class ArrowCase(Edge):
    """Parts of an arrow [gr], and either its length or the draw length that it is cut for. [in]"""

    length_in: Annotated[float, Field(strict=True, ge=15, le=40)] | None = None
    draw_length_in: Annotated[float, Field(strict=True, ge=18, le=36)] | None = None
    rest_ahead_in: Annotated[float, Field(strict=True, ge=-4, le=4)] = 0.0
    clearance_in: Annotated[float, Field(strict=True, ge=0, le=4)] = 0.5
    shaft_gr_per_in: Annotated[float, Field(strict=True, ge=3, le=20)]
    point_gr: Mass
    insert_gr: Mass = 0.0
    nock_gr: Mass = 0.0
    fletching_gr: Mass = 0.0
    wrap_gr: Mass = 0.0
    peak_lbf: Annotated[float, Field(strict=True, gt=0, le=150)]


class ArrowAnswer(Edge):
    """Length [in], mass [gr], balance and its standard uncertainty [in], share ahead of its middle, the least
    mass [gr] and whether it is too light, and the class of spine with its range."""

    length_in: Number
    mass_gr: Number
    balance_in: Number
    balance_sigma_in: Number
    forward_of_centre: Number
    least_mass_gr: Number
    too_light: Flag
    spine: Number
    spine_least: Number
    spine_most: Number
