"""What each screen of a job shows: the core's answers arranged for the templates."""

from dataclasses import dataclass
from typing import Any

from django.utils.safestring import SafeString

from bowcore.errors import BowcoreError
from bowcore.measurement.bands import Band, Side, Verdict
from bowcore.mechanics.response import Adjuster
from bowcore.planning.problem import BOLTS, NO_PRESS, USUAL_LIMITS, Kind, Option
from bowcore.planning.words import (
    say_chance,
    say_placing,
    say_set,
    say_stands,
    say_turning,
)
from bowcore.quantities.catalogue import LEANS, QUANTITIES, Quantity
from bowcore.service import cautions
from bowcore.service.facts import Current
from bowcore.service.handover import blockers, overridable
from bowcore.service.needs import BOLT_MARKS, SHIM_MARKS
from bowcore.service.order_rules import order_reasons
from bowcore.service.roles import Role
from bowcore.service.steps import StepState
from shop.accounts.models import Member
from shop.bench.actions.choose_timing import SCHOOL_WORDS
from shop.drawings.rule import Marks, rule
from shop.drawings.stopgap import stop_gap
from shop.tuning.selectors import View

Context = dict[str, Any]
LEAST_LBF = 0.05  # less than a scale shows


@dataclass(frozen=True)
class Row:
    """One quantity on a readings screen."""

    quantity: Quantity
    current: Current | None
    band: Band | None
    rule: SafeString
    verdict: Verdict | None

    @property
    def value(self) -> float | None:
        return self.current.summary.value if self.current and self.current.summary else None

    @property
    def stale(self) -> bool:
        return bool(self.current and self.current.stale)

    @property
    def apart(self) -> bool:
        return bool(self.current and self.current.apart)

    @property
    def converted(self) -> str:
        """By how much it was moved to the baseline's points, in words; "" if it was not."""
        shift = self.current.shift_in if self.current else 0.0
        return f"moved by {self.quantity.say_size(shift)} to the baseline's points" if shift else ""

    @property
    def verdict_words(self) -> str:
        """`1/16 in short`, or nothing when it is inside."""
        if self.verdict is None or self.verdict.inside:
            return ""
        low = self.verdict.side is Side.LOW
        word = self.quantity.low_word if low else self.quantity.high_word
        return f"{self.quantity.say_size(self.verdict.by)} {word}"


def row_of(view: View, name: str, prediction: tuple[float, float] | None = None) -> Row:
    """A quantity with its rule; `prediction` is value and uncertainty after a planned change."""
    current, before = view.facts.current(name), view.facts.baseline(name)
    quantity = view.facts.named(name)
    band = view.bands.get(name)
    value = current.summary.value if current and current.summary else None
    marks = Marks(
        band,
        before.summary.value if before and before.summary else None,
        value,
        bool(current and current.stale),
        prediction[0] if prediction else None,
        prediction[1] if prediction else 0.0,
    )
    apart = current is None or current.apart
    verdict = band.judge(value) if band and value is not None and not apart else None
    return Row(quantity, current, band, rule(quantity, marks), verdict)


def turns(
    view: View, planned: dict[str, int]
) -> list[tuple[Adjuster, str, list[tuple[int, str]], int]]:
    """Per adjuster: itself, where it runs, the steps offered in words, the ones that are chosen."""
    ends = {part.role: part.ends for part in view.spec.parts}
    return [
        (one, ends.get(one.key) or _stands(view, one), _offered(view, one), planned.get(one.key, 0))
        for one in view.adjusters
    ]


def _stands(view: View, adjuster: Adjuster) -> str:
    """Where something that is no part stands now: the kit's position, turns out and their limit."""
    if adjuster.key in BOLT_MARKS:
        out = [view.marks.get(mark, "not counted") for mark in BOLT_MARKS[adjuster.key]]
        return f"now {' and '.join(out)} turns out, at most {view.most_turns:g}"
    if adjuster.key in SHIM_MARKS and view.facts.shims_at_first(adjuster.key) is None:
        return "nobody has written down which are in"
    if adjuster.positions:
        said = say_stands(adjuster, view.facts.total(adjuster.key))
        return f"now {said}" if said else "as it came"
    return adjuster.step_word


