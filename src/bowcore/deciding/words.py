"""A plan as one technician would say it to another across the bench."""

from collections.abc import Sequence
from dataclasses import dataclass

from bowcore.deciding.problem import Option, Plan, PlanKind, Problem, ShimFlip
from bowcore.learning.belief import Innovation
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_length

NEARLY_SURE, HARDLY = 0.95, 0.05
COUNTED = {2: "Two", 3: "Three", 4: "Four", 5: "Five"}
REST_IN = 1 / 16
"""So far the rest may make up for a lean that shims leave (common practice)."""


def say_option(problem: Problem, option: Option) -> str:
    """The change as an instruction: `Top take-up cable: half a twist in. One press.`"""
    if not option.steps:
        return "Leave it."
    parts = [
        f"{one.label}: {one.say_set(problem.spent.get(one.key, 0), count)}."
        for one, count in problem.turned(option.steps)
    ]
    return " ".join([*parts, "One press." if option.presses else "No press."])


def say_plan(problem: Problem, plan: Plan) -> str:
    """The largest sentence on the screen."""
    if plan.kind is PlanKind.LEAVE and plan.best.chance >= NEARLY_SURE:
        return "Leave it: every number is inside its band."
    if plan.kind is PlanKind.LEAVE:
        return f"Leave it: inside by best estimate, {say_chance(plan.best.chance)}."
    if plan.kind is PlanKind.READ_AGAIN:
        return f"Read this again first: {QUANTITIES[plan.read_again].name.lower()}."
    if plan.kind is PlanKind.UNREACHABLE:
        return _say_unreachable(problem, plan)
    return f"{'Try: ' if plan.to_try else ''}{say_option(problem, plan.best)}"


def say_heading(problem: Problem, plan: Plan) -> str:
    """What is written over the acts: the sentence itself, or `Two changes, one press.` over a list.

    Where nothing reaches it is what the closest option turns; why it does not reach is a reason beneath.
    """
    count = len(plan.best.steps)
    if plan.kind is PlanKind.UNREACHABLE and count:
        return f"As near as it goes: {say_option(problem, plan.best)}"
    if plan.kind is not PlanKind.CHANGE or count < 2:
        return say_plan(problem, plan)
    press = "one press" if plan.best.presses else "no press"
    words = f"{COUNTED.get(count, str(count))} changes, {press}."
    return f"Try: {words[0].lower()}{words[1:]}" if plan.to_try else words


@dataclass(frozen=True)
class PlanLine:
    """One line of a plan: what, by how much, and where on the bow it is."""

    number: int
    label: str
    what: str
    place: str


def say_acts(problem: Problem, option: Option) -> list[PlanLine]:
    """Everything that an option turns, one by one, in the order of work."""
    return [
        PlanLine(n, one.label, one.say_set(problem.spent.get(one.key, 0), count), one.place)
        for n, (one, count) in enumerate(problem.turned(option.steps), 1)
    ]


def say_effect(problem: Problem, option: Option) -> str:
    """What moves by enough to be read: `Peak weight 58.6 → 59.4; brace height 6 1/2 → 6 9/16.`"""
    moves = []
    for name in problem.planned:
        quantity = QUANTITIES[name]
        before, after = problem.readings[name][0], option.predicted[name][0]
        if quantity.say(before) != quantity.say(after):
            moves.append(f"{quantity.name} {quantity.say(before)} → {quantity.say(after)}")
    return "; ".join(moves) + "." if moves else "No measurable change."


def say_lesson(problem: Problem, innovations: Sequence[Innovation]) -> str:
    """Predicted against measured after the last change, the planned quantities only."""
    if not innovations:
        return ""
    lines = []
    for one in innovations:
        if one.quantity in problem.planned:
            quantity = QUANTITIES[one.quantity]
            expected, measured = quantity.say(one.expected), quantity.say(one.value)
            if expected != measured:
                lines.append(f"{quantity.name} {measured}, expected {expected}")
    return "The last change: " + ("; ".join(lines) if lines else "as predicted") + "."


def say_chance(chance: float) -> str:
    """A probability in tenths, as people say it."""
    if chance >= NEARLY_SURE:
        return "better than nine in ten"
    if chance < HARDLY:
        return "less than one in ten"
    return f"about {max(round(chance * 10), 1)} in ten"


def _say_unreachable(problem: Problem, plan: Plan) -> str:
    if plan.flip is not None:
        return _say_flip(plan.flip)
    fall = plan.shortfall
    if fall is None:
        return f"Whole steps do not bring every number inside{_say_left(problem, plan)}."
    adjuster = problem.adjuster(fall.adjuster)
    size = say_length(abs(fall.off_in), 16)
    way = "short" if fall.off_in > 0 else "long"
    return f"Cannot be reached with this {adjuster.label.lower()}: it is about {size} {way}."


def _say_left(problem: Problem, plan: Plan) -> str:
    """What the closest option leaves outside: `; the closest leaves lean, top at 3/8 right`."""
    left = [
        f"{QUANTITIES[name].name.lower()} at {QUANTITIES[name].say(value)}"
        for name, (value, _) in plan.best.predicted.items()
        if name in problem.planned and not problem.bands[name].judge(value).inside
    ]
    return f"; the closest leaves {', '.join(left)}" if left else ""


def _say_flip(flip: ShimFlip) -> str:
    """Shims do not bring a lean home: what experienced technicians do then (common practice)."""
    quantity = QUANTITIES[flip.quantity]
    nearer, further = (quantity.say(end) for end in flip.leaves)
    return (
        f"{quantity.name} flips between two shims: {nearer} with {flip.nearer}, {further} with "
        f"{flip.further}. Keep the closer one and finish with the rest, by up to "
        f"{say_length(REST_IN)}."
    )
