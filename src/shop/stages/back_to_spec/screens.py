"""What the plan's screen shows."""

from dataclasses import dataclass, replace

from django.http import HttpRequest
from django.urls import reverse
from django.utils.safestring import SafeString

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.steps import NO_STEPS
from bowcore.bow.specification import length_of
from bowcore.deciding.decision import Decision, NextDecision, decide
from bowcore.deciding.policies import policy_choice
from bowcore.deciding.problem import Option, Plan, PlanKind
from bowcore.deciding.words import PlanLine, say_chance
from bowcore.errors import BowcoreError
from bowcore.quantities.catalogue import LEANS, QUANTITIES
from bowcore.stages.back_to_spec.joint_plan import JointPlan, alone, joint_plan
from bowcore.stages.back_to_spec.module_act import module_act
from bowcore.stages.back_to_spec.order_rules import order_reasons
from bowcore.stages.back_to_spec.step import BackToSpecStep
from bowcore.stages.fit.fit_needs import FIT_ORDER, is_fitted
from bowcore.stages.hand_over.blockers import outside_line
from bowcore.stages.hand_over.step import HandOverStep
from bowcore.work_order import cautions
from bowcore.work_order.needs import MODULE_MARKS
from bowcore.work_order.roles import StaffRole
from shop.casework.engine.priors import drawing_of
from shop.casework.readings.leaving import leaving
from shop.casework.readings.rows import ReadingRow, reading_row
from shop.casework.readings.screens import chosen_row, read_again, typed_rows
from shop.casework.screens import Context, step_screen
from shop.casework.state import JobState
from shop.drawings.bow_side_view import Marked, bow_side_view
from shop.drawings.stopgap import stop_gap
from shop.stages.replace.screens import bolt_count, press_screen, turning


@dataclass(frozen=True)
class PlanAct:
    """One button of the plan: posts a form of the page, or goes to a step."""

    words: str
    form: str = ""
    step: str = ""
    at: str = ""
    first: bool = True

    @property
    def style(self) -> str:
        return "act" if self.first else "other"


ACCEPT, LEAVE, SIGN, SEND_BACK, ADD_PART = "accept", "leave", "sign", "send-back", "add-part"
"""Forms of the plan's page, by their ids."""
GO_TO_HAND_OVER = PlanAct("Go to hand over", step=HandOverStep.key)


@step_screen(BackToSpecStep.key)
def back_to_spec(request: HttpRequest, state: JobState) -> tuple[str, Context]:
    """The open press, the bolts, what has to be read again, or the plan."""
    if state.press is not None:
        return press_screen(request, state)
    if state.facts.bolts_backed_off:
        return "replace/bolts.html", {}
    at = chosen_row(request)
    if state.course.to_draw and not at:
        return "replace/draw_in.html", {
            "left": state.course.to_draw,
            "caution": cautions.FIRST_DRAW,
        }
    if at or state.course.to_read or state.course.unread:
        return "readings/readings.html", read_again(state, at, typed_rows(request))
    module = module_act(state.spec, state.facts, state.bands.get("draw_length"))
    if module is not None:
        return "back_to_spec/module.html", {"module": module, "marks": MODULE_MARKS}
    shown = plan_context(state, request.user.staff_role)  # type: ignore[union-attr]
    if state.press_plan.to_count and shown.get("best") and shown["best"].presses:
        return "replace/count_bolts.html", bolt_count(state)
    return (
        "back_to_spec/doubted.html" if shown.get("doubted") else "back_to_spec/plan.html"
    ), shown


def plan_context(state: JobState, role: StaffRole) -> Context:
    """The plan, or why it cannot be made."""
    try:
        advice = state.advice
    except BowcoreError as error:
        found = decide(None, state.course.outside, (), (), role)
        no_plan = {"no_plan": str(error), **_acts(state, None, found)}
        return no_plan | turning(state, NO_STEPS) | leaving(state)
    joint, kind = _joint(state), advice.plan.kind
    best = joint.best
    gap = advice.problem.readings.get("stop_gap")
    band, acts = state.bands["stop_gap"], advice.acts_of(best)
    plan = replace(advice.plan, best=best)
    found = decide(
        plan,
        state.course.outside,
        _read_once(state),
        tuple(map(length_of, state.facts.replaced)),
        role,
        advice.problem.answered,
        {check.role for check in state.part_checks if check.wrong_part},
        {name for name, band in state.bands.items() if band.source == "customer"},
    )
    return {
        "advice": advice,
        "why": (*filter(None, [joint.why]), *advice.why),
        "heading": advice.sentence_of(best) if joint.saves_min else advice.heading,
        "doubted": advice.say_doubted(),
        "best": best,
        "to_try": advice.plan.to_try,
        "acts_list": acts,
        "drawing": _drawing(state, acts),
        "changes": bool(best.steps),
        "accept_url": _accept_url(state, best),
        **_acts(state, plan, found),
        "beside": [outside_line(name, state.judged, state.bands) for name in _beside(state)],
        "leave": kind is PlanKind.LEAVE,
        "aim": band.because,
        "stops": "" if gap is None or state.spec.one_cam else stop_gap(gap[0], band.target),
        "predicted": _predicted(state, best),
        "early": _early(state),
        "alternatives": [_alternative(state, option) for option in joint.others],
        "per_step": _per_step(state),
        "order": _order(state),
        "fit_order": FIT_ORDER,
        "then_fit": [act.do for act in joint.after.acts],
        **leaving(state),
        **turning(state, best.steps),
    }


