"""What the screens of readings show: rows, the open entry, marks, what a plugged-in tool reads."""

from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from django.utils.safestring import SafeString

from bowcore.errors import Refused
from bowcore.quantities.catalogue import LEANS, QUANTITIES, TIMED_AT_REST
from bowcore.quantities.entries import Keypad, keypad_for
from bowcore.quantities.inches import decimal_length
from bowcore.quantities.quantity import Quantity, ReferencePoint
from bowcore.quantities.tools import DEVICES
from bowcore.stages.back_to_spec.order_rules import order_reasons
from bowcore.stages.back_to_spec.step import required_of
from bowcore.stages.back_to_spec.timing_at_rest import gap_by, say_estimate
from bowcore.work_order import cautions
from bowcore.work_order.needs import (
    mark,
    marks_needed,
)
from shop.casework.devices.registry import bench_with, tool_reading
from shop.casework.readings.rows import ReadingRow, reading_row
from shop.casework.screens import Context
from shop.casework.state import JobState
from shop.drawings.points import points
from shop.drawings.reference_point import reference_point
from shop.schema.measurements.models import Reading


@dataclass(frozen=True)
class PointChoice:
    """One end of a quantity: the form's field, its label, the points to choose from, the last one."""

    field: str
    label: str
    points: list[tuple[ReferencePoint, SafeString | str]]
    last: str


@dataclass(frozen=True)
class OpenReading:
    """The reading that is being taken now."""

    row: ReadingRow
    take: int
    wanted: int
    takes: tuple[tuple[str, bool], ...]
    """Takes so far in words, and whether each is an outlier."""
    keypad: Keypad
    picture: SafeString
    points: list[PointChoice]
    tool: str
    """The plugged-in tool that reads it, "" if none does."""
    history: list[str]
    warnings: list[str]
    means: str
    """What timing read at rest means for the gap at full draw."""

    @property
    def said_points(self) -> str:
        """The points that it was read between last, in words; "" where it has none to choose, or has not been
        read."""
        names = [
            point.name for end in self.points for point, _ in end.points if point.key == end.last
        ]
        chosen = any(len(end.points) > 1 for end in self.points)
        return " to ".join(names) if chosen and len(names) == len(self.points) else ""

    @property
    def several_at_once(self) -> bool:
        """Whether all takes may be typed in one go."""
        what = self.row.quantity
        return self.wanted > 1 and what.unit != "in" and not what.directions

    @property
    def take_name(self) -> str:
        """Which of two unlike takes this is; "" where takes are alike."""
        names = self.row.quantity.take_names
        return names[(self.take - 1) % len(names)] if names else ""


def read_again(state: JobState, at: str, typed: tuple[str, ...] = ()) -> Context:
    """What the last change moved, and what else this job must reach."""
    waiting = state.course.to_read
    leans = () if state.facts.small else (name for name in LEANS if name in state.bands)
    names = dict.fromkeys((*required_of(state.facts), *state.needed, *leans, *waiting))
    drawn = state.facts.may_be_drawn
    return readings(state, at, tuple(names), waiting, typed) | {
        "first_draw": cautions.FIRST_DRAW if drawn else cautions.DO_NOT_DRAW
    }


def readings(
    state: JobState,
    at: str,
    names: tuple[str, ...],
    waiting: tuple[str, ...],
    typed: tuple[str, ...] = (),
) -> Context:
    """All rows of a screen of readings; those that are read in one go are open for entry, with what was typed
    and refused."""
    if at not in names and can_be_read(state, at):
        names = (*names, at)  # whatever an act names can be read where it leads to
    not_drawn = not_drawn_now(state)
    held = tuple(name for name in waiting if name in not_drawn)
    waiting = tuple(name for name in waiting if name not in not_drawn)
    names_now = [name for name in names if name not in not_drawn]
    chosen = at if at in names_now else (waiting[0] if waiting and waiting[0] in names else None)
    rows = [reading_row(state, name) for name in names]
    lines = [open_reading(state, one) for one in _in_one_go(rows, chosen, waiting, typed)]
    keys = [line.row.quantity.key for line in lines]
    after = [name for name in waiting if name not in keys]
    return {
        "rows": [row for row in rows if row.quantity.key not in keys[1:]],
        "asked": lines[0] if lines else None,
        "lines": lines,
        "waiting": waiting,
        "held": held,
        "following": _following(state, lines, chosen in waiting, after),
    }


def _in_one_go(
    rows: list[ReadingRow], chosen: str | None, waiting: tuple[str, ...], typed: tuple[str, ...]
) -> list[ReadingRow]:
    """The chosen row, where it waits those that are read with the bow as it is, and every one that was
    typed in."""
    first = next((row for row in rows if row.quantity.key == chosen), None)
    if first is None:
        return []
    keys = {*typed, *(waiting if chosen in waiting else ())}
    beside = [row for row in rows if row is not first and row.quantity.key in keys]
    return [first, *(row for row in beside if row.quantity.read_beside(first.quantity))]


def can_be_read(state: JobState, key: str) -> bool:
    """Whether there is such a quantity, and the bow has what it is read on."""
    has = state.facts.setup.features | state.facts.on_bow.features
    return key in QUANTITIES and QUANTITIES[key].needs in has


def not_drawn_now(state: JobState) -> set[str]:
    """What is not read now: everything at full draw while a hold says that the bow is not drawn."""
    if state.facts.may_be_drawn:
        return set()
    return {name for name, one in QUANTITIES.items() if one.drawn}


