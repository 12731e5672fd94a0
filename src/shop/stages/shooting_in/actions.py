"""Writes down shots and what was looked at, and logs the taps that the paper asks for."""

from dataclasses import dataclass
from typing import Any

from bowcore.errors import Refused
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.evidence.tears import PAPER_YD, say_tear
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_needs import arrow_too_light
from bowcore.stages.shooting_in.butt import butt_result
from bowcore.stages.shooting_in.flat_sheet import PixelPlace, TappedCorners, flat_sheet
from bowcore.stages.shooting_in.suspects import BY_KEY
from bowcore.stages.shooting_in.tuning import paper_act
from bowcore.work_order.services import SHOOT_IN
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.photos.actions import ABOUT
from shop.casework.state import JobState, job_state
from shop.casework.submissions import EventDraft, Submission
from shop.drawings.butt_face import HALF_BUTT_IN
from shop.drawings.paper_sheet import HALF_SHEET_IN
from shop.schema.accounts.models import Shop
from shop.schema.inspection.models import ON_BUTT, ON_PAPER, Photo
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment, PressCycle
from shop.schema.tuning.models import FlatSheet, ShotFired, SuspectLookedAt
from shop.schema.tuning.selectors import last_shot
from shop.stages.replace.actions.cycle import do_as_advised

HALF_IN = {ON_PAPER: HALF_SHEET_IN, ON_BUTT: HALF_BUTT_IN}
"""From the middle of a face to its edge, by what is photographed. [in]"""


@dataclass(frozen=True)
class ShotTyped:
    """A shot as it was entered: holes on paper, or an impact on a butt less the point aimed at.

    `sheet` is the photo on which it was tapped.
    """

    x_in: float
    y_in: float
    shooter: str = ""
    arrow: str = ""
    good: bool = True
    test: ShotTest = ShotTest.PAPER
    distance_yd: float = PAPER_YD
    kind: ShaftKind = ShaftKind.FLETCHED
    sheet: int | None = None
    spine: float = 0.0

    def at(self, seq: int) -> Shot:
        """It as a shot; BadInput where nobody shoots so."""
        return Shot(
            seq, self.test, self.distance_yd, self.x_in, self.y_in, self.kind, self.arrow, self.shooter,
            self.good, self.spine,
        )  # fmt: skip

    @property
    def words(self) -> str:
        bad = "" if self.good else ", called bad"
        if self.test is ShotTest.PAPER:
            said = say_tear(self.x_in, self.y_in, Shop.current().tear_words)
            return f"through paper: {said}{bad}"
        across, up = say_length(abs(self.x_in), 16), say_length(abs(self.y_in), 16)
        way = f"{across} {'right' if self.x_in > 0 else 'left'}, {up} {'high' if self.y_in > 0 else 'low'}"
        return f"{self.kind.value} at {self.distance_yd:g} yd: {way}{bad}"


@job_act("read", right="read")
def write_down_shot(event: EventDraft, typed: ShotTyped) -> ShotFired:
    """Append one shot.

    Raises
    ------
    Refused
        Shooting in was not asked for, the press is open, a hold forbids the draw, or the arrow is too light.
    """
    state = event.state
    _require_shootable(state)
    shot = typed.at(event.seq)
    event.summary = typed.words
    sheet = FlatSheet.objects.filter(job=event.job, pk=typed.sheet or 0).first()
    return append_shot(event.fact, shot, sheet)


def append_shot(fact: dict[str, Any], shot: Shot, sheet: FlatSheet | None = None) -> ShotFired:
    """One shot, appended to what an act writes, with the photo on which it was tapped."""
    return ShotFired.objects.create(
        **fact, sheet=sheet, test=shot.test.value, distance_yd=shot.distance_yd, x_in=shot.x_in,
        y_in=shot.y_in, kind=shot.kind.value, arrow=shot.arrow, shooter=shot.shooter, good=shot.good,
        spine=shot.spine,
    )  # fmt: skip


def require_shot_in(state: JobState) -> None:
    """Shooting in was asked for."""
    if SHOOT_IN not in state.job.services:
        raise Refused("Nobody asked for it to be shot in. Add that to the job first.")