def _joint(state: JobState) -> JointPlan:
    """The plan with the fit that follows it."""
    plan = state.advice.plan
    return joint_plan(plan, state.fit_bow()) if is_fitted(state.facts) else alone(plan)


def _drawing(state: JobState, acts: list[PlanLine]) -> SafeString | str:
    """The bow with what is to be turned standing out, numbered where there are several."""
    outline = drawing_of(state.spec)
    if outline is None:
        return ""
    marked = [Marked(one.place, one.number if len(acts) > 1 else 0) for one in acts]
    said = ", ".join(one.label.lower() for one in acts)
    return bow_side_view(outline, "", f"The bow; to be turned: {said or 'nothing'}", marked)


def _acts(state: JobState, plan: Plan | None, found: NextDecision) -> Context:
    """What can be done about the plan, the next act last, with what its forms post."""
    names = ", ".join(state.facts.named(name).name.lower() for name in found.quantities)
    if plan is not None and plan.best.presses and _early(state):
        return {"acts": [_go_on(state)]}
    main = {
        Decision.DO_IT: lambda: PlanAct(_to_do(plan), form=ACCEPT),
        Decision.CLOSEST: lambda: PlanAct("Use the closest option", form=ACCEPT),
        Decision.READ_AGAIN: lambda: PlanAct(
            f"Read {names} once more", step=BackToSpecStep.key, at=found.quantities[0]
        ),
        Decision.SEND_BACK: lambda: PlanAct("Off with it: order another", form=SEND_BACK),
        Decision.ORDER: lambda: PlanAct(f"Order a new {_label(state, found)}", form=ADD_PART),
        Decision.LEAVE: lambda: PlanAct(_to_leave(names, found), form=LEAVE),
        Decision.SIGN: lambda: PlanAct("Ask for a signature", form=SIGN),
        Decision.GO_ON: lambda: _go_on(state),
    }[found.what]()
    return {
        "acts": [*_other_acts(state, plan, found), main],
        "leaves": found.quantities if found.what is Decision.LEAVE else (),
        "left_because": found.reason,
        "to_sign": f"{names} outside; nothing more can be had"
        if found.what is Decision.SIGN
        else "",
        "wrong_part": found.part if found.what is Decision.SEND_BACK else "",
        "part_to_add": found.part if found.what is Decision.ORDER else "",
        "wrong_because": state.advice.sentence if found.part else "",
    }


def _early(state: JobState) -> bool:
    """Whether the plan is looked at while something that comes before it is open."""
    return state.course.next.step != BackToSpecStep.key


def _go_on(state: JobState) -> PlanAct:
    """To whatever is next on the job: a plan that is looked at early does not skip what comes before it."""
    after = state.course.next
    return PlanAct(after.text, step=after.step) if _early(state) else GO_TO_HAND_OVER


def _label(state: JobState, found: NextDecision) -> str:
    return state.spec.part(found.part).label.lower()


def _to_leave(names: str, found: NextDecision) -> str:
    many = len(found.quantities)
    return f"Leave {names} as it is" if many == 1 else f"Leave {many} numbers as they are"


def _to_do(plan: Plan | None) -> str:
    """The words of the button that does what the plan says."""
    assert plan is not None
    best = plan.best
    if not best.presses:
        return "Done"
    every = "both" if len(best.steps) == 2 else "all of it"
    it = "this" if len(best.steps) == 1 else every
    return "Open the press, try and read" if plan.to_try else f"Open the press for {it}"


