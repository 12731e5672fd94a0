"""Take a reading, say that it cannot be taken, or correct one."""

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from bowcore.errors import Refused
from bowcore.quantities.catalogue import Quantity, quantity
from bowcore.quantities.entries import Entry, read_entry
from shop.bench.actions.rules import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.devices.bench import TOOLS
from shop.jobs.models import Job
from shop.ledger.models import PressCycle
from shop.measurements.models import Reading, Sheet
from shop.records.deeds import Stamp, on_job
from shop.tuning.selectors import View, view_of


class Odd(Refused):
    """The value is outside what any bow shows: the technician has to say that he means it."""

    code = "odd"


@dataclass(frozen=True)
class Typed:
    """A reading as it was entered. `sure` repeats an odd value on purpose."""

    quantity: str
    text: str
    way: str = ""
    start: str = ""
    end: str = ""
    sure: bool = False
    device: str = ""


def take_reading(job_id: int, typed: Typed, stamp: Stamp) -> Reading:
    """Append one take.

    Raises
    ------
    Unreadable
        The text was not understood.
    Odd
        It was, but it is outside the sane range and not confirmed.
    Refused
        The press is open, a hold forbids the draw, the job is closed.
    """
    quantity(typed.quantity)
    with on_job(job_id, "read", stamp) as act:
        view = view_of(act.job)
        what = view.facts.named(typed.quantity)
        entry = read_entry(what, typed.text, typed.way)
        _require_readable(view, what, stamp)
        if entry.odd and not typed.sure:
            raise Odd(f"{entry.odd} Read it again, or keep it if you are sure.")
        tool = TOOLS[typed.device][0] if typed.device in TOOLS else what.tool
        reading = Reading.objects.create(
            **act.fact, sheet=sheet_now(act.job), quantity=what.key, start=typed.start,
            end=typed.end, tool=tool.key, value=decimal(entry.value),
            sigma=tool.sigma if typed.device else entry.sigma, raw=entry.raw[:60],
            device=typed.device,
        )  # fmt: skip
        by = f" from the {tool.name}" if typed.device else ""
        act.said = f"read {what.name.lower()} {_said(what, entry)}{by}"
        return reading


def cannot_read(job_id: int, key: str, reason: str, stamp: Stamp) -> Reading:
    """Record that a quantity could not be read, and why."""
    with on_job(job_id, "read", stamp) as act:
        view = view_of(act.job)
        what = view.facts.named(key)
        require_act(stamp.by, "read", view)
        if not reason.strip():
            raise Refused("Say why it cannot be read.")
        reading = Reading.objects.create(
            **act.fact, sheet=sheet_now(act.job), quantity=key, tool=what.tool.key,
            reason=reason.strip()[:200],
        )  # fmt: skip
        act.said = f"could not read {what.name.lower()}: {reading.reason}"
        return reading


def correct_reading(job_id: int, reading_id: int, typed: Typed, stamp: Stamp) -> Reading:
    """Append a reading that takes the place of an earlier, mistyped one."""
    with on_job(job_id, "read", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "read", view)
        old = Reading.objects.filter(job=act.job, pk=reading_id, corrected_by=None).first()
        if old is None:
            raise Refused("That reading has been corrected already.")
        what = view.facts.named(old.quantity)
        entry = read_entry(what, typed.text, typed.way)
        if entry.odd and not typed.sure:
            raise Odd(f"{entry.odd} Correct it again, or keep it if you are sure.")
        reading = Reading.objects.create(
            **act.fact, sheet=old.sheet, quantity=old.quantity, start=old.start, end=old.end,
            tool=old.tool, value=decimal(entry.value), sigma=entry.sigma, raw=entry.raw[:60],
            corrects=old,
        )  # fmt: skip
        act.said = (
            f"corrected {what.name.lower()}, {old.raw or 'not read'}, to {_said(what, entry)}"
        )
        return reading


def sheet_now(job: Job) -> Sheet:
    """The sheet that readings belong to now: the baseline, or the one after the last press."""
    last = PressCycle.objects.filter(job=job).order_by("-seq").first()
    return Sheet.objects.get_or_create(job=job, after=last)[0]


def decimal(value: Fraction) -> Decimal:
    """An exact fraction as the database keeps it; 1/64 in has six places."""
    return Decimal(value.numerator) / Decimal(value.denominator)


def _said(what: Quantity, entry: Entry) -> str:
    unit = "" if what.ways else f" {what.unit}"
    return f"{what.say(entry.value)}{unit} ({entry.raw})"


def _require_readable(view: View, what: Quantity, stamp: Stamp) -> None:
    require_act(stamp.by, "read", view)
    if what.drawn and view.facts.press is not None:
        raise Refused(f"The press is open: a bow in the press is not drawn. {what.name} waits.")
    require_press_closed(view, f"read {what.name.lower()}")
    require_bolts_back(view)
    if what.drawn:
        require_not_held(view, "draw")
