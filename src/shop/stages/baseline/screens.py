"""What the baseline shows: readings, marks, and what is worth having."""

from dataclasses import dataclass

from django.http import HttpRequest

from bowcore.adjusters.adjuster import NOT_KNOWN, ON_THE_PHOTO
from bowcore.stages.baseline.step import BaselineStep
from bowcore.work_order.needs import mark, marks_needed, marks_welcome, readings_welcome
from shop.casework.readings.marks import TURNS_PAD, MarkRow
from shop.casework.readings.screens import (
    OpenReading,
    chosen_row,
    name_of,
    not_drawn_now,
    readings,
    typed_rows,
)
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.schema.inspection.selectors import photos_by_subject
from shop.schema.measurements.selectors import marks_of_last_visit


@dataclass(frozen=True)
class LastTime:
    """The open mark as it was at the bow's last visit, and how many more have an answer from it."""

    row: MarkRow
    count: int


@step_screen(BaselineStep.key)
def baseline(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """Everything before anything is loosened: readings, marks, and what is worth having."""
    at = chosen_row(request)
    setup = state.facts.setup
    wanted, welcome = (*marks_needed(setup), *marks_welcome(setup)), readings_welcome(setup)
    not_drawn = not_drawn_now(state)
    unread = tuple(name for name in state.course.unread if name not in not_drawn)
    waiting = (*unread, *state.course.unmarked)
    first = () if at in wanted else waiting  # a mark that was asked for comes before any reading
    shown = readings(state, at, (*state.needed, *welcome), first, typed_rows(request))
    photos = photos_by_subject(state.job)
    marks = [MarkRow(mark(k), state.marks.get(k, ""), photos.get(k, [])) for k in wanted]
    open_mark = _open_mark(at, wanted, waiting, bool(shown["asked"]))
    after = [key for key in waiting if key != open_mark]
    return "readings/readings.html", shown | {
        "waiting": waiting,
        "held": tuple(name for name in state.course.unread if name in not_drawn),
        "rows": [row for row in shown["rows"] if row.quantity.key in state.needed],
        "welcome": [row for row in shown["rows"] if row.quantity.key in welcome],
        "marks": marks,
        "noting": next((row for row in marks if row.mark.key == open_mark), None),
        "turns_pad": TURNS_PAD,
        "pairs": _shim_pairs(state),
        "last_time": _last_time(state, open_mark),
        "may_skip": _may_skip(state, open_mark, shown["asked"]),
        "unknown": NOT_KNOWN,
        "on_the_photo": ON_THE_PHOTO,
        "following": shown["following"] if shown["asked"] else name_of(state, after),
    }


def _open_mark(at: str, wanted: tuple[str, ...], waiting: tuple[str, ...], reading: bool) -> str:
    """The mark that is open: the one chosen, else the one that waits where no reading is open."""
    if at in wanted:
        return at
    return waiting[0] if waiting and waiting[0] in wanted and not reading else ""


def _last_time(state: JobState, open_mark: str) -> LastTime | None:
    """What the open mark was at the bow's last visit; None where nobody wrote it down."""
    before = marks_of_last_visit(state.job) if open_mark else {}
    if open_mark not in before:
        return None
    count = sum(key in before for key in state.course.unmarked)
    return LastTime(MarkRow(mark(open_mark), before[open_mark], []), count)


def _may_skip(state: JobState, open_mark: str, asked: OpenReading | None) -> str:
    """Key of what is open and may be skipped, "" for a must or what nothing waits for."""
    if open_mark:
        return open_mark if open_mark in state.course.unmarked else ""
    if asked is None or asked.row.quantity.key not in state.course.unread:
        return ""
    must = state.facts.setup.must_read(asked.row.quantity)
    return "" if must else asked.row.quantity.key


def _shim_pairs(state: JobState) -> list[tuple[str, str]]:
    """Every pair of shims of the model's kits: as it is written down, and in words."""
    return [
        (f"{left:.3f}/{right:.3f}", f"{kit.say_width(left)} / {kit.say_width(right)}, {kit.name}")
        for kit in state.spec.shim_kits
        for left, right in kit.pairs
    ]