def _offered(view: View, adjuster: Adjuster) -> list[tuple[int, str]]:
    key, spent = adjuster.key, view.facts.total(adjuster.key)
    if key in BOLTS:
        least, most = view.facts.bolt_limits(key)
        counts = list(
            range(most - view.facts.half_twists(key), least - view.facts.half_twists(key) - 1, -1)
        )
    elif adjuster.positions:
        counts = [one.total - spent for one in reversed(adjuster.positions)]
    else:
        least, most = USUAL_LIMITS.get(key.rpartition(".")[2] or key, (-8, 8))
        counts = list(range(most, least - 1, -1))
    others = [(n, say_set(adjuster, spent, n)) for n in counts if n]
    still = [(n, words) for n, words in others if n > 0]
    return [*still, (0, "not at all"), *others[len(still) :]]


def plan(view: View) -> Context:
    """The plan card, or the reason why there is none."""
    try:
        advice = view.advice
    except BowcoreError as error:
        return {"no_plan": str(error), "turns": turns(view, {})}
    best = advice.plan.best
    gap = advice.problem.readings.get("stop_gap")
    return {
        "advice": advice,
        "changes": bool(best.steps), "without_press": bool(best.steps) and not best.presses,
        "best_steps": best.steps,
        "unreachable": advice.plan.kind is Kind.UNREACHABLE,
        "nearest": advice.sentence_of(best),
        "leave": advice.plan.kind is Kind.LEAVE,
        "read_again": advice.plan.read_again,
        "aim": view.bands["stop_gap"].because,
        "stops": "" if gap is None or view.facts.setup.one_cam
        else stop_gap(gap[0], view.bands["stop_gap"].target),
        "predicted": _predicted(view, best),
        "alternatives": [
            _alternative(view, n, option) for n, option in enumerate(advice.plan.alternatives, 1)
        ],
        "turns": turns(view, dict(best.steps)),
        "turning": say_turning(view.facts.marks.get("lay", "")) if _twisted(best) else "",
        "placing": placing(view, dict(best.steps)),
        "per_step": _per_step(view), "order": _order(view),
    }  # fmt: skip


def placing(view: View, steps: dict[str, int]) -> list[str]:
    """How the spacers among some steps go in, for each cable that gets one; shims with their caution."""
    cables = [key.removesuffix(".spacer") for key in steps if key.endswith(".spacer")]
    shims = [cautions.SHIMS] if any(key in SHIM_MARKS for key in steps) else []
    return shims + [
        f"{view.spec.part(role).label}: {line}"
        for role in cables if view.facts.total(f"{role}.spacer") + steps[f"{role}.spacer"] > 0
        for line in say_placing(view.spec.part(role))
    ]  # fmt: skip


def _twisted(option: Option) -> bool:
    return any(key not in NO_PRESS and not key.startswith("shim_") and ".spacer" not in key
               for key, _ in option.steps)  # fmt: skip


def _predicted(view: View, best: Option) -> list[tuple[Row, float | None]]:
    """Every planned quantity's row and its value after the change; what is outside comes first."""
    found = [
        (row_of(view, name, best.predicted[name] if best.steps else None),
         best.predicted[name][0] if best.steps else None) for name in view.advice.problem.planned
    ]  # fmt: skip
    return sorted(found, key=lambda pair: not pair[0].verdict_words)


def _order(view: View) -> list[str]:
    """What an old hand would say about the order, now that timing is planned."""
    said = order_reasons(view.facts, view.course.outside)
    return [
        line for act in ("fine_timing", "string_length", "rest_cord") for line in said.get(act, [])
    ]


