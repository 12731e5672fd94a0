"""Why a plan is what it is, how sure, and what to beware of, in sentences."""

from collections.abc import Mapping, Sequence

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.registry import KINDS
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.adjusters.yoke_leg import YokeLeg
from bowcore.bow.modules import module_for
from bowcore.bow.specification import CABLE_A, CABLE_B
from bowcore.deciding.problem import Option, Plan, PlanKind, Problem
from bowcore.deciding.search import part_way_aim, with_stops_together
from bowcore.deciding.words import NEARLY_SURE, say_chance, say_plan
from bowcore.measurement.bands import BandSide
from bowcore.quantities.catalogue import LEANS, QUANTITIES, say_gap
from bowcore.quantities.changes import Change

MODULE_IN = 1 / 4
"""Draw that is off by more than a string gives is another module (common practice)."""
PATTERN_FROM = 0.5
"""So many half widths off, both numbers together are a pattern."""
_PATTERNS = {
    (-1, -1): "Axle to axle and brace height are both short. A short cable pulls axle to axle in and "
              "raises the brace; a long string lowers it: cables short and string long together. One "
              "part alone does not explain both.",
    (1, 1): "Axle to axle and brace height are both long: cables long and string short together. One "
            "part alone does not explain both.",
    (-1, 1): "Axle to axle short and brace height high: string or cables are short. Timing and draw "
             "length show which.",
    (1, -1): "Axle to axle long and brace height low: string or cables are long. Timing and draw length "
             "show which.",
}  # fmt: skip
"""What axle to axle and brace height off by so much say together (common practice)."""
TRIAL_SHARE = 0.4
"""A response less certain than this share of itself has not been seen yet."""


def say_why(problem: Problem, plan: Plan) -> list[str]:
    """The reasons, the timing first, then each number that is outside, then how sure it is."""
    reasons = [*_timing_reason(problem), *_outside(problem), *_module_remark(problem, plan)]
    if plan.kind is PlanKind.READ_AGAIN and not problem.takes.get(plan.read_again):
        return [_why_unread(problem, plan.read_again)]
    if plan.kind is PlanKind.READ_AGAIN and not plan.best.reaches:
        return [*reasons, _why_once_more(problem, plan.read_again)]
    if plan.kind is PlanKind.READ_AGAIN and plan.read_again in problem.surprising:
        return [_why_unread(problem, plan.read_again)]
    if plan.kind is PlanKind.READ_AGAIN:
        reasons.append(
            "Every number is inside. The chance that all of them truly are is "
            f"{say_chance(plan.best.chance)}; another reading of this one helps most."
        )
    for key in problem.binding(plan.best):
        adjuster = problem.adjuster(key)
        reasons.append(
            f"{adjuster.label}: that is as far as the kit goes."
            if adjuster.positions
            else f"The {adjuster.label.lower()} is then at its limit. Turn it no further."
        )
    if plan.kind is PlanKind.UNREACHABLE and plan.best.steps:
        reasons.insert(0, say_plan(problem, plan))
    if plan.kind is PlanKind.UNREACHABLE:
        reasons += _half_a_twist_flips(problem)
        reasons += _lean_stays(problem, plan.best)
    reasons += _pattern_remark(problem)
    reasons += _remarks(problem, plan.best)
    reasons += _part_way_remark(problem, plan)
    reasons += _still_to_settle(problem)
    if plan.kind is PlanKind.LEAVE and plan.best.chance < NEARLY_SURE:
        reasons.append(_at_the_edge(problem))
    if plan.trial and not problem.answered:
        reasons.append("First change on this bow: turn one step, measure, then turn the rest.")
    reasons += [
        f"{QUANTITIES[name].name} comes after it: shims are exchanged alone in their press."
        for name in plan.later
    ]
    if plan.kind is PlanKind.CHANGE and (plan.part_way or plan.trial or plan.later):
        reasons.append(f"Based on {problem.response.rests_on}; read again after the change.")
    elif plan.kind is PlanKind.CHANGE:
        reasons.append(
            f"Chance that every number ends inside: {say_chance(plan.best.chance)}. "
            f"Based on {problem.response.rests_on}; read again after the change."
        )
        if plan.best.flips_stop:
            after = say_gap(plan.best.predicted["stop_gap"][0])
            reasons.append(f"The other stop will touch first: expect {after} afterwards.")
    return reasons


