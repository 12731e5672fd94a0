"""What the screens of the fit show."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.http import HttpRequest
from django.urls import reverse
from django.utils.safestring import SafeString

from bowcore.accessories.at_the_nock import string_angles
from bowcore.accessories.on_the_bow import ARROW, SIGHT, THINGS, Detail, thing
from bowcore.accessories.sight import AXES
from bowcore.adjusters.rest_move import MOST_REST_STEPS, REST_OUT, REST_UP
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.outline import outline
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.stages.fit.fit_advice import MOVED, fit_advice, said_of_tried, tried
from bowcore.stages.fit.fit_bow import FitAct, FitBow
from bowcore.stages.fit.fit_by_hand import USUAL_PEEP_IN, clamp_at_full_draw
from bowcore.stages.fit.fit_needs import fit_asks, waits_for_arrow
from bowcore.stages.fit.sight_marks import (
    flight_for_tape,
    missing_for_marks,
    say_axis,
    say_drag,
    say_moved,
    say_speed,
    say_tape,
    sight_marks,
    speed_now,
    tape,
)
from bowcore.stages.fit.step import FitStep
from bowcore.work_order import cautions
from shop.casework.readings.leaving import leaving
from shop.casework.readings.rows import ReadingRow, reading_row
from shop.casework.readings.screens import can_be_read, chosen_row, readings, typed_rows
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.casework.turning import needs_press
from shop.drawings.fit_view import FitFigures, fit_from_above, fit_from_the_side
from shop.drawings.full_draw import full_draw
from shop.drawings.sight_tape import sight_tape
from shop.schema.fitting.selectors import arrows_of, speed_of_last_visit
from shop.stages.fit.state import fit_bow_of
from shop.stages.replace.screens import press_screen

TAPS_TRIED = (
    ("nock_point", "Nock point, down or up"),
    (REST_UP, "Rest, down or up"),
    (REST_OUT, "Rest, in or out"),
)
"""What can be tried on the drawing, by adjuster."""


@dataclass(frozen=True)
class ActRow:
    """An act of the fit with what it will read afterwards."""

    act: FitAct
    pressed: bool
    expected: list[ReadingRow]

    @property
    def key(self) -> str:
        return self.act.sets[0]


@step_screen(FitStep.key)
def fit_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The string's middle to scale, what to do now, and every number of the fit."""
    if state.press is not None:
        return press_screen(request, state)
    bow = fit_bow_of(state)
    now = fit_advice(bow)
    at, asked = chosen_row(request), fit_asks(state.facts)
    acts = [] if at else [_act_row(state, one) for one in now.acts]
    ready = [
        key for key in state.course.situation.fit_unread if not waits_for_arrow(state.facts, key)
    ]
    waiting = () if acts else tuple(ready)
    shown = readings(state, at, asked, waiting, typed_rows(request))
    shown["rows"] = [
        row for row in shown["rows"] if not acts or row.quantity.key not in acts[0].act.sets
    ]
    asked_now = shown.get("asked")
    return "fit/fit.html", shown | {
        "act": acts[0] if acts else None,
        "more_acts": acts[1:],
        "stop": now.stop,
        "drawn": _at_full_draw(bow),
        "figures": [(state.facts.named(key).name, words) for key, words in now.shown.items()],
        "first_draw": cautions.ON_THE_DRAW_BOARD,
        "may_try": any(key in MOVED for key in asked),
        "tries": TAPS_TRIED,
        "most_tried": MOST_REST_STEPS,
        **fit_drawn_context(state, asked=asked_now.row.quantity.key if asked_now else ""),
        **_arrow_context(state),
        **leaving(state),
    }  # fmt: skip


def _at_full_draw(bow: FitBow) -> SafeString | str:
    """The twin pulled to full draw with everything that was turned; "" without a twin."""
    now, read = bow.twin_now, bow.facts.current("nock_to_peep")
    if now is None:
        return ""
    height = read.summary.value if read and read.summary else USUAL_PEEP_IN
    drawn = outline(now, now.full_draw)
    return full_draw(drawn, height, string_angles(now).included_deg, clamp_at_full_draw(bow))


def fit_drawn_context(
    state: JobState, steps: Steps = NO_STEPS, typed: Mapping[str, float] = {}, asked: str = ""
) -> Context:
    """The drawings after some taps or with a reading that is being typed, and what would be read then."""
    bow = state.fit_bow()
    after = tried(bow, steps) if steps else {}
    read = {key: value for key, (value, _) in after.items()} | dict(typed)
    here = reverse("step", args=[state.job.pk, FitStep.key])
    opens = {key: f"{here}?at={key}" for key in QUANTITIES if can_be_read(state, key)}
    figures = replace(_figures(state, read), asked=asked or next(iter(typed), ""), opens=opens)
    said = [(state.facts.named(key), value, state.bands.get(key)) for key, value in read.items()]
    return {
        "side": fit_from_the_side(figures),
        "above": fit_from_above(figures),
        "tried_words": said_of_tried(bow, steps, read) if read else [],
        "tried": [
            (what.name, what.say(value), band is None or band.judge(value).inside)
            for what, value, band in said
        ],
    }