def _require_shootable(state: JobState) -> None:
    require_shot_in(state)
    require_press_closed(state, "shoot it")
    require_bolts_back(state)
    require_not_held(state, "draw")
    require_not_held(state, "shoot")
    if light := arrow_too_light(state.facts):
        raise Refused(light)


@job_act("photo", right="read")
def lay_flat(
    event: EventDraft, photo_id: int, tapped: TappedCorners, middle: PixelPlace
) -> FlatSheet:
    """Lay a photo of the paper or the butt flat and keep it under the grid.

    Raises
    ------
    BadInput
        The corners enclose next to nothing of it.
    Refused
        There is no such photo, or the job is closed.
    """
    photo = Photo.objects.filter(job=event.job, about__in=HALF_IN, pk=photo_id).first()
    if photo is None:
        raise Refused("That photo is not on this job.")
    half = HALF_IN[photo.about]
    flat = flat_sheet(bytes(photo.jpeg), tapped, middle, half)
    event.summary = f"laid a photo flat: {ABOUT[photo.about].lower()}"
    return FlatSheet.objects.create(
        **event.fact, photo=photo, corners=[*tapped.corners, middle], wide_in=tapped.wide_in,
        high_in=tapped.high_in, jpeg=flat,
    )  # fmt: skip


@job_act("read", right="read")
def take_out_last_shot(event: EventDraft) -> ShotFired:
    """Take out the newest shot: it was entered wrong. Both rows stay on record.

    Raises
    ------
    Refused
        Nothing was shot, or the job is closed.
    """
    last = last_shot(event.job)
    if last is None:
        raise Refused("There is no shot to take out.")
    event.summary = f"took out a shot: {_words_of(last)}"
    same = {name: getattr(last, name) for name in ("test", "distance_yd", "x_in", "y_in", "kind")}
    return ShotFired.objects.create(**event.fact, **same, good=False, takes_out=last)


def _words_of(row: ShotFired) -> str:
    test, kind = ShotTest(row.test), ShaftKind(row.kind)
    return ShotTyped(
        row.x_in, row.y_in, good=row.good, test=test, distance_yd=row.distance_yd, kind=kind
    ).words


@job_act("read", right="read")
def look_at_suspect(event: EventDraft, key: str, found: bool) -> SuspectLookedAt:
    """Append that a suspect was looked at and found, or was not.

    Raises
    ------
    Refused
        Shooting in was not asked for, or the job is closed.
    """
    require_shot_in(event.state)
    what = "found" if found else "looked at, and not found"
    event.summary = f"{BY_KEY[key].name.lower()}: {what}"
    return SuspectLookedAt.objects.create(**event.fact, suspect=key, found=found)


@job_act("change", right="change")
def mend_suspect(event: EventDraft, key: str) -> SuspectLookedAt:
    """Append that a suspect was mended; raises as `look_at_suspect` does."""
    require_shot_in(event.state)
    event.summary = f"{BY_KEY[key].name.lower()}: mended"
    return SuspectLookedAt.objects.create(**event.fact, suspect=key, found=False, mended=True)


def do_butt_steps(
    job_id: int, submission: Submission, test: ShotTest
) -> PressCycle | list[Adjustment]:
    """Do what a test on the butt asks for now: taps are logged, for anything else the press is opened.

    Raises
    ------
    Refused
        It asks for nothing by now, or a hold forbids it.
    """
    state = job_state(Job.objects.get(pk=job_id))
    result = butt_result(test, state.judged, state.bands)
    return do_as_advised(state, submission, result.steps, result.verdict)


def do_paper_steps(job_id: int, submission: Submission) -> PressCycle | list[Adjustment]:
    """Do what the paper asks for now: taps are logged, for anything else the press is opened.

    Raises
    ------
    Refused
        It asks for something else by now, or a hold forbids it.
    """
    state = job_state(Job.objects.get(pk=job_id))
    act = paper_act(state.judged, state.bands)
    return do_as_advised(state, submission, act.steps, act.do)