def _other_acts(state: JobState, plan: Plan | None, found: NextDecision) -> list[PlanAct]:
    """What may be done instead of the main act."""
    other = []
    if found.what in (Decision.SEND_BACK, Decision.ORDER) and plan is not None and plan.best.steps:
        other.append(PlanAct("Use the closest option", form=ACCEPT, first=False))
    if found.what is Decision.READ_AGAIN and not state.course.outside:
        other.append(PlanAct("Hand over as it is", step=HandOverStep.key, first=False))
    return other


def _read_once(state: JobState) -> list[str]:
    """Of what nothing that is turned moves, what rests on one reading: it is read once more."""
    found = [(name, state.facts.current(name)) for name in _beside(state)]
    return [name for name, now in found if now and now.summary and now.summary.takes < 2]


def _beside(state: JobState) -> list[str]:
    """What is outside its band and nothing that a plan turns moves: a peep, a loop."""
    planned = {*state.advice.problem.planned, *state.advice.later}
    return [name for name in state.course.outside if name not in planned]


def _accept_url(state: JobState, option: Option) -> str:
    """Where an option is posted to; "" when it leaves everything as it is."""
    if not option.steps:
        return ""
    return reverse("accept_plan" if option.presses else "turn_without_press", args=[state.job.pk])


def policies_context(state: JobState) -> Context:
    """Each policy's other way on this job, with what the plan would be then."""
    rows = []
    for name, now in state.chosen_policy.items():
        sentence = state.advised_by(state.policy_if({name: not now})).sentence
        rows.append((name, not now, policy_choice(name).words(not now), sentence))
    mine = [policy_choice(name).words(value) for name, value in state.chosen_policy.items()]
    return {"policies": rows, "mine": mine}


def _predicted(state: JobState, best: Option) -> list[tuple[ReadingRow, float | None]]:
    """Every planned quantity's row and its value after the change; what is outside comes first."""
    found = [
        (
            reading_row(state, name, best.predicted[name] if best.steps else None),
            best.predicted[name][0] if best.steps else None,
        )
        for name in state.advice.problem.planned
    ]
    return sorted(found, key=lambda pair: not pair[0].verdict_words)


def _order(state: JobState) -> list[str]:
    """What speaks for another order, now that timing is planned."""
    reasons = order_reasons(state.facts, state.course.outside)
    acts = ("fine_timing", "string_length", "rest_cord")
    return [line for act in acts for line in reasons.get(act, [])]


def _alternative(state: JobState, option: Option) -> Context:
    """Another way to go, with the rule of what it leaves furthest from its band's middle."""
    problem = state.advice.problem
    bands = problem.bands
    off = {
        name: abs(option.predicted[name][0] - bands[name].target) / bands[name].half_width
        for name in problem.planned
    }
    worst = max(off, key=lambda name: off[name])
    return {
        "option": option,
        "sentence": state.advice.sentence_of(option),
        "effect": state.advice.effect_of(option),
        "without_press": not option.presses,
        "accept_url": _accept_url(state, option),
        "chance": say_chance(option.chance),
        "row": reading_row(state, worst, option.predicted[worst]),
    }


def _per_step(state: JobState) -> list[tuple[str, str]]:
    """What one step of each adjuster does to gap, lean and weight, in words; of a kit the neighbours."""
    problem = state.advice.problem
    lines = []
    for one in problem.response.adjusters:
        if one.positions:
            spent = problem.spent.get(one.key, 0)
            near = sorted(problem.steps_of(one.key), key=abs)[:2]
            lines += [
                (f"{one.label}, {one.say_set(spent, n)}", _moves(state, one, n)) for n in near
            ]
        else:
            direction = " in" if one.twisted else ""
            step = f"{one.step_word}{direction}, {one.label.lower()}".capitalize()
            lines.append((step, _moves(state, one, 1)))
    return lines


def _moves(state: JobState, adjuster: Adjuster, count: int) -> str:
    """What so many steps move by enough to be read: gap, leans, weight."""
    response = state.advice.problem.response
    gap = count * response.per_step("stop_gap", adjuster.key)
    found = [f"gap {QUANTITIES['stop_gap'].say_size(gap)}"] if gap else []
    found += [
        f"{QUANTITIES[name].name.lower()} {QUANTITIES[name].say(change)}"
        for name in LEANS
        if name in response.quantities and (change := count * response.per_step(name, adjuster.key))
    ]
    weight = count * response.per_step("peak_weight", adjuster.key)
    if QUANTITIES["peak_weight"].shows(weight):
        found.append(f"weight {weight:+.1f} lbf")
    return ", ".join(found) or "nothing that a tool reads"
