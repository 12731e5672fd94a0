"""The press cycle: open it, make the change, confirm the gate and let down."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from bowcore.errors import Refused
from bowcore.planning.problem import NO_PRESS
from bowcore.quantities.inches import say_inches
from bowcore.service.gates import require_gate
from bowcore.service.needs import why_missed
from bowcore.service.order import may_share_press, order_of
from bowcore.service.press_plan import require_press
from bowcore.service.roles import needs_second_eyes
from bowcore.service.steps import baseline_missing, marks_missing
from shop.accounts.models import Member, Shop
from shop.bench.actions.rules import (
    require_act,
    require_bolts_back,
    require_not_held,
    require_press_closed,
)
from shop.bench.actions.turned import Steps, checked_steps, log_steps, say_done
from shop.bows.actions import swap_part
from shop.ledger.models import Adjustment, LetDown, PressCycle
from shop.records.deeds import Act, Stamp, on_job
from shop.tuning.models import Advice
from shop.tuning.selectors import View, advice_record, view_of


def open_press_to_replace(job_id: int, role: str, stamp: Stamp) -> PressCycle:
    """Open the press to put a new part on.

    Raises
    ------
    Refused
        The baseline is not complete, a hold forbids pressing, the press is open already.
    """
    with on_job(job_id, "open_press", stamp) as act:
        view = view_of(act.job)
        _require_pressable(view, stamp)
        require_not_held(view, "replace")
        label = view.spec.part(role).label
        if role not in view.facts.to_replace:
            raise Refused(f"{label} is not to be replaced on this job.")
        roles = [role]
        if may_share_press(view.facts.school) and role in view.facts.still_to_replace:
            roles = order_of(view.spec, view.facts.still_to_replace)
        names = ", ".join(view.spec.part(r).label.lower() for r in roles)
        act.said = f"opened the press: replace {names}"
        return _opened(act, view, "replace", [[r, 0] for r in roles], f"Replace {names}")


def accept_advice(job_id: int, option: int, stamp: Stamp) -> PressCycle:
    """Open the press for the planner's best option (0) or one of its alternatives (1, 2, ...)."""
    with on_job(job_id, "open_press", stamp) as act:
        view = view_of(act.job)
        _require_pressable(view, stamp)
        plan = view.advice.plan
        options = [plan.best, *plan.alternatives]
        if not 0 <= option < len(options) or not options[option].steps:
            raise Refused("There is nothing to press for in that choice.")
        if not options[option].presses:
            raise Refused("That is turned without the press.")
        said = view.advice.sentence_of(options[option])
        press = _opened(act, view, "adjust", [list(s) for s in options[option].steps], said)
        record = advice_record(view.advice)
        Advice.objects.create(**act.fact, press=press, taken=said, **record)
        act.said = f"opened the press: {said}"
        return press


def open_press_otherwise(job_id: int, steps: Steps, note: str, stamp: Stamp) -> PressCycle:
    """Open the press for a change that the technician chose himself."""
    with on_job(job_id, "open_press", stamp) as act:
        view = view_of(act.job)
        _require_pressable(view, stamp)
        chosen = checked_steps(view, steps)
        if all(key in NO_PRESS for key, _ in chosen):
            raise Refused("That is turned without the press; log it as done.")
        said = say_done(view, chosen) + (f" ({note.strip()})" if note.strip() else "")
        press = _opened(act, view, "other", [list(s) for s in chosen], said)
        act.said = f"opened the press: {said}"
        return press


def change_otherwise(job_id: int, steps: Steps, note: str, stamp: Stamp) -> None:
    """What the technician chose himself: logged at once, or the press opened where it is needed."""
    turned = [key for key, count in steps if count]
    if turned and all(key in NO_PRESS for key in turned):
        turn_without_press(job_id, steps, stamp)
    else:
        open_press_otherwise(job_id, steps, note, stamp)


@dataclass(frozen=True)
class NewPart:
    """A part as it goes on: measured length, strands, where it came from."""

    length_in: Decimal
    strands: int
    note: str = ""


def swap(job_id: int, new: NewPart, stamp: Stamp) -> Adjustment:
    """Log that the planned part was exchanged. The old one becomes the spare."""
    with on_job(job_id, "change", stamp) as act:
        view, press = _open_and_undone(act, stamp)
        if press.purpose != "replace":
            raise Refused("This press cycle was not opened to replace a part.")
        role = next_part(view)
        part = swap_part(act.job.bow, role, new.length_in, new.strands, new.note)
        row = Adjustment.objects.create(
            **act.fact, press=press, change=view.adjuster(role).change, role=role, part=part,
            note=new.note[:200],
        )  # fmt: skip
        act.said = f"put on a new {part.label.lower()}, {say_inches(float(new.length_in))} in"
        return row


