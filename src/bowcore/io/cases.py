"""The cases that the command line takes and the answers that it gives, one shape each."""

from typing import Annotated, Any, Literal

from pydantic import Field

from bowcore.io.book import BookShape
from bowcore.io.edge import Edge, Flag, Number, QuantityKey, StepCount, Text, Value, Whole
from bowcore.io.stored_advice import BandShape, OptionAnswer, PolicyShape

Takes = Annotated[tuple[Value, ...], Field(min_length=1)]


class ReadEvent(Edge):
    """A quantity was read: a value, or `takes` to be summarised with its usual tool."""

    kind: Literal["read"]
    quantity: QuantityKey
    value: Value | None = None
    sigma: Annotated[float, Field(strict=True, ge=1e-6, le=100)] | None = None
    takes: Takes | None = None


class TurnedEvent(Edge):
    """Adjusters were turned: signed steps by key."""

    kind: Literal["turned"]
    steps: dict[str, StepCount]


class ReplacedEvent(Edge):
    """A part was replaced by a new one, by its role."""

    kind: Literal["replaced"]
    part: Text


EventShape = Annotated[ReadEvent | TurnedEvent | ReplacedEvent, Field(discriminator="kind")]


class QuantityBand(BandShape):
    """A band of one quantity."""

    quantity: QuantityKey


class JobHistory(Edge):
    """A finished bow of the model."""

    events: tuple[EventShape, ...]


class BoltShape(Edge):
    """Where both limb bolts are, and how far the maker lets them out, in turns from bottomed."""

    turns_out: Annotated[float, Field(strict=True, ge=0, le=30)] = 0.0
    most_turns_out: Annotated[float, Field(strict=True, ge=0, le=30)] = 0.0


class TwinCase(Edge):
    """A book, and the twin that was answered before, if it was kept."""

    book: BookShape
    twin: dict[str, Any] | None = None


class CurvePosition(Edge):
    """One position of a measured curve, on the way up."""

    draw_in: Annotated[float, Field(strict=True, ge=0, le=40)]
    force_lbf: Annotated[float, Field(strict=True, ge=0, le=150)]


class CurveCase(TwinCase):
    """A book, or a measured curve to fit."""

    points: Annotated[int, Field(strict=True, ge=10, le=400)] = 60
    measured: tuple[CurvePosition, ...] = ()


class LearnCase(TwinCase):
    """A book and a bow's whole history; finished bows of the model teach the prior."""

    events: tuple[EventShape, ...]
    finished: tuple[JobHistory, ...] = ()


class PlanCase(LearnCase):
    """A bow, its whole history and what it should reach."""

    bands: tuple[QuantityBand, ...] | None = None
    policy: PolicyShape = PolicyShape()
    limit: Annotated[int, Field(strict=True, ge=1, le=40)] = 8
    limb_bolts: BoltShape = BoltShape()


class AtRestShape(Edge):
    """Timing read at rest."""

    method: Text
    difference_in: Annotated[float, Field(strict=True, ge=-2, le=2)]
    bolts_bottomed: Flag = False


class DrawnShape(Edge):
    """Timing read at full draw."""

    gap_in: Annotated[float, Field(strict=True, ge=-1.5, le=1.5)]


class TimingCase(Edge):
    """A reading at rest, a drawn one, or both."""

    book: BookShape | None = None
    twin: dict[str, Any] | None = None
    at_rest: AtRestShape | None = None
    drawn: DrawnShape | None = None


class LeanCase(TwinCase):
    """A laid shaft or laser on one face or on both."""

    off_in: Annotated[tuple[Number, ...], Field(min_length=1, max_length=2)]
    over_in: Annotated[float, Field(strict=True, ge=4, le=60)] = 24.0
    leg_strands: Annotated[int, Field(strict=True, ge=4, le=60)] = 16
    leg_twists: Annotated[float, Field(strict=True, ge=0, le=10)] = 3.0


class TakesCase(Edge):
    """Several takes of one quantity."""

    takes: Takes


class ReadingsCase(TakesCase):
    """Several takes, judged by a band and against earlier ones, where given."""

    quantity: QuantityKey
    band: BandShape | None = None
    before: TakesCase | None = None


class FaultShape(Edge):
    """What is wrong with a simulated bow; see `Faults`."""

    shorter: dict[str, Annotated[float, Field(strict=True, ge=-1, le=1)]] = {}
    limb_uneven: Annotated[float, Field(strict=True, ge=-0.2, le=0.2)] = 0.0
    noise: Annotated[float, Field(strict=True, ge=0, le=10)] = 1.0
    leans_in: Annotated[float, Field(strict=True, ge=-6, le=6)] = 0.0
    leans_bottom_in: Annotated[float, Field(strict=True, ge=-6, le=6)] = 0.0