def say_timing(gap_in: float, labels: Mapping[str, str], target_in: float = 0.0) -> str:
    """Which stop touches first, and which cable brings the gap to its target, in the shop's words for both.

    What is seen follows the gap's own sign, what is done the way to the target. [in]
    """
    ahead, late = ("bottom", "top") if gap_in > target_in else ("top", "bottom")
    first = "bottom" if gap_in > 0 else "top"
    taken = {"top": labels[CABLE_A].lower(), "bottom": labels[CABLE_B].lower()}
    if not QUANTITIES["stop_gap"].shows(gap_in):
        seen = f"Both stops touch together; wanted is {say_gap(target_in)}."
    elif first == ahead:
        seen = f"The {first} stop touches first: the {first} cam is ahead."
    else:
        seen = f"The {first} stop touches first, by less than wanted: {say_gap(target_in)}."
    return f"{seen} Twist the {taken[ahead]} in, or the {taken[late]} out."


def _timing_reason(problem: Problem) -> list[str]:
    if "stop_gap" not in problem.readings or "stop_gap" not in problem.bands:
        return []
    gap, band = problem.readings["stop_gap"][0], problem.bands["stop_gap"]
    if band.judge(gap).inside:
        return []
    labels = {one.key: one.label for one in problem.response.adjusters}
    if CABLE_B not in labels:
        return []
    if CABLE_A in labels:
        return [say_timing(gap, labels, band.target)]
    shorter = problem.response.per_step("stop_gap", CABLE_B) * (gap - band.target) < 0
    how = "Shortening" if shorter else "Letting out"
    place = "past its mark" if gap > 0 else "short of its mark"
    return [f"The cam is {place}. {how} the {labels[CABLE_B].lower()} brings it back."]


def _outside(problem: Problem) -> list[str]:
    lines, level = [], with_stops_together(problem)
    for name in problem.planned:
        quantity, band = QUANTITIES[name], problem.bands[name]
        verdict = band.judge(problem.readings[name][0])
        if not quantity.shows(verdict.by) or name == "stop_gap":
            continue
        word = quantity.low_word if verdict.side is BandSide.LOW else quantity.high_word
        apart = " while the stops are apart" if band.judge(level[name]).inside else ""
        lines.append(f"{quantity.name} is {quantity.say_size(band.off(verdict))} {word}{apart}.")
    return lines


def _module_remark(problem: Problem, plan: Plan) -> list[str]:
    """A module is to blame only when no twists reach the draw length and the stops are together."""
    band, gap = problem.bands.get("draw_length"), problem.bands.get("stop_gap")
    if (
        plan.kind is not PlanKind.UNREACHABLE
        or band is None
        or "draw_length" not in problem.planned
    ):
        return []
    together = gap is None or gap.judge(problem.readings["stop_gap"][0]).inside
    now, best = problem.readings["draw_length"][0], plan.best.predicted["draw_length"][0]
    if not together or band.judge(now).by <= MODULE_IN or band.judge(best).inside:
        return []
    return [_say_module(problem, band.target)]


def _say_module(problem: Problem, draw_in: float) -> str:
    """Another module, by its name where the book lists one that gives this draw."""
    module = module_for(problem.modules, draw_in)
    which = "a module or a stop" if module is None else f"module {module.words()}"
    return f"Twists do not change the draw by that much; {which} does: change it and log it."


def _why_unread(problem: Problem, name: str) -> str:
    quantity = QUANTITIES[name]
    read = problem.unconfirmed.get(name, problem.surprising.get(name))
    if read is None:
        return "It has not been read since the last change."
    return (
        f"Unexpected: it read {quantity.say(read)}, far from what the other readings lead to. Measure again: "
        "two readings that agree are accepted."
    )


def _why_once_more(problem: Problem, name: str) -> str:
    if name in problem.surprising:
        return _why_unread(problem, name)
    value, sigma = problem.readings[name]
    if problem.bands[name].judge(value).by <= sigma:
        return f"{QUANTITIES[name].name} is outside by less than the doubt of one reading. Read it once more."
    return f"{QUANTITIES[name].name} has one reading only, and the correction is large. Read it again first."


def _remarks(problem: Problem, option: Option) -> list[str]:
    """What each kind of adjuster has to say, and that a tilt is a trial until it has been seen."""
    turned = problem.turned(option.steps)
    found: list[str] = []
    for kind in KINDS.values():
        mine = [(one, count) for one, count in turned if isinstance(one, kind)]
        found += kind.remarks(mine) if mine else []
    found += _both_legs(problem, turned)
    if any(_not_seen_yet(problem, one) for one, _ in turned):
        found.append(
            "What that does to the lean is not known on this bow yet. Turn it, then measure the lean."
        )
    return found