def turn(job_id: int, steps: Steps, stamp: Stamp) -> list[Adjustment]:
    """Log the half twists that were really put in, which may differ from the plan."""
    with on_job(job_id, "change", stamp) as act:
        view, press = _open_and_undone(act, stamp)
        if press.purpose == "replace":
            raise Refused("Log the new part first.")
        done = checked_steps(view, steps)
        rows = log_steps(act, view, press, done)
        as_planned = [list(s) for s in done] == press.planned
        act.said = say_done(view, done) + ("" if as_planned else " (not as planned)")
        return rows


def turn_without_press(job_id: int, steps: Steps, stamp: Stamp) -> list[Adjustment]:
    """Log what was turned with the bow out of the press: limb bolts, the nock point.

    Raises
    ------
    Refused
        The press is open, a hold forbids it, or one of them needs the press.
    """
    with on_job(job_id, "change", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "change", view)
        require_press_closed(view, "turn anything else")
        require_bolts_back(view)
        require_not_held(view, "press")
        done = checked_steps(view, steps)
        if any(key not in NO_PRESS for key, _ in done):
            raise Refused("That needs the press.")
        act.said = say_done(view, done)
        return log_steps(act, view, None, done)


@dataclass(frozen=True)
class Gate:
    """What was looked at, who else looked, and whether the press closes on nothing done."""

    points: Sequence[str]
    second: Member | None = None
    nothing_done: bool = False


def let_down(job_id: int, gate: Gate, stamp: Stamp) -> LetDown:
    """Confirm the gate and close the press cycle.

    Raises
    ------
    Refused
        A gate point is missing, nothing was logged, or a second person has to look.
    """
    with on_job(job_id, "let_down", stamp) as act:
        view = view_of(act.job)
        require_act(stamp.by, "let_down", view)
        if view.press is None:
            raise Refused("The press is not open.")
        if view.facts.press and not view.facts.press.done and not gate.nothing_done:
            raise Refused("Log what was done before letting down, or say that nothing was.")
        require_gate(view.spec.family, gate.points, view.facts.has_spacers)
        _require_second_eyes(stamp.by, gate.second)
        row = LetDown.objects.create(
            **act.fact, press=view.press, points=list(gate.points), second=gate.second
        )
        looked = f", {gate.second} looked too" if gate.second else ""
        act.said = f"gate confirmed, press let down{looked}"
        return row


def next_part(view: View) -> str:
    """The role that is to be put on next in the open press."""
    assert view.press is not None
    done = {row.role for row in view.adjustments if row.press_id == view.press.pk}
    return str(next(role for role, _ in view.press.planned if role not in done))


def _opened(
    act: Act, view: View, purpose: str, planned: list[list[object]], said: str
) -> PressCycle:
    out = [move.out for move in view.press_plan.bolts]
    return PressCycle.objects.create(
        **act.fact, purpose=purpose, planned=planned, said=said[:300], bolts_out=out
    )


def _require_pressable(view: View, stamp: Stamp) -> None:
    require_act(stamp.by, "open_press", view)
    require_press_closed(view, "open it again")
    require_not_held(view, "press")
    require_press(view.press_plan)
    require_bolts_back(view)
    if not view.facts.looked_over:
        raise Refused("Look the bow over before it goes into the press.")
    missing = (*baseline_missing(view.facts), *marks_missing(view.facts))
    if missing and not view.facts.changes:
        names = ", ".join(name.lower() for name, _ in why_missed(missing, view.facts.setup))
        raise Refused(f"The baseline is not complete, {len(missing)} still missing: {names}.")


def _open_and_undone(act: Act, stamp: Stamp) -> tuple[View, PressCycle]:
    view = view_of(act.job)
    require_act(stamp.by, "change", view)
    if view.press is None or view.facts.press is None:
        raise Refused("Open the press first.")
    if view.facts.press.done:
        raise Refused("This press cycle has its change logged; let down and open another.")
    return view, view.press


def _require_second_eyes(by: Member, second: Member | None) -> None:
    if not needs_second_eyes(by.standing, Shop.current().second_eyes):
        return
    if second is None or second == by:
        raise Refused("A second person has to look at the gate and sign with name and password.")
