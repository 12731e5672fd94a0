"""What the screens of pressing and replacing show: the press plan, parts in order, the gate, the tug."""

from collections.abc import Collection
from dataclasses import dataclass

from django.http import HttpRequest
from django.utils.safestring import SafeString

from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Adjuster
from bowcore.adjusters.limb_bolt import turns_out
from bowcore.adjusters.spacer import Spacer, how_to_place
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.lay import say_turning
from bowcore.bow.specification import STRING, PartSpec, length_of
from bowcore.evidence.facts import LengthCheck
from bowcore.measurement.cam_mark import Tug
from bowcore.quantities.inches import say_bare
from bowcore.stages.back_to_spec.by_curve import curve_first
from bowcore.stages.back_to_spec.order_rules import order_reasons
from bowcore.stages.replace.gates import gate_points
from bowcore.stages.replace.press_plan import PRESSES, USUALLY_OUT, PressFit
from bowcore.stages.replace.step import ReplaceStep
from bowcore.stages.replace.tug import SHOWN_BY, LengthVerdict, before_the_tug, judged_mark
from bowcore.stages.string_set.arrival import LengthKnown
from bowcore.work_order import cautions
from bowcore.work_order.replacement import (
    OLD_PART_WORDS,
    REPLACEMENT_REASONS,
    may_share_press,
    part_steps,
    replacement_order,
    usual_for_old,
)
from bowcore.work_order.roles import needs_second_eyes
from bowcore.work_order.supply import not_in_hand
from shop.casework.engine.priors import drawing_of, mark_lever_of
from shop.casework.readings.screens import chosen_row, readings, typed_rows
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.casework.turning import say_done
from shop.drawings.bow_side_view import bow_side_view
from shop.schema.accounts.models import Member
from shop.schema.inspection.selectors import is_damaged
from shop.schema.measurements.models import DrawCurve
from shop.schema.press.models import PressCycle
from shop.schema.string_sets.models import MovedOver
from shop.schema.string_sets.selectors import parts_here
from shop.stages.replace.actions.check_part import CHECK_FIRST
from shop.stages.replace.actions.cycle import next_part
from shop.stages.replace.forms import StepsForm

GATE_KEYS = "1234567890-="
"""Keys of the gate's points, in their order."""


@dataclass(frozen=True)
class TurnRow:
    """An adjuster to choose steps of: where it is, the steps offered in words, the chosen ones."""

    adjuster: Adjuster
    where: str
    offered: list[tuple[int, str]]
    chosen: int


@dataclass(frozen=True)
class TugChoice:
    """One answer to the tug test."""

    tug: Tug

    @property
    def key(self) -> str:
        return self.tug.value

    @property
    def words(self) -> str:
        return "Mark is on it" if self.tug is Tug.STILL else f"Mark moves {self.tug.value}"

    @property
    def means(self) -> str:
        """What follows for the length of the part."""
        length = SHOWN_BY[self.tug]
        right = length is LengthVerdict.RIGHT
        return "its length is right" if right else f"it is {length} already"


@step_screen(ReplaceStep.key)
def replace_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The open press, the bolts, the check of a new part, or what goes on next."""
    if state.press is not None:
        return press_screen(request, state)
    if state.facts.bolts_backed_off:
        return "replace/bolts.html", {}
    if state.facts.unchecked:
        shown = check(state, chosen_row(request), typed_rows(request))
        return ("readings/readings.html" if shown["asked"] else "replace/check.html"), shown
    if (found := state.facts.to_bring_home) is not None:
        return "replace/bring_home.html", off_part(state, found)
    if state.press_plan.to_count and state.facts.still_to_replace and state.facts.inspected:
        return "replace/count_bolts.html", bolt_count(state)
    return "replace/replace.html", replace(state)


def bolt_count(state: JobState) -> Context:
    """The bolts go out for this press: where they are now comes first."""
    return {
        "press_kind": state.press_kind,
        "most": state.most_turns,
        "counted": {} if turns_out(state.facts) is None else state.marks,
    }


def press_screen(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The screen of an open press."""
    return "replace/press.html", press(state, request.user)  # type: ignore[arg-type]


def replace(state: JobState) -> Context:
    """Nothing open: what goes on in which order, how it is pressed, what is asked first."""
    facts, plan = state.facts, state.press_plan
    steps = part_steps(state.spec, facts.still_to_replace or facts.to_replace, facts.replacement)
    came = parts_here(state.job)
    not_here = _not_here(state, came)
    return {
        "steps": steps,
        "plan": plan,
        "fits": plan.fit is not PressFit.NO,
        "press_is": PRESSES[state.press_kind],
        "press_kind": state.press_kind,
        "presses": PRESSES.items(),
        "again": not facts.still_to_replace,
        "act": _replace_act(state, bool(steps), not_here),
        "policy": facts.replacement,
        "policy_why": REPLACEMENT_REASONS[facts.replacement],
        "policies": REPLACEMENT_REASONS.items(),
        "judged": state.part_checks,
        "curve_first": curve_first(facts, DrawCurve.objects.filter(job=state.job).exists()),
        "drawing": part_drawing(state, steps[0].part) if steps else "",
        "parts_here": came,
        "not_here": not_here,
    }


def _replace_act(state: JobState, anything: bool, not_here: list[str]) -> str:
    """What is done next on the screen: open the press, or what comes before it."""
    if not anything or not state.facts.still_to_replace:
        return "go_on"
    if state.press_plan.fit is PressFit.NO:
        return "no_press"
    missing = state.course.unread or state.course.unmarked
    if missing and not state.facts.changes:
        return "baseline"
    return "parts" if not_here else "open"