def _both_legs(problem: Problem, turned: Sequence[tuple[Adjuster, int]]) -> list[str]:
    """A yoked cable may be turned at its legs: both together are the cable."""
    yoked = {one.part for one in problem.response.adjusters if isinstance(one, YokeLeg)}
    return [
        f"{one.label}: both yoke legs by the same amount do the same and keep the lean."
        for one, _ in turned
        if isinstance(one, StringOrCable) and one.part in yoked
    ]


def _pattern_remark(problem: Problem) -> list[str]:
    """What axle to axle and brace height say together (common practice), also while both are inside."""
    if not {"axle_to_axle", "brace_height"} <= set(problem.planned):
        return []
    signs = []
    for name in ("axle_to_axle", "brace_height"):
        band = problem.bands[name]
        off = (problem.readings[name][0] - band.target) / band.half_width
        signs.append(0 if abs(off) < PATTERN_FROM else (1 if off > 0 else -1))
    words = _PATTERNS.get((signs[0], signs[1]))
    return [words] if words else []


def _part_way_remark(problem: Problem, plan: Plan) -> list[str]:
    if not plan.part_way:
        return []
    if part_way_aim(problem) is None:
        return [
            "Draw length and holding weight are read at the first stop: they are judged once both "
            "stops touch together."
        ]
    step = max(abs(problem.response.per_step("stop_gap", key)) for key in problem.whole_parts)
    return [
        "The stops are far apart, and what half a twist does is not measured on this bow yet: about "
        f"{QUANTITIES['stop_gap'].say_size(step)} of gap, up to twice that near the middle. Turn part of the "
        "way, measure, then turn the rest."
    ]


def _still_to_settle(problem: Problem) -> list[str]:
    """What new threads will still move by enough to be read."""
    moves = [
        f"{QUANTITIES[name].name.lower()} by {QUANTITIES[name].say_size(by)}"
        for name, (by, _) in problem.to_come.items()
        if name in problem.planned and QUANTITIES[name].shows(by)
    ]
    if not moves:
        return []
    return [
        f"The new threads will still grow: expect {', '.join(moves)} until they have settled. The plan "
        "aims ahead by that much."
    ]


def _at_the_edge(problem: Problem) -> str:
    """Which number is nearest to its edge, and that reading it again helps no more."""
    chances = {n: problem.bands[n].chance_inside(*problem.readings[n]) for n in problem.planned}
    name = min(chances, key=lambda one: chances[one])
    quantity, value = QUANTITIES[name], problem.readings[name][0]
    return (
        f"{quantity.name} is near the edge of its band: {quantity.say(value)} by best estimate, inside with "
        f"{say_chance(chances[name])}. Neither another reading nor another press is worth it."
    )


def _not_seen_yet(problem: Problem, adjuster: Adjuster) -> bool:
    if not adjuster.leans:
        return False
    row = problem.response.quantities.index(adjuster.leans)
    column = problem.response.column(adjuster.key)
    known = abs(problem.response.mean[row, column])
    return bool(problem.response.sigma[row, column] > TRIAL_SHARE * known)


def _half_a_twist_flips(problem: Problem) -> list[str]:
    """That half a twist only carries the gap to the other side (common practice: stop there)."""
    if "stop_gap" not in problem.planned:
        return []
    gap, band = problem.readings["stop_gap"][0], problem.bands["stop_gap"]
    ends = []
    for adjuster in problem.response.adjusters:
        step = abs(problem.response.per_step("stop_gap", adjuster.key))
        if adjuster.change is Change.CABLE and step > abs(gap):
            ends.append(gap - step if gap > 0 else gap + step)
    if band.judge(gap).inside or not ends:
        return []
    after = min(ends, key=abs)
    return [
        f"With half a twist the other stop touches first: {say_gap(gap)} → {say_gap(after)}. Stop "
        "there, or use a cable spacer."
    ]


def _lean_stays(problem: Problem, option: Option) -> list[str]:
    """What a lean may be that neither legs nor shims bring back (common practice)."""
    for name in LEANS:
        if (
            name in problem.planned
            and not problem.bands[name].judge(option.predicted[name][0]).inside
        ):
            return [
                "A lean that legs or shims do not bring back may be a bent axle or a limb: look there, "
                "or leave it if the bow shoots well."
            ]
    return []
