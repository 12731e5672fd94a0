"""Writes down speeds: of the job's own arrow as its reading, of others as arrows over the chronograph."""

from dataclasses import dataclass

from bowcore.errors import BadInput, Contradicted, Refused
from bowcore.quantities.catalogue import quantity
from bowcore.quantities.entries import read_entry
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_needs import arrow_too_light, mass_too_light
from bowcore.stages.speed.shots_file import read_shots_file
from bowcore.stages.speed.speed_board import SPEED, why_speed_doubted
from bowcore.stages.speed.speed_strings import SpeedShot
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.readings.actions.take_reading import TypedReading, append_take, take_reading
from shop.casework.state import JobState, job_state
from shop.casework.submissions import EventDraft, Submission
from shop.schema.chronograph.models import ArrowSpeed
from shop.schema.chronograph.selectors import last_speed
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from shop.stages.shooting_in.actions import append_shot, require_shot_in

MOST_FILE_BYTES = 200_000


@dataclass(frozen=True)
class SpeedTyped:
    """A speed as it was entered, or as the chronograph showed it.

    `mass_gr` is None for the arrow that the bow is set up for; `weights_in` is where the string weights were
    in a trial of them. [gr, in]
    """

    reading: TypedReading
    arrow: str = ""
    mass_gr: float | None = None
    weights_in: float | None = None
    good: bool = True

    @property
    def is_reading(self) -> bool:
        """Whether it says how fast the job's own arrow is, as the bow stands."""
        return self.mass_gr is None and self.weights_in is None and self.good


def write_down_speed(
    job_id: int, submission: Submission, typed: SpeedTyped
) -> Reading | ArrowSpeed:
    """Append one speed.

    Raises
    ------
    Unreadable
        It was not understood.
    Contradicted
        It does not go with what else is known of the job's own arrow, and is not confirmed.
    Refused
        The press is open, a hold forbids the draw, the arrow is too light, or no arrow is named yet.
    """
    if typed.is_reading:
        if light := arrow_too_light(job_state(Job.objects.get(pk=job_id)).facts):
            raise Refused(light)
        return take_reading(job_id, submission, typed.reading)
    return _write_down_other(job_id, submission, typed)


@job_act("read", right="read")
def _write_down_other(event: EventDraft, typed: SpeedTyped) -> ArrowSpeed:
    shot = _as_shot(event.state, typed, event.seq)
    event.summary = _words(shot)
    return _kept(event.fact, shot)


@job_act("read", right="read")
def take_out_last_speed(event: EventDraft) -> ArrowSpeed:
    """Take out the newest speed that is not a reading: it was entered wrong. Both rows stay on record.

    Raises
    ------
    Refused
        Nothing of that kind was written down, or the job is closed.
    """
    last = last_speed(event.job)
    if last is None:
        raise Refused("There is no speed to take out.")
    event.summary = f"took out a speed: {last.fps:g} fps"
    same = {name: getattr(last, name) for name in ("fps", "mass_gr", "arrow", "weights_in")}
    return ArrowSpeed.objects.create(**event.fact, **same, good=False, takes_out=last)


@job_act("read", right="read")
def bring_in_shots(event: EventDraft, content: bytes) -> int:
    """Append every shot of a file, as shot since the last change; how many.

    Speeds of the job's own arrow are its readings, as if they were typed.

    Raises
    ------
    BadInput
        Too large, not text, or a line that cannot be used; nothing is kept then.
    Refused
        The press is open, a hold forbids the draw, or an arrow is too light.
    """
    if len(content) > MOST_FILE_BYTES:
        raise BadInput(f"That file is over {MOST_FILE_BYTES // 1000} kB.", "file")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput("That file is not a text file.", "file") from None
    state = event.state
    filed = read_shots_file(text, event.seq)
    if filed.shots:
        require_shot_in(state)
    for mass in {one.mass_gr for one in filed.speeds}:
        require_shootable_arrow(state, mass)
    for shot in filed.shots:
        append_shot(event.fact, shot)
    for speed in filed.speeds:
        _append_speed(event, state, speed)
    count = len(filed.shots) + len(filed.speeds)
    event.summary = f"brought in {count} shots from a file"
    return count


def _append_speed(event: EventDraft, state: JobState, speed: SpeedShot) -> None:
    """As a reading where it is one of the job's own arrow."""
    own = state.on_bow.arrow
    is_own = own is not None and own.mass_gr == speed.mass_gr
    if is_own and speed.good and speed.weights_in is None:
        append_take(event, state, TypedReading(SPEED, f"{speed.fps:g}", sure=True))
    else:
        _kept(event.fact, speed)


def require_shootable_arrow(state: JobState, mass_gr: float) -> None:
    """The bow may be drawn, and this arrow is heavy enough for it."""
    require_press_closed(state, "shoot it")
    require_bolts_back(state)
    require_not_held(state, "draw")
    if light := mass_too_light(state.facts, mass_gr):
        raise Refused(light)


def _as_shot(state: JobState, typed: SpeedTyped, seq: int) -> SpeedShot:
    own, name = state.on_bow.arrow, state.on_bow.of("arrow").get("name", "")
    if typed.mass_gr is None and own is None:
        raise Refused("Which arrow is it? Write the arrow down first: its mass is asked for.")
    mass = typed.mass_gr if own is None or typed.mass_gr is not None else own.mass_gr
    assert mass is not None
    require_shootable_arrow(state, mass)
    entry = read_entry(quantity(SPEED), typed.reading.text, typed.reading.direction)
    fps = float(entry.value)
    doubt = why_speed_doubted(state.facts, state.fit_bow().twin_now, fps, mass)
    if doubt and typed.good and not typed.reading.sure:
        raise Contradicted(f"{doubt} Shoot it again, or keep it if you are sure.")
    arrow = typed.arrow if typed.mass_gr is not None else str(name)
    return SpeedShot(seq, fps, mass, arrow, typed.weights_in, typed.good)


def _kept(fact: dict[str, object], shot: SpeedShot) -> ArrowSpeed:
    return ArrowSpeed.objects.create(
        **fact, fps=shot.fps, mass_gr=shot.mass_gr, arrow=shot.arrow, weights_in=shot.weights_in,
        good=shot.good,
    )  # fmt: skip


def _words(shot: SpeedShot) -> str:
    what = shot.arrow or f"an arrow of {shot.mass_gr:g} gr"
    where = (
        ""
        if shot.weights_in is None
        else f", weights {say_length(shot.weights_in, 8)} from each cam"
    )
    bad = "" if shot.good else ", called bad"
    return f"{shot.fps:g} fps with {what}{where}{bad}"