def _alternative(view: View, number: int, option: Option) -> Context:
    """Another way to go, with the rule of what it leaves furthest from its band's middle."""
    problem = view.advice.problem
    bands = problem.bands
    off = {
        name: abs(option.predicted[name][0] - bands[name].target) / bands[name].half_width
        for name in problem.planned
    }
    worst = max(off, key=lambda name: off[name])
    return {
        "number": number, "sentence": view.advice.sentence_of(option),
        "effect": view.advice.effect_of(option), "steps": option.steps,
        "without_press": not option.presses,
        "chance": say_chance(option.chance), "reaches": option.reaches,
        "row": row_of(view, worst, option.predicted[worst]),
    }  # fmt: skip


def _per_step(view: View) -> list[tuple[str, str]]:
    """What one step of each adjuster does to gap, lean and weight, in words; of a kit the neighbours."""
    problem = view.advice.problem
    lines = []
    for adjuster in problem.response.adjusters:
        if adjuster.positions:
            near = sorted(problem.steps_of(adjuster.key), key=abs)[:2]
            spent = problem.spent.get(adjuster.key, 0)
            lines += [(f"{adjuster.label}, {say_set(adjuster, spent, n)}", _moves(view, adjuster, n))
                      for n in near]  # fmt: skip
            continue
        way = " in" if adjuster.step_word == "half a twist" else ""
        step = f"{adjuster.step_word}{way}, {adjuster.label.lower()}".capitalize()
        lines.append((step, _moves(view, adjuster, 1)))
    return lines


def _moves(view: View, adjuster: Adjuster, steps: int) -> str:
    """What so many steps move by enough to be read: gap, leans, weight."""
    response = view.advice.problem.response
    gap = steps * response.per_step("stop_gap", adjuster.key)
    said = [f"gap {QUANTITIES['stop_gap'].say_size(gap)}"] if gap else []
    said += [
        f"{QUANTITIES[name].name.lower()} {QUANTITIES[name].say(change)}"
        for name in LEANS
        if name in response.quantities and (change := steps * response.per_step(name, adjuster.key))
    ]
    weight = steps * response.per_step("peak_weight", adjuster.key)
    if abs(weight) >= LEAST_LBF:
        said.append(f"weight {weight:+.1f} lbf")
    return ", ".join(said) or "nothing that a tool reads"


def schools(view: View) -> Context:
    """Each school's other way on this job, with what the plan would be then."""
    rows = []
    for name, now in view.chosen.items():
        said = view.advised_by(view.school_if({name: not now})).sentence
        rows.append((name, not now, SCHOOL_WORDS[name][not now], said))
    return {"schools": rows, "mine": [SCHOOL_WORDS[k][v] for k, v in view.chosen.items()]}


def hand_over(view: View, member: Member) -> Context:
    found = [] if view.facts.handed_over else blockers(view.facts, view.bands)
    return {
        "rows": [row_of(view, name) for name in view.needed],
        "blockers": found,
        "may_override": bool(found) and member.standing is Role.MANAGER and overridable(view.facts),
    }


def strip(view: View) -> Context:
    """The right-hand strip: this bow's vital facts."""
    fresh = [n for n in view.needed if (now := view.facts.current(n)) and now.fresh]
    return {
        "twists": [(a.label, say_stands(a, view.facts.total(a.key))
                    if view.facts.half_twists(a.key) else "") for a in view.adjusters],
        "fresh": [view.facts.named(name).name for name in fresh],
        "to_read": [view.facts.named(name).name for name in view.course.to_read]
        if view.facts.changes else [],
    }  # fmt: skip


_CLASS = {"done": "done", "now": "now", "to do": "todo", "again": "again", "held": "held"}


def rail(view: View) -> list[tuple[int, StepState, str]]:
    """Number, state and style of every step."""
    return [(n, s, _CLASS[s.state.value]) for n, s in enumerate(view.course.steps, 1)]
