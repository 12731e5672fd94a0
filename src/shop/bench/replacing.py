"""What the screens of pressing and replacing show: the press plan, parts in order, what a part says."""

from typing import Any

from bowcore.mechanics.specification import PartSpec
from bowcore.planning.words import say_turning
from bowcore.service import cautions
from bowcore.service.gates import gate_points
from bowcore.service.order import WHY, part_steps
from bowcore.service.order_rules import order_reasons
from bowcore.service.press_plan import PRESSES, Fit, Press
from bowcore.service.roles import needs_second_eyes
from bowcore.service.tug import Tug, mark_stands
from shop.accounts.models import Member
from shop.bench import before
from shop.bench.actions.press import next_part
from shop.bench.screens import placing, turns
from shop.drawings.side import side
from shop.jobs.models import MovedOver
from shop.sets.models import Component
from shop.tuning.priors import drawing_of
from shop.tuning.selectors import View

Context = dict[str, Any]
CHECK_FIRST = ("axle_to_axle", "brace_height")
"""Read at rest before a new part is judged: they tell whether it is string or cable."""


def replace(view: View) -> Context:
    """Nothing open: what goes on in which order, how it is pressed, what is asked first."""
    waiting = view.facts.still_to_replace or view.facts.to_replace
    steps = part_steps(view.spec, waiting, view.facts.school)
    return {
        "steps": steps, "plan": view.press_plan, "fits": view.press_plan.fit is not Fit.NO,
        "press_is": PRESSES[Press(view.shop.press)], "press_kind": view.shop.press,
        "again": not view.facts.still_to_replace, "school": view.facts.school,
        "school_why": WHY[view.facts.school], "schools": WHY.items(), "judged": view.part_checks,
        "drawing": drawn(view, steps[0].part) if steps else "", "parts_here": parts_here(view),
    }  # fmt: skip


def parts_here(view: View) -> dict[str, Component]:
    """Components that have come for this job and lie ready, by role."""
    rows = Component.objects.filter(set__job=view.job, came_in__isnull=False, part=None)
    return {row.role: row for row in rows.exclude(word="send it back").order_by("pk")}


def press(view: View, member: Member) -> Context:
    """The press is open: the change to log, or the gate to confirm."""
    assert view.press is not None
    planned = dict(view.press.planned)
    done = [row for row in view.adjustments if view.press and row.press_id == view.press.pk]
    context: Context = {
        "points": gate_points(view.spec.family, view.facts.has_spacers),
        "let_down": cautions.LET_DOWN, "done": done,
        "second": needs_second_eyes(member.standing, view.shop.second_eyes),
        "plan": view.press_plan, "cautions": cautions.PRESS_OPEN,
    }  # fmt: skip
    if view.press.purpose != "replace":
        turning = say_turning(view.facts.marks.get("lay", ""))
        return context | {
            "turns": turns(view, planned), "turning": turning, "placing": placing(view, planned),
        }  # fmt: skip
    if view.facts.press and view.facts.press.done:
        return context | {"part": view.spec.part(view.press.planned[-1][0])}
    role = next_part(view)
    part = view.spec.part(role)
    moved = MovedOver.objects.filter(job=view.job) if role == "string" else []
    return context | {
        "part": part, "how": part_steps(view.spec, [role], view.facts.school)[0].how,
        "drawing": drawn(view, part), "in_bag": parts_here(view).get(role), "moved": moved,
        "order": order_reasons(view.facts).get("loop_tied", []) if role == "string" else [],
    }  # fmt: skip


def to_read_first(view: View) -> tuple[str, ...]:
    """What is read at rest before a new part is judged."""
    names = (*CHECK_FIRST, *(("stop_gap",) if view.facts.setup.one_cam else ()))
    return tuple(n for n in names if not (now := view.facts.current(n)) or not now.fresh)


def check(view: View, at: str | None) -> Context:
    """What the new part says: readings at rest, then the tug test."""
    role = view.facts.unchecked[0]
    part = view.spec.part(role)
    waiting = to_read_first(view)
    rows = before.readings(view, at, (*CHECK_FIRST, *(n for n in waiting if n not in CHECK_FIRST)),
                           waiting)  # fmt: skip
    tugs = [(tug.value, f"Mark goes {tug.value}" if tug is not Tug.STILL else "Mark is on it",
             mark_stands(tug)) for tug in Tug]  # fmt: skip
    return rows | {"part": part, "tugs": tugs, "drawing": drawn(view, part), "checking": True}


def drawn(view: View, part: PartSpec) -> Any:
    """The bow with one part standing out, if its twin can be drawn."""
    outline = drawing_of(view.spec)
    return side(outline, part.role, f"{part.label}: {part.ends}") if outline else ""