def chosen_row(request: HttpRequest) -> str:
    """The key of the row that the technician has chosen or was typing in, "" if none."""
    typed = next(iter(typed_rows(request)), "")
    return request.POST.get("quantity") or typed or request.GET.get("at", "")


def typed_rows(request: HttpRequest) -> tuple[str, ...]:
    """Keys of the rows that something was typed into, in a post that was refused."""
    lines = request.POST.getlist("line")
    said = [key for key in lines for name in _SAID if request.POST.get(f"{key}-{name}")]
    return tuple(dict.fromkeys(said))


_SAID = ("text", "other", "direction")


def open_reading(state: JobState, row: ReadingRow) -> OpenReading:
    """The open row: which take, what was taken so far, the keys near the expected value."""
    key = row.quantity.key
    takes = _takes_so_far(state, row)
    expected = row.value if row.value is not None else (row.band.target if row.band else None)
    mine = [r for r in state.readings if r.quantity == key]
    plugged_in = bench_with(state, row.quantity.device) is not None
    reasons = order_reasons(state.facts, state.course.outside) if key in TIMED_AT_REST else {}
    return OpenReading(
        row,
        len(takes) + 1,
        state.facts.takes_wanted_of(row.quantity),
        takes,
        keypad_for(row.quantity, expected),
        points(row.quantity),
        _point_choices(state, row.quantity),
        DEVICES[row.quantity.device].name if plugged_in else "",
        [_past_take(row.quantity, r) for r in mine],
        _warnings(row, reasons),
        gap_meant(state, row),
    )


def _warnings(row: ReadingRow, reasons: dict[str, list[str]]) -> list[str]:
    """What to look out for while this is read."""
    caution = [cautions.ON_THE_DRAW_BOARD] if row.quantity.drawn else []
    return [*reasons.get("timing_at_rest", []), *caution]


def gap_meant(state: JobState, row: ReadingRow) -> str:
    """What timing read at rest means for the gap at full draw, in words; "" for anything else."""
    if row.quantity.key not in TIMED_AT_REST or row.value is None:
        return ""
    try:
        guess = gap_by(state.facts, row.quantity.key, row.value)
    except Refused as error:
        return str(error)
    if guess is None:
        return "What this means at full draw cannot be computed for this bow: it says which cam is later."
    words = say_estimate(guess)
    return words[0].upper() + words[1:]


def tool_context(state: JobState, name: str) -> Context:
    """What the tool for a quantity shows now, as text to be taken."""
    shown = tool_reading(state, name)
    if shown is None:
        return {"shown": None}
    quantity = state.facts.named(name)
    text, direction = _as_entry(quantity, shown.value) if shown.value is not None else ("", "")
    return {
        "shown": shown,
        "tool": DEVICES[quantity.device],
        "text": text,
        "direction": direction,
        "quantity": quantity,
    }


def _point_choices(state: JobState, quantity: Quantity) -> list[PointChoice]:
    """From where and to where, with the points that were used last."""
    mine = [r for r in state.readings if r.quantity == quantity.key]
    alike = [r for r in state.readings if QUANTITIES[r.quantity].starts == quantity.starts]
    last = next((r for r in (*mine, *alike) if r.start), None)
    begins = "Pulled from" if quantity.drawn else "From"
    ends = (
        ("start", begins, quantity.starts, last.start if last else ""),
        ("end", "To", quantity.ends, last.end if last else ""),
    )
    return [
        PointChoice(field, label, [(one, reference_point(one)) for one in found], used)
        for field, label, found, used in ends
    ]


def _following(
    state: JobState, lines: list[OpenReading], was_waiting: bool, after: list[str]
) -> str:
    """What comes after the open lines, in words."""
    again = [line for line in lines if was_waiting and line.take < line.wanted]
    if again and len(lines) == 1:
        asked = lines[0]
        names = asked.row.quantity.take_names
        return f"the {names[asked.take]}" if names else f"take {asked.take + 1} of {asked.wanted}"
    if again:
        return "once more" if len(again) == len(lines) else f"{len(again)} of them once more"
    return name_of(state, after)


def name_of(state: JobState, keys: list[str]) -> str:
    """The first of several readings or marks, in words; "" for none."""
    if not keys:
        return ""
    is_mark = keys[0] in marks_needed(state.facts.setup)
    return (mark(keys[0]).name if is_mark else state.facts.named(keys[0]).name).lower()


def _as_entry(quantity: Quantity, value: float) -> tuple[str, str]:
    """A tool's value as it would be typed, and its direction."""
    if quantity.directions:
        direction = quantity.direction(value)
        return (decimal_length(abs(value)) if direction.sign else ""), direction.key
    if quantity.unit == "in":
        return decimal_length(value).rstrip("0").rstrip("."), ""
    return (f"{value:.0f}" if quantity.tool.division >= 1 else f"{value:.1f}"), ""


def _takes_so_far(state: JobState, row: ReadingRow) -> tuple[tuple[str, bool], ...]:
    current = row.current
    if current is None or current.stale or current.summary is None:
        return ()
    takes = [t for t in state.facts.takes if t.quantity == row.quantity.key and t.value is not None]
    values: list[Any] = [take.value for take in takes][-current.summary.takes :]
    return tuple(
        (row.quantity.say(value), at in current.summary.outliers) for at, value in enumerate(values)
    )


def _past_take(quantity: Quantity, row: Reading) -> str:
    words = row.reason
    if row.value is not None:
        words = f"{quantity.say(float(row.value))}, typed “{row.raw}”"
    return f"{row.at:%d %b %H:%M}, {row.by}: {words}"