def things_context(state: JobState, opened: str, typed: Mapping[str, Any]) -> Context:
    """Everything on the bow with what is known of it; one of them open for writing."""
    known = state.on_bow
    rows = [(one, one.say(known.of(one.key))) for one in THINGS]
    chosen = next((one for one in THINGS if one.key == opened), None)
    if chosen is None:
        chosen = next((one for one, words in rows if not words), THINGS[0])
    said = {"name": state.job.arrows} if chosen.key == ARROW else {}
    values = said | dict(known.of(chosen.key)) | {k: typed[k] for k in typed}
    return {
        "things": rows,
        "opened": chosen,
        "fields": [_field(one, values) for one in chosen.details],
        "arrows": arrows_of(state.job),
        "is_arrow": chosen.key == ARROW,
    }


def sight_context(state: JobState) -> Context:
    """The marks that move, and the tape for the speed now; what is missing for them."""
    facts, last_visit = state.facts, speed_of_last_visit(state.job)
    twin = state.fit_bow().twin_now
    flown, speed = flight_for_tape(facts, last_visit, twin), speed_now(facts, twin)
    places = [] if flown is None else tape(flown)
    marks = sight_marks(facts, last_visit)
    return {
        "marks": marks,
        "said": "" if marks is None else say_moved(marks),
        "rests_on": "" if marks is None else say_drag(marks.flown),
        "missing": missing_for_marks(facts, last_visit),
        "tape": sight_tape(places) if places else "",
        "tape_rests_on": say_tape(flown, speed, places) if flown and speed and places else "",
        "speed": say_speed(facts, twin, _masses(state)),
        "axis": "" if flown is None else say_axis(flown.flight),
        "axes": [(name, how, facts.on_bow.of(SIGHT).get(key, "")) for key, name, how in AXES],
    }


def _masses(state: JobState) -> list[tuple[str, float]]:
    """The customer's arrows with their masses. [gr]"""
    return [(row.details["name"], float(row.details["mass_gr"])) for row in arrows_of(state.job)]


@dataclass(frozen=True)
class DetailField:
    """One detail to be typed or chosen, with what is known of it."""

    detail: Detail
    value: str


def _field(detail: Detail, values: Mapping[str, Any]) -> DetailField:
    found = values.get(detail.key, "")
    return DetailField(detail, detail.as_typed(found))


def _act_row(state: JobState, act: FitAct) -> ActRow:
    expected = [reading_row(state, name, (value, sigma)) for name, value, sigma in act.expect]
    pressed = bool(act.steps) and needs_press(state, act.steps)
    return ActRow(act, pressed, expected)


def _arrow_context(state: JobState) -> Context:
    arrow = state.on_bow.of(ARROW)
    waiting = [
        key for key in state.course.situation.fit_unread if waits_for_arrow(state.facts, key)
    ]
    return {
        "arrow": thing(ARROW).say(arrow) if arrow else "",
        "arrows": [] if arrow else arrows_of(state.job),
        "arrow_wanted": [state.facts.named(key).name.lower() for key in waiting],
    }


def _figures(state: JobState, after: Mapping[str, float]) -> FitFigures:
    """What the drawing shows: what would be read, else the newest reading, None where nothing was read."""

    def value(key: str) -> float | None:
        if key in after:
            return after[key]
        now = state.facts.current(key)
        return now.summary.value if now and now.summary else None

    return FitFigures(
        brace_in=value("brace_height") or state.spec.brace_height_in,
        peep_in=value("nock_to_peep"),
        kisser_in=value("nock_to_kisser"),
        loop_in=value("loop_length"),
        has_peep="peep" in state.facts.fitted,
        has_kisser="kisser" in state.facts.fitted,
        has_loop="loop" in state.facts.fitted,
        level_in=value("arrow_level"),
        height_in=value("nock_height"),
        play_in=value("nock_gap"),
        centre_in=value("centre_shot"),
        centre_wanted_in=state.bands["centre_shot"].target
        if "centre_shot" in state.bands
        else None,
        shaft_in=state.on_bow.arrow.shaft_in if state.on_bow.arrow else None,
        left_handed=state.job.bow.hand == "left",
    )
