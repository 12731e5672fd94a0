"""What the screens before the press show: the walk over the bow, readings and marks, live tools."""

from dataclasses import dataclass
from typing import Any

from django.utils.safestring import SafeString

from bowcore.errors import Refused
from bowcore.mechanics.static_timing import gap_from_ratio
from bowcore.quantities.catalogue import (
    AT_REST,
    LEANS,
    QUANTITIES,
    REQUIRED,
    Point,
    Quantity,
    say_gap,
)
from bowcore.quantities.entries import Keypad, keypad_for
from bowcore.service.inspection import OUTCOME_DOES, OUTCOMES, PLACES, Place, to_order
from bowcore.service.needs import Mark, mark, marks_needed, readings_welcome
from bowcore.service.order_rules import order_reasons
from shop.bench.screens import Row, row_of
from shop.devices.bench import TOOLS, live, tool_for
from shop.devices.models import BenchBow
from shop.drawings.near import near
from shop.drawings.points import points
from shop.drawings.walk import Spot, walk
from shop.jobs.models import Finding, Photo
from shop.tuning.priors import gap_ratio_of
from shop.tuning.selectors import View

Context = dict[str, Any]
METHOD_OF = dict(zip(AT_REST, ("marks", "tip", "sight_hole"), strict=True))
TURNS_PAD = Keypad(tuple(str(n) for n in range(8)), ("1/4", "1/2", "3/4"), ())


@dataclass(frozen=True)
class Seen:
    """One place of the walk: what was found, and its photographs."""

    number: int
    place: Place
    finding: Finding | None
    photos: list[Photo]


def look_over(view: View) -> Context:
    """The walk: the drawn bow with its places."""
    found = {finding.place: finding for finding in view.job.finding_set.all()}
    photos = photos_of(view)
    places = [Seen(n, p, found.get(p.key), photos.get(p.key, [])) for n, p in enumerate(PLACES, 1)]
    spots = [
        Spot(
            s.number, s.place.key, s.place.at, s.finding.outcome if s.finding else "", s.place.name
        )
        for s in places
    ]
    ordered = to_order((f.place, f.outcome) for f in found.values())
    return {
        "places": places, "outcomes": OUTCOMES.items(), "does": OUTCOME_DOES, "walk": walk(spots),
        "order": ordered,
    }  # fmt: skip


def photos_of(view: View) -> dict[str, list[Photo]]:
    """Photographs of a job by what they show; the pictures themselves are not loaded."""
    found: dict[str, list[Photo]] = {}
    for photo in Photo.objects.filter(job=view.job).defer("jpeg").order_by("pk"):
        found.setdefault(photo.about, []).append(photo)
    return found


@dataclass(frozen=True)
class Asked:
    """The reading that is being taken now. `warned` is what an old hand would say first."""

    row: Row
    take: int
    takes: tuple[tuple[str, bool], ...]
    keypad: Keypad
    picture: SafeString
    refs: list[tuple[str, str, list[tuple[Point, SafeString | str]], str]]
    tool: str
    history: list[str]
    warned: list[str]
    means: str

    @property
    def take_name(self) -> str:
        """Which of two unlike takes this is; "" where takes are alike."""
        names = self.row.quantity.take_names
        return names[(self.take - 1) % len(names)] if names else ""


@dataclass(frozen=True)
class MarkRow:
    """A mark on the baseline screen: what was written down, its photographs."""

    mark: Mark
    value: str
    photos: list[Photo]
    needed: bool

    @property
    def said(self) -> str:
        words = dict(self.mark.choices).get(self.value, self.value)
        return f"{words} turns out" if self.value and self.mark.kind == "turns" else words


def readings(
    view: View, at: str | None, names: tuple[str, ...], waiting: tuple[str, ...]
) -> Context:
    """All rows of a readings screen, one of them open for entry."""
    chosen = at if at in names else (waiting[0] if waiting and waiting[0] in names else None)
    rows = [row_of(view, name) for name in names]
    asked = asked_for(view, next(r for r in rows if r.quantity.key == chosen)) if chosen else None
    after = [name for name in waiting if name != chosen]
    return {
        "rows": rows, "asked": asked, "following": following(view, asked, chosen in waiting, after),
        "waiting": waiting,
    }  # fmt: skip


def _pairs(view: View) -> list[tuple[str, str]]:
    """Every pair of shims of the model's kits: as it is written down, as it is said."""
    return [
        (f"{left:.3f}/{right:.3f}", f"{left:.3f} / {right:.3f} {kit.name}")
        for kit in view.spec.shim_kits
        for left, right in kit.pairs
    ]


def read_again(view: View, at: str | None) -> Context:
    """What the last change moved, and what else this job must reach."""
    waiting = view.course.to_read
    names = dict.fromkeys(
        (*REQUIRED, *view.needed, *(n for n in LEANS if n in view.bands), *waiting)
    )
    return readings(view, at, tuple(names), waiting)