class BenchAct(Edge):
    """One thing done to a simulated bow: turn it, shoot it, or read it."""

    turn: dict[str, StepCount] | None = None
    shoot: Annotated[int, Field(strict=True, ge=0, le=10_000)] | None = None
    read: Text | None = None
    takes: Annotated[int, Field(strict=True, ge=1, le=20)] = 1


class VirtualCase(Edge):
    """A simulated bow and what is done to it, in order."""

    book: BookShape
    seed: Annotated[int, Field(strict=True, ge=0, le=2**31)] = 1
    spread: Annotated[float, Field(strict=True, ge=0, le=3)] = 1.0
    faults: FaultShape = FaultShape()
    acts: tuple[BenchAct, ...]


class EntryCase(Edge):
    """One typed reading."""

    quantity: QuantityKey
    text: Text
    direction: Text = ""


class BundleCase(Edge):
    """A twisted bundle."""

    length_in: Annotated[float, Field(strict=True, ge=1, le=150)]
    strands: Annotated[int, Field(strict=True, ge=1, le=60)]
    twists: Annotated[float, Field(strict=True, ge=0, le=300)]
    served_in: Annotated[float, Field(strict=True, ge=0, le=100)] = 0.0


class TwinAnswer(Edge):
    """A twin's numbers, its drawing, and the twin itself to be kept."""

    measures: dict[str, Number]
    stored_energy_inlbf: Number
    stable: Flag
    nock_travel_in: Number
    stops_open_at_full_draw_in: tuple[Number, ...]
    outline_at_rest: dict[str, Any]
    outline_at_full_draw: dict[str, Any]
    twin: dict[str, Any] = {}


class CurveAnswer(Edge):
    """A force-draw curve and what it says; the fit, where one was asked for."""

    draw_in: tuple[Number, ...]
    force_lbf: tuple[Number, ...]
    peak_lbf: Number
    holding_lbf: Number
    let_off: Number
    stored_energy_inlbf: Number
    valley_in: Number
    nock_travel_in: Number
    parameters: dict[str, tuple[Number, Number]] | None = None
    rms_before_lbf: Number | None = None
    rms_after_lbf: Number | None = None


class ResponseAnswer(Edge):
    """What one step of each adjuster does to each quantity, with uncertainty."""

    quantities: tuple[Text, ...]
    adjusters: tuple[dict[str, Any], ...]
    mean: tuple[tuple[Number, ...], ...]
    sigma: tuple[tuple[Number, ...], ...]
    rests_on: Text


class InnovationAnswer(Edge):
    """What was read against what was expected."""

    quantity: Text
    expected: Number
    sigma: Number
    value: Number
    disbelieved: Flag
    off_sigmas: Number


class ShortfallAnswer(Edge):
    """The part that cannot get there, and by how much it is too short."""

    part: Text
    short_by_in: Number


class PlanAnswer(Edge):
    """What to turn, why, and what else would work."""

    kind: Text
    sentence: Text
    why: tuple[Text, ...]
    read_again: Text
    best: OptionAnswer
    binding: tuple[Text, ...]
    alternatives: tuple[OptionAnswer, ...]
    shortfall: ShortfallAnswer | None
    odd: tuple[InnovationAnswer, ...]
    rests_on: Text


class LessonAnswer(Edge):
    """What the first readings after a change said."""

    steps: dict[str, Whole]
    predicted_and_measured: tuple[InnovationAnswer, ...]


class EstimateAnswer(Edge):
    """A number's best estimate."""

    value: Number
    sigma: Number


class LearnAnswer(Edge):
    """Predicted against measured, and the response that the bow has shown."""

    lessons: tuple[LessonAnswer, ...]
    odd: tuple[InnovationAnswer, ...]
    readings: dict[str, EstimateAnswer]
    mean: tuple[tuple[Number, ...], ...]
    sigma: tuple[tuple[Number, ...], ...]
    rests_on: Text


class GapAnswer(Edge):
    """A gap at full draw, and how it was found."""

    gap_in: Number
    sigma_in: Number
    source: Text


class TimingAnswer(Edge):
    """The gap to believe, and what the reading at rest makes of it."""

    believed: GapAnswer
    at_rest: GapAnswer | None


class LeanShape(Edge):
    """A lean as an angle, and half the difference of both faces."""

    angle_deg: Number
    spread_deg: Number


class LeanAnswer(Edge):
    """The lean, and what half a twist in one yoke leg does to it."""

    lean: LeanShape
    degrees_per_half_twist: Number


class VerdictAnswer(Edge):
    """A value judged by its band."""

    side: Text
    by: Number
    chance_inside: Number


