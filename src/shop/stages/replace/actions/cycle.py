"""The press cycle: open it, make the change, confirm the gate and let down."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.specification import STRING
from bowcore.errors import Contradicted, Refused
from bowcore.quantities.changes import Change
from bowcore.quantities.inches import say_length
from bowcore.stages.baseline.step import baseline_missing, marks_missing
from bowcore.stages.replace.gates import require_gate
from bowcore.stages.replace.press_plan import require_press
from bowcore.stages.string_set.arrival import LengthKnown
from bowcore.work_order.needs import why_missed
from bowcore.work_order.replacement import (
    OldPart,
    length_doubted,
    may_share_press,
    replacement_order,
    usual_for_old,
)
from bowcore.work_order.roles import needs_second_eyes, require
from bowcore.work_order.supply import require_here
from shop.casework.actions.bow_parts import swap_part
from shop.casework.checks import (
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.casework.job_act import job_act
from shop.casework.state import JobState
from shop.casework.submissions import EventDraft, Submission
from shop.casework.turning import needs_press, say_done
from shop.schema.accounts.models import Member, Shop
from shop.schema.inspection.selectors import is_damaged
from shop.schema.press.models import Adjustment, LetDown, PressCycle
from shop.schema.string_sets.selectors import parts_here
from shop.stages.replace.ledger import log_steps, require_possible
from shop.stages.string_set.actions import put_on


@job_act("open_press", right="open_press")
def open_press_to_replace(event: EventDraft, role: str) -> PressCycle:
    """Open the press to put a new part on.

    Raises
    ------
    Refused
        The baseline is not complete, a hold forbids pressing, the press is open already, or the part is
        not here.
    """
    state = event.state
    require_pressable(state)
    require_not_held(state, "replace")
    label = state.spec.part(role).label
    if role not in state.facts.to_replace:
        raise Refused(f"{label} is not to be replaced on this job.")
    roles = [role]
    if may_share_press(state.facts.replacement) and role in state.facts.still_to_replace:
        roles = replacement_order(state.spec, state.facts.still_to_replace)
    new = [one for one in roles if one in state.facts.still_to_replace]
    require_here(state.spec, new, state.facts.supply, parts_here(state.job))
    names = ", ".join(state.spec.part(r).label.lower() for r in roles)
    event.summary = f"opened the press: replace {names}"
    return _opened(event, PressCycle.REPLACE, f"Replace {names}", parts=roles)


def open_press_for(event: EventDraft, purpose: str, steps: Steps, words: str) -> PressCycle:
    """Open the press for steps, in an event that is being recorded."""
    event.summary = f"opened the press: {words}"
    return _opened(event, purpose, words, steps=steps)


@job_act("open_press", right="open_press")
def _open_press_as_advised(event: EventDraft, steps: Steps, words: str) -> PressCycle:
    require_pressable(event.state)
    return open_press_for(event, PressCycle.ADJUST, steps, words)


def do_as_advised(
    state: JobState, submission: Submission, steps: Steps, words: str
) -> PressCycle | list[Adjustment]:
    """Do what was advised: logged at once, or the press opened where it is needed.

    Raises
    ------
    Refused
        It is not advised any more, the press is open, or a hold forbids it.
    """
    if not steps:
        raise Refused("That is not asked for any more. Look again, then decide.")
    if needs_press(state, steps):
        return _open_press_as_advised(state.job.pk, submission, steps, words)
    return turn_without_press(state.job.pk, submission, steps)


@job_act("open_press", right="open_press")
def open_press_otherwise(event: EventDraft, steps: Steps, note: str) -> PressCycle:
    """Open the press for a change that the technician chose."""
    state = event.state
    require_pressable(state)
    require_possible(state, steps)
    if not needs_press(state, steps):
        raise Refused("That is turned without the press; log it as done.")
    words = say_done(state, steps) + (f" ({note.strip()})" if note.strip() else "")
    return open_press_for(event, PressCycle.OTHER, steps, words)


def change_otherwise(state: JobState, submission: Submission, steps: Steps, note: str) -> None:
    """What the technician chose: logged at once, or the press opened where it is needed."""
    if steps and not needs_press(state, steps):
        turn_without_press(state.job.pk, submission, steps)
    else:
        open_press_otherwise(state.job.pk, submission, steps, note)


@dataclass(frozen=True)
class NewPart:
    """A part as it goes on: its length and how that is known, strands, where it came from, its lay; what
    becomes of the old one, the usual where nobody said; `sure` confirms a length that is doubted."""

    length_in: Decimal
    strands: int
    note: str = ""
    lay: str = ""
    known: LengthKnown = LengthKnown.MEASURED
    becomes: OldPart | None = None
    sure: bool = False


@job_act("change", right="change")
def swap(event: EventDraft, new: NewPart) -> Adjustment:
    """Log that the planned part was replaced.

    Raises
    ------
    Contradicted
        Its length is far from what is published, and nobody is sure of it.
    Refused
        The press was not opened for it, or its change is logged.
    """
    state = event.state
    press = _open_and_undone(state)
    if press.purpose != PressCycle.REPLACE:
        raise Refused("This press cycle was not opened to replace a part.")
    role = next_part(state)
    book = state.spec.part(role)
    doubt = length_doubted(book.label, float(new.length_in), book.length_in)
    if doubt and not new.sure and not state.spec.guessed:
        raise Contradicted(doubt)
    becomes = new.becomes or usual_for_old(is_damaged(event.job, role))
    part = swap_part(
        event.job.bow, role, new.length_in, new.strands, new.note, new.lay, new.known, becomes
    )
    row = Adjustment.objects.create(
        **event.fact,
        press=press,
        change=_change_of(role).value,
        adjuster=role,
        role=role,
        part=part,
        note=new.note[:200],
    )
    put_on(event.job, part)
    length = say_length(float(new.length_in))
    event.summary = f"put on a new {part.label.lower()}, {length}, {part.length_known}"
    return row


@job_act("change", right="change")
def turn(event: EventDraft, steps: Steps) -> list[Adjustment]:
    """Log the steps that were really made, which may differ from the plan."""
    state = event.state
    press = _open_and_undone(state)
    if press.purpose == PressCycle.REPLACE:
        raise Refused("Log the new part first.")
    require_possible(state, steps)
    rows = log_steps(event, state, press, steps)
    as_planned = "" if steps == press.planned else " (not as planned)"
    event.summary = say_done(state, steps) + as_planned
    return rows


@job_act("change", right="change")
def turn_without_press(event: EventDraft, steps: Steps) -> list[Adjustment]:
    """Log what was turned with the bow out of the press: limb bolts, the nock point.

    Raises
    ------
    Refused
        The press is open, a hold forbids it, or one of them needs the press.
    """
    state = event.state
    require_press_closed(state, "turn anything else")
    require_bolts_back(state)
    require_not_held(state, "press")
    require_possible(state, steps)
    if needs_press(state, steps):
        raise Refused("That needs the press.")
    event.summary = say_done(state, steps)
    return log_steps(event, state, None, steps)


@dataclass(frozen=True)
class Gate:
    """What was looked at, who else looked, and whether the press closes on nothing done."""

    points: Sequence[str]
    second: Member | None = None
    nothing_done: bool = False


@job_act("let_down", right="let_down")
def let_down(event: EventDraft, gate: Gate) -> LetDown:
    """Confirm the gate and close the press cycle.

    Raises
    ------
    Refused
        A gate point is missing, nothing was logged, or a second person has to look.
    """
    state = event.state
    if state.press is None or state.facts.press is None:
        raise Refused("The press is not open.")
    if not state.facts.press.done and not gate.nothing_done:
        raise Refused("Log what was done before letting down, or say that nothing was.")
    require_gate(state.in_press, gate.points)
    _require_second_eyes(event.by, gate.second)
    row = LetDown.objects.create(
        **event.fact, press=state.press, points=list(gate.points), second=gate.second
    )
    looked = f", {gate.second} looked too" if gate.second else ""
    event.summary = f"confirmed the gate and let the press down{looked}"
    return row


def next_part(state: JobState) -> str:
    """The role that is to be put on next in the open press."""
    assert state.press is not None
    done = {row.role for row in state.adjustments_made if row.press_id == state.press.pk}
    return str(next(role for role in state.press.parts if role not in done))


def require_pressable(state: JobState) -> None:
    """The press may be opened for this bow now.

    Raises
    ------
    Refused
        Says why not, and what has to be done first.
    """
    require_press_closed(state, "open it again")
    require_not_held(state, "press")
    require_press(state.press_plan)
    require_bolts_back(state)
    if not state.facts.inspected:
        raise Refused("Inspect the bow before it goes into the press.")
    missing = (*baseline_missing(state.facts), *marks_missing(state.facts))
    if missing and not state.facts.changes:
        names = ", ".join(name.lower() for name, _ in why_missed(missing, state.facts.setup))
        raise Refused(f"The baseline is not complete, {len(missing)} still missing: {names}.")


def _opened(
    event: EventDraft,
    purpose: str,
    words: str,
    parts: Sequence[str] = (),
    steps: Steps = NO_STEPS,
) -> PressCycle:
    out = [move.out for move in event.state.press_plan.bolts]
    return PressCycle.objects.create(
        **event.fact,
        purpose=purpose,
        parts=list(parts),
        steps=dict(steps),
        summary=words[:300],
        bolts_out=out,
    )


def _change_of(role: str) -> Change:
    return Change.STRING if role == STRING else Change.CABLE


def _open_and_undone(state: JobState) -> PressCycle:
    if state.press is None or state.facts.press is None:
        raise Refused("Open the press first.")
    if state.facts.press.done:
        raise Refused("The change of this press cycle is logged; let down and open another.")
    return state.press


def _require_second_eyes(by: Member, second: Member | None) -> None:
    if not needs_second_eyes(by.staff_role, Shop.current().second_eyes):
        return
    if second is None or second == by:
        raise Refused("A second person has to look at the gate and sign with name and password.")
    require(second.staff_role, "change")
