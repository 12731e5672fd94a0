"""What each screen of a job shows: the core's answers arranged for the templates."""

from dataclasses import dataclass
from typing import Any

from django.utils.safestring import SafeString

from bowcore.errors import BowcoreError
from bowcore.measurement.bands import Band, Side, Verdict
from bowcore.mechanics.response import Adjuster
from bowcore.planning.problem import USUAL_LIMITS, Kind, Option
from bowcore.planning.words import say_chance, say_steps, say_turning
from bowcore.quantities.catalogue import QUANTITIES, Quantity
from bowcore.service.facts import Current
from bowcore.service.handover import blockers, overridable
from bowcore.service.order_rules import order_reasons
from bowcore.service.roles import Role
from bowcore.service.steps import StepState
from shop.accounts.models import SCHOOL, Member, school_of
from shop.bench.actions.choose_timing import SCHOOL_WORDS
from shop.drawings.rule import Marks, rule
from shop.drawings.stopgap import stop_gap
from shop.tuning.selectors import View

Context = dict[str, Any]


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
        (one, ends.get(one.key, one.step_word), _offered(one.key), planned.get(one.key, 0))
        for one in view.adjusters
    ]


def _offered(key: str) -> list[tuple[int, str]]:
    least, most = USUAL_LIMITS.get(key.rpartition(".")[2] or key, (-8, 8))
    least, most = (-most, most) if least == 0 < most else (least or -8, most or 8)
    return [(n, say_steps(key, n) if n else "not at all") for n in range(most, least - 1, -1)]


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
        "stops": stop_gap(gap[0]) if gap and not view.facts.setup.one_cam else "",
        "predicted": _predicted(view, best),
        "alternatives": [
            _alternative(view, n, option) for n, option in enumerate(advice.plan.alternatives, 1)
        ],
        "turns": turns(view, dict(best.steps)),
        "turning": say_turning(view.facts.marks.get("lay", "")),
        "per_step": _per_step(view), "order": _order(view),
    }  # fmt: skip


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
    """What half a twist in each part does to the gap and the weight, in words."""
    response = view.advice.problem.response
    lines = []
    for adjuster in response.adjusters:
        gap = response.per_step("stop_gap", adjuster.key)
        weight = response.per_step("peak_weight", adjuster.key)
        said = f"gap {QUANTITIES['stop_gap'].say_size(gap)}" if gap else "gap not at all"
        way = " in" if adjuster.step_word == "half a twist" else ""
        step = f"{adjuster.step_word}{way}, {adjuster.label.lower()}".capitalize()
        lines.append((step, f"{said}, weight {weight:+.1f} lbf"))
    return lines


def schools(view: View) -> Context:
    """Each school's other way on this job, with what the plan would be then."""
    mine = {name: getattr(view.shop, name) for name in SCHOOL} | view.job.school
    rows = []
    for name, now in mine.items():
        other = mine | {name: not now}
        said = view.advised_by(school_of(other)).sentence
        rows.append((name, not now, SCHOOL_WORDS[name][not now], said))
    return {"schools": rows, "mine": [SCHOOL_WORDS[k][v] for k, v in mine.items()]}


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
        "twists": [(a.label, say_steps(a.key, n) if (n := view.facts.half_twists(a.key)) else "")
                   for a in view.adjusters],
        "fresh": [view.facts.named(name).name for name in fresh],
        "to_read": [view.facts.named(name).name for name in view.course.to_read]
        if view.facts.changes else [],
    }  # fmt: skip


_CLASS = {"done": "done", "now": "now", "to do": "todo", "again": "again", "held": "held"}


def rail(view: View) -> list[tuple[int, StepState, str]]:
    """Number, state and style of every step."""
    return [(n, s, _CLASS[s.state.value]) for n, s in enumerate(view.course.steps, 1)]