class ChangeAnswer(Edge):
    """A change between two groups of takes, and whether it is more than scatter."""

    by: Number
    scatter: Number
    smaller_than_scatter: Flag


class ReadingsAnswer(Edge):
    """Several takes as one value."""

    value: Number
    words: Text
    spread: Number
    sigma: Number
    outliers: tuple[Whole, ...]
    verdict: VerdictAnswer | None = None
    change: ChangeAnswer | None = None


class TakesAnswer(Edge):
    """What the tools read of one quantity."""

    quantity: Text
    takes: tuple[Number, ...]


class VirtualAnswer(Edge):
    """Exactly what the tools read, in order."""

    answers: tuple[TakesAnswer, ...]


class EntryAnswer(Edge):
    """A typed reading understood."""

    value: Number
    unit: Text
    words: Text
    sigma: Number
    implausible: Text


class BundleAnswer(Edge):
    """A bundle's strands, and how much shorter each number of half twists makes it."""

    strand_length_in: Number
    effective_radius_in: Number
    shortening_in: dict[str, Number]


class NockCase(TwinCase):
    """A book, and what sits on its string: what nock and ties want at full draw."""

    served_in: Annotated[float, Field(strict=True, gt=0.03, lt=0.3)] = 0.11
    tie_in: Annotated[float, Field(strict=True, gt=0, lt=0.1)] = 0.014


class NockAnswer(Edge):
    """Angles of the string at full draw [deg], play that is wanted there [in], and where the nock starts for
    a level draw [in]."""

    string_angle_deg: Number
    play_wanted_in: Number
    nock_above_rest_in: Number
    nock_travel_in: Number


class PeepCase(TwinCase):
    """A peep on a string: how far it has to turn, clockwise seen from above; a height from another bow."""

    nock_to_peep_in: Annotated[float, Field(strict=True, gt=1, lt=12)]
    turn_deg: Annotated[float, Field(strict=True, ge=-180, le=180)] = 0.0
    lay: Literal["z", "s"] = "z"
    from_book: BookShape | None = None


class PeepTurnAnswer(Edge):
    """Half twists in at each end, out if negative; how far that turns the peep and what is left. [deg]"""

    bottom: Whole
    top: Whole
    shorter_half_twists: Whole
    turned_deg: Number
    left_deg: Number


class PeepAnswer(Edge):
    """Place of the peep on the string, ways to turn it, and its height on this bow for the same eye. [in]"""

    share_from_top: Number
    turns: tuple[PeepTurnAnswer, ...]
    nock_to_peep_in: Number
    sigma_in: Number


class RestCase(TwinCase):
    """A book, and what its rest's cord is tied to; half twists made since its cord was set."""

    driver: Literal["cable_a", "cable_b", "top_limb", "bottom_limb"]
    clamp_in: Annotated[float, Field(strict=True, ge=0, le=40)] | None = None
    up_in: Annotated[float, Field(strict=True, ge=0, le=20)] = 1.5
    lift_in: Annotated[float, Field(strict=True, gt=0, le=3)] = 0.75
    twisted_since: dict[str, StepCount] = {}


class RestAnswer(Edge):
    """Where the cord is clamped, its length with the arm up, and when the arm comes up, in inches before full
    draw; None where it does not."""

    clamp_in: Number
    cord_in: Number
    up_in: Number | None
    begins_in: Number | None
    up_now_in: Number | None


class SightMarkShape(Edge):
    """A mark of the archer's. [yd, in]"""

    distance_yd: Annotated[float, Field(strict=True, gt=0, le=200)]
    place_in: Value


class SightCase(Edge):
    """Speeds before and after, where eye and pin are, and the distances; marks that were shot show drag."""

    speed_fps: Number
    now_fps: Number
    peep_to_pin_in: Number
    eye_above_arrow_in: Number = 4.0
    distances_yd: Annotated[
        tuple[Annotated[float, Field(strict=True, gt=0, le=200)], ...], Field(max_length=40)
    ] = (20, 30, 40, 50, 60)
    marks: Annotated[tuple[SightMarkShape, ...], Field(max_length=40)] = ()
    speed_sigma_fps: Annotated[float, Field(strict=True, ge=0, le=50)] = 1.0


class MovedMarkAnswer(Edge):
    """How far down a mark goes and its doubt; how much lower the arrow hits by the old one. [in]"""

    distance_yd: Number
    down_in: Number
    sigma_in: Number
    impact_in: Number


class SightAnswer(Edge):
    """Drag that was learned [1/ft], why marks were left out, "" if none were, and every mark."""

    drag_per_ft: Number
    doubt: str = ""
    marks: tuple[MovedMarkAnswer, ...]
