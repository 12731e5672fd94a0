"""Take a reading, record that it cannot be taken, or correct one."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from bowcore.adjusters.adjuster import NOT_KNOWN
from bowcore.errors import BadInput, Contradicted, Incomplete, Refused, Unreadable
from bowcore.evidence.entry_check import impossible, why_doubted
from bowcore.evidence.facts import SKIPPED
from bowcore.quantities.catalogue import MOST_TAKES, quantity
from bowcore.quantities.entries import Entry, read_both, read_entry
from bowcore.quantities.quantity import Quantity
from bowcore.quantities.tools import DEVICES
from bowcore.stages.speed.speed_board import SPEED, why_speed_doubted
from bowcore.work_order.needs import mark
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft, Submission
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import MarkEntry, Reading, Sheet
from shop.schema.press.models import PressCycle
from shop.ui.form_fields import decimal


@dataclass(frozen=True)
class TypedReading:
    """A reading as it was entered. `other` is the second of two readings of which the quantity is the
    difference; `sure` confirms an implausible value."""

    quantity: str
    text: str
    direction: str = ""
    start: str = ""
    end: str = ""
    sure: bool = False
    device: str = ""
    other: str = ""

    def entry(self, what: Quantity) -> Entry:
        """What it means as a reading of a quantity."""
        if what.two and not self.direction:
            return read_both(what, self.text, self.other)
        return read_entry(what, self.text, self.direction)

    def each(self) -> list["TypedReading"]:
        """Takes one by one: three pulls on a scale may be typed in one go, `59.8 60.2 60`."""
        what = quantity(self.quantity)
        several = what.takes > 1 and what.unit != "in" and not what.directions
        texts = self.text.replace(";", " ").split()
        numbers = all(text[:1].isdigit() for text in texts)
        if not several or not numbers or not 1 < len(texts) <= MOST_TAKES:
            return [self]
        return [replace(self, text=text) for text in texts]


@job_act("read", right="read")
def take_readings(event: EventDraft, typed: Sequence[TypedReading]) -> list[Reading]:
    """Append a take of each, all of them or none.

    Raises
    ------
    Unreadable
        One of the texts was not understood; it is named.
    Contradicted
        All were, but one is outside its limits, or does not go with what else is known, and is not confirmed.
    Refused
        The press is open, a hold forbids the draw, the job is closed.
    """
    state = event.state
    each = [take for one in typed for take in one.each()]
    entries = [_understood(state, one, several=len(typed) > 1) for one in each]
    for one in typed:
        _require_readable(state, state.facts.named(one.quantity))
    _require_plausible(state, each, entries)
    made = [_append(event, state, one, entry) for one, entry in zip(each, entries, strict=True)]
    event.summary = f"read {'; '.join(words for _, words in made)}"[:300]
    return [reading for reading, _ in made]


def take_reading(job_id: int, submission: Submission, typed: TypedReading) -> Reading:
    """Append one take; raises as `take_readings` does."""
    return take_readings(job_id, submission, [typed])[-1]


def append_take(event: EventDraft, state: JobState, typed: TypedReading) -> Reading:
    """One take, appended to what an act writes; raises as `take_readings` does."""
    entry = _understood(state, typed, several=False)
    _require_readable(state, state.facts.named(typed.quantity))
    _require_plausible(state, [typed], [entry])
    return _append(event, state, typed, entry)[0]


def _append(
    event: EventDraft, state: JobState, typed: TypedReading, entry: Entry
) -> tuple[Reading, str]:
    """One take and its words."""
    what = state.facts.named(typed.quantity)
    tool = DEVICES.get(typed.device, what.tool)
    reading = Reading.objects.create(
        **event.fact,
        sheet=sheet_now(event.job),
        quantity=what.key,
        start=typed.start,
        end=typed.end,
        tool=tool.key,
        value=decimal(entry.value),
        sigma=what.precision_with(tool).sigma if typed.device else entry.sigma,
        raw=entry.raw[:60],
        device=typed.device,
    )
    by = f" from the {tool.name}" if typed.device else ""
    return reading, f"{what.name.lower()} {_words(what, entry)}{by}"


@job_act("read", right="read")
def cannot_read(event: EventDraft, key: str, reason: str) -> Reading:
    """Record that a quantity could not be read, and why."""
    state = event.state
    what = state.facts.named(key)
    if not reason.strip():
        raise Refused("Write down why it cannot be read.")
    reading = _not_read(event, what, reason.strip())
    event.summary = f"could not read {what.name.lower()}: {reading.reason}"
    return reading


@job_act("read", right="read")
def skip_wanted(event: EventDraft, only: str) -> list[Reading]:
    """Pass over what is wanted and not a must: one reading or mark, or all that are left.

    Parameters
    ----------
    only : str
        Key of a quantity or a mark; "" for all.

    Raises
    ------
    Refused
        It is a must, or nothing is left that may be skipped.
    """
    state = event.state
    facts = state.facts
    names = [n for n in state.course.unread if not facts.setup.must_read(facts.named(n))]
    marks = list(state.course.unmarked)
    if only:
        names, marks = [n for n in names if n == only], [m for m in marks if m == only]
    if not names and not marks:
        raise Refused("That is a must: read it, or say why it cannot be read.")
    words = [facts.named(n).name.lower() for n in names] + [mark(m).name.lower() for m in marks]
    event.summary = f"skipped {', '.join(words)}"[:300]
    for key in marks:
        MarkEntry.objects.create(**event.fact, mark=key, value=NOT_KNOWN)
    return [_not_read(event, facts.named(name), SKIPPED) for name in names]


@job_act("read", right="read")
def skip_drawn(event: EventDraft) -> list[Reading]:
    """Record that everything at full draw waits, because a hold says that the bow is not drawn.

    Raises
    ------
    Refused
        The bow may be drawn, or nothing at full draw is waiting.
    """
    state = event.state
    hold = next((one for one in state.holds if one.danger), None)
    if hold is None:
        raise Refused("This bow may be drawn.")
    waiting = [one for one in map(state.facts.named, state.course.unread) if one.drawn]
    if not waiting:
        raise Refused("Nothing at full draw is waiting.")
    event.summary = f"left out what is read at full draw: {hold.reason}"
    return [_not_read(event, what, f"not drawn: {hold.reason}") for what in waiting]


@job_act("read", right="read")
def correct_reading(event: EventDraft, reading_id: int, typed: TypedReading) -> Reading:
    """Append a reading that takes the place of an earlier, mistyped one."""
    state = event.state
    old = Reading.objects.filter(job=event.job, pk=reading_id, corrected_by=None).first()
    if old is None:
        raise Refused("That reading has been corrected already.")
    typed = replace(typed, quantity=old.quantity)
    what = state.facts.named(old.quantity)
    entry = _understood(state, typed, several=False)
    _require_plausible(state, [typed], [entry])
    reading = Reading.objects.create(
        **event.fact,
        sheet=old.sheet,
        quantity=old.quantity,
        start=old.start,
        end=old.end,
        tool=old.tool,
        value=decimal(entry.value),
        sigma=entry.sigma,
        raw=entry.raw[:60],
        corrects=old,
    )
    event.summary = (
        f"corrected {what.name.lower()}, {old.raw or 'not read'}, to {_words(what, entry)}"
    )
    return reading


def sheet_now(job: Job) -> Sheet:
    """The sheet that readings belong to now: the baseline, or the one after the last press."""
    last = PressCycle.objects.filter(job=job).order_by("-seq").first()
    return Sheet.objects.get_or_create(job=job, after=last)[0]


def _understood(state: JobState, typed: TypedReading, several: bool) -> Entry:
    """What was typed, as a reading of its quantity; one of several is named where it is refused."""
    quantity(typed.quantity)
    what = state.facts.named(typed.quantity)
    try:
        entry = typed.entry(what)
    except Unreadable as error:
        problem = f"{what.name}: {error.problem}" if several else error.problem
        raise Unreadable(error.raw, problem, what.key) from None
    except Incomplete as error:
        raise Incomplete(f"{what.name}: {error}" if several else str(error), what.key) from None
    if slip := impossible(what, float(entry.value), typed.text, typed.start):
        raise BadInput(slip, what.key)
    return entry


def _require_plausible(
    state: JobState, typed: Sequence[TypedReading], entries: Sequence[Entry]
) -> None:
    """All doubts are said at once: a confirmation confirms what was said."""
    doubts: dict[str, str] = {}
    for one, entry in zip(typed, entries, strict=True):
        why = "" if one.sure else _why_doubted(state, one, float(entry.value))
        if why:
            doubts.setdefault(one.quantity, why)
    if doubts:
        again = "them" if len(doubts) > 1 else "it"
        words = " ".join(doubts.values())
        raise Contradicted(
            f"{words} Read {again} again, or keep {again} if you are sure.", next(iter(doubts))
        )


def _why_doubted(state: JobState, typed: TypedReading, value: float) -> str:
    what = state.facts.named(typed.quantity)
    why = why_doubted(what, value, typed.text, state.facts, state.bands, typed.start)
    if not why and what.key == SPEED:
        return why_speed_doubted(state.facts, state.fit_bow().twin_now, value)
    return why


def _not_read(event: EventDraft, what: Quantity, reason: str) -> Reading:
    return Reading.objects.create(
        **event.fact,
        sheet=sheet_now(event.job),
        quantity=what.key,
        tool=what.tool.key,
        reason=reason[:200],
    )


def _words(what: Quantity, entry: Entry) -> str:
    unit = "" if what.directions else f" {what.sign}"
    return f"{what.say(entry.value)}{unit} ({entry.raw})"


def _require_readable(state: JobState, what: Quantity) -> None:
    if what.drawn and state.facts.press is not None:
        raise Refused(f"The press is open: a bow in the press is not drawn. {what.name} waits.")
    require_press_closed(state, f"read {what.name.lower()}")
    require_bolts_back(state)
    if what.drawn:
        require_not_held(state, "draw")