def _not_here(state: JobState, came: Collection[str]) -> list[str]:
    """Labels of the parts for which the press would be opened now and which nobody has."""
    facts = state.facts
    order = replacement_order(state.spec, facts.still_to_replace)
    wanted = order if may_share_press(facts.replacement) else order[:1]
    missing = (role for role in not_in_hand(wanted, facts.supply) if role not in came)
    return [state.spec.part(role).label for role in missing]


def press(state: JobState, member: Member) -> Context:
    """The press is open: the change to log, or the gate to confirm."""
    assert state.press is not None and state.facts.press is not None
    context: Context = {
        "points": [
            (GATE_KEYS[n : n + 1], point) for n, point in enumerate(gate_points(state.in_press))
        ],
        "let_down": cautions.LET_DOWN,
        "done": [line for line in state.ledger if line.row.press_id == state.press.pk],
        "second": needs_second_eyes(member.staff_role, state.shop.second_eyes),
        "plan": state.press_plan,
        "cautions": cautions.PRESS_OPEN,
        "tray": state.tray,
        "usually_out": [one for one in USUALLY_OUT if one not in state.tray],
    }
    if state.press.purpose != PressCycle.REPLACE:
        return context | turning(state, state.press.planned)
    if state.facts.press.done:
        return context | {"part": state.spec.part(state.press.parts[-1])}
    role = next_part(state)
    part = state.spec.part(role)
    string, in_bag = role == STRING, parts_here(state.job).get(role)
    return context | {
        "part": part,
        "how": part_steps(state.spec, [role], state.facts.replacement)[0].how,
        "drawing": part_drawing(state, part),
        "lengths_known": [one.value for one in LengthKnown],
        "in_bag": in_bag,
        "usual_known": in_bag.length_known if in_bag else LengthKnown.LABELLED.value,
        "published": "" if state.spec.guessed else say_bare(part.length_in, 64),
        "old_parts": [(one.value, words) for one, words in OLD_PART_WORDS.items()],
        "usual_old": usual_for_old(is_damaged(state.job, role)).value,
        "moved": MovedOver.objects.filter(job=state.job) if string else [],
        "order": order_reasons(state.facts).get("loop_tied", []) if string else [],
    }


def turning(state: JobState, steps: Steps) -> Context:
    """What is needed to choose steps and to make them: rows, which way to turn, how to do it."""
    return {
        "turns": turn_rows(state, steps),
        "turns_prefix": StepsForm.prefix_of_rows,
        "turning": say_turning(state.lays_of(steps)),
        "how_to": [*how_to(state, steps), *([state.mixed_lays] if state.mixed_lays else [])],
    }


def turn_rows(state: JobState, chosen: Steps = NO_STEPS) -> list[TurnRow]:
    """Every adjuster with the steps that it can take."""
    ends = {part.role: part.ends for part in state.spec.parts}
    return [
        TurnRow(
            one,
            ends.get(one.key) or one.where(state.facts),
            _offered(state, one),
            chosen.get(one.key, 0),
        )
        for one in state.adjusters
    ]


def how_to(state: JobState, steps: Steps) -> list[str]:
    """Cautions of what is turned, and how spacers go in, for each cable that gets one."""
    found = []
    for key, count in steps.items():
        adjuster = state.adjuster(key)
        found += list(adjuster.cautions)
        if isinstance(adjuster, Spacer) and adjuster.total(state.facts) + count > 0:
            part = state.spec.part(adjuster.part)
            found += [f"{part.label}: {line}" for line in how_to_place(part)]
    return list(dict.fromkeys(found))


def to_read_first(state: JobState) -> tuple[str, ...]:
    """What is read at rest before a new part is judged."""
    names = (*CHECK_FIRST, *(("stop_gap",) if state.spec.one_cam else ()))
    return tuple(n for n in names if not (now := state.facts.current(n)) or not now.fresh)


def check(state: JobState, at: str, typed: tuple[str, ...]) -> Context:
    """What the new part shows: readings at rest, then the tug test."""
    part = state.spec.part(state.facts.unchecked[0])
    waiting = to_read_first(state)
    names = tuple(dict.fromkeys((*CHECK_FIRST, *waiting)))
    shown = readings(state, at, names, waiting, typed)
    return shown | {
        "part": part,
        "tugs": [TugChoice(tug) for tug in Tug],
        "mark": judged_mark(part, state.spec.family),
        "before": before_the_tug(part.role in state.spec.yokes, state.facts.may_be_drawn),
        "lever": mark_lever_of(state.spec, part.role),
        "drawing": part_drawing(state, part),
    }


def off_part(state: JobState, found: LengthCheck) -> Context:
    """A new part that is off: what is turned before the next one goes on."""
    part, steps = state.spec.part(found.part), Steps({found.part: found.steps})
    return {
        "part": part,
        "found": state.part_checks[0].summary,
        "act": say_done(state, steps),
        "turning": say_turning(state.lays_of(steps)),
        "drawing": part_drawing(state, part),
    }


def part_drawing(state: JobState, part: PartSpec) -> SafeString | str:
    """The bow with one part standing out, if its twin can be drawn."""
    outline = drawing_of(state.spec)
    return (
        bow_side_view(outline, length_of(part.role), f"{part.label}: {part.ends}")
        if outline
        else ""
    )


def _offered(state: JobState, adjuster: Adjuster) -> list[tuple[int, str]]:
    """Steps in words, highest first, with "not at all" between in and out."""
    total = adjuster.total(state.facts)
    counts = adjuster.offered(state.facts, MOST_HALF_TWISTS)
    words = [(count, adjuster.say_set(total, count)) for count in counts]
    more = [pair for pair in words if pair[0] > 0]
    return [*more, (0, "not at all"), *words[len(more) :]]