def baseline(view: View, at: str | None) -> Context:
    """Everything before anything is loosened: readings, marks, and what is worth having."""
    setup = view.facts.setup
    welcome = readings_welcome(setup)
    waiting = (*view.course.unread, *view.course.unmarked)
    wanted, photos = marks_needed(setup), photos_of(view)
    first = () if at in wanted else waiting  # a mark that was asked for comes before any reading
    shown = readings(view, at, (*view.needed, *welcome), first) | {"waiting": waiting}
    marks = [MarkRow(mark(k), view.facts.marks.get(k, ""), photos.get(k, []), True) for k in wanted]
    chosen = at if at in wanted else None
    if not shown["asked"] and not chosen and waiting and waiting[0] in wanted:
        chosen = waiting[0]
    noted = next((row for row in marks if row.mark.key == chosen), None)
    return shown | {
        "rows": [row for row in shown["rows"] if row.quantity.key in view.needed],
        "welcome": [row for row in shown["rows"] if row.quantity.key in welcome],
        "marks": marks, "noting": noted, "turns_pad": TURNS_PAD, "pairs": _pairs(view),
        "following": shown["following"] if shown["asked"]
        else _name(view, [key for key in waiting if key != chosen]),
    }  # fmt: skip


def asked_for(view: View, row: Row) -> Asked:
    """The open row: which take, what was taken so far, the keys near the expected value."""
    current, key = row.current, row.quantity.key
    fresh = current if current and not current.stale and current.summary else None
    taken = _taken(view, row, fresh)
    expected = row.value if row.value is not None else (row.band.target if row.band else None)
    mine = [r for r in view.readings if r.quantity == key]
    alike = [r for r in view.readings if QUANTITIES[r.quantity].starts == row.quantity.starts]
    last = next((r for r in (*mine, *alike) if r.start), None)
    tool = tool_for(key)
    has_tool = bool(tool) and BenchBow.objects.filter(job=view.job).exists()
    return Asked(
        row, len(taken) + 1, taken, keypad_for(row.quantity, expected), points(row.quantity),
        _refs(row.quantity, last.start if last else "", last.end if last else ""),
        TOOLS[tool][0].name if has_tool else "", [_told(row.quantity, r) for r in mine],
        order_reasons(view.facts, view.course.outside).get("timing_at_rest", [])
        if key in AT_REST else [], gap_meant(view, row),
    )  # fmt: skip


def _refs(quantity: Quantity, start: str, end: str) -> list[Any]:
    """From where and to where: field, words, points with their drawings, the one used last."""
    begins = "Pulled from" if quantity.drawn else "From"
    ways = (("start", begins, quantity.starts, start), ("end", "To", quantity.ends, end))
    return [(name, said, [(p, near(p)) for p in found], last) for name, said, found, last in ways]


def gap_meant(view: View, row: Row) -> str:
    """What timing read at rest says of the gap at full draw, in words; "" for anything else."""
    method = METHOD_OF.get(row.quantity.key, "")
    ratio = gap_ratio_of(view.spec) if method and row.value is not None else None
    if ratio is None or row.value is None:
        return ""
    bottomed = "timing_at_rest" not in order_reasons(view.facts)
    try:
        guess = gap_from_ratio(ratio, method, row.value, bottomed)
    except Refused as error:
        return str(error)
    size = QUANTITIES["stop_gap"].say_size(guess.sigma_in)
    return f"At full draw about {say_gap(guess.gap_in)}, give or take {size}. A drawn reading wins."


def live_now(view: View, name: str) -> Context:
    """What the tool for a quantity shows now, as text to be taken."""
    found = live(view, name)
    quantity = view.facts.named(name)
    if found is None:
        return {"live": None}
    key, shown = found
    text, way = _as_entry(quantity, shown.value) if shown.value is not None else ("", "")
    return {"live": shown, "device": key, "tool": TOOLS[key][0], "text": text, "way": way,
            "quantity": quantity}  # fmt: skip


def following(view: View, asked: Asked | None, was_waiting: bool, after: list[str]) -> str:
    """What comes after the open row, in words."""
    if asked and was_waiting and asked.take < asked.row.quantity.takes:
        if asked.row.quantity.take_names:
            return f"the {asked.row.quantity.take_names[asked.take]}"
        return f"take {asked.take + 1} of {asked.row.quantity.takes}"
    return _name(view, after)


def _name(view: View, keys: list[str]) -> str:
    if not keys:
        return ""
    is_mark = keys[0] in marks_needed(view.facts.setup)
    return (mark(keys[0]).name if is_mark else view.facts.named(keys[0]).name).lower()


def _as_entry(quantity: Quantity, value: float) -> tuple[str, str]:
    """A tool's value as it would be typed, and its direction."""
    if quantity.ways:
        way = quantity.way(value)
        return (f"{abs(value):.3f}" if way.sign else ""), way.key
    return (
        f"{value:.1f}" if quantity.unit == "lbf" else f"{value:.3f}".rstrip("0").rstrip(".")
    ), ""


def _taken(view: View, row: Row, fresh: Any) -> tuple[tuple[str, bool], ...]:
    if fresh is None or fresh.summary is None:
        return ()
    takes = [t for t in view.facts.takes if t.quantity == row.quantity.key and t.value is not None]
    last = [row.quantity.say(t.value) for t in takes if t.value is not None][-fresh.summary.takes :]
    return tuple((said, i in fresh.summary.odd) for i, said in enumerate(last))


def _told(quantity: Quantity, row: Any) -> str:
    said = row.reason or f"{quantity.say(row.value)}, typed “{row.raw}”"
    return f"{row.at:%d %b %H:%M}, {row.by}: {said}"
