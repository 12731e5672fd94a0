"""A plan as one technician would say it to another across the bench."""

from collections.abc import Mapping, Sequence

from bowcore.mechanics.adjusters import half_split_in
from bowcore.mechanics.kits import SHIM_STEP_IN, SPACER_STEP_IN
from bowcore.mechanics.response import Adjuster
from bowcore.mechanics.specification import PartSpec
from bowcore.planning.estimator import Innovation
from bowcore.planning.problem import BOLTS, Flip, Kind, Option, Plan, Problem
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.inches import say_inches

REST_IN = 1 / 16
"""So far the rest may make up for a lean that shims leave; common practice."""
_COUNTS = {1: "one", 2: "two", 3: "three", 4: "four"}


def say_half_twists(steps: int) -> str:
    """Signed half twists in words: `half a twist in`, `one and a half twists out`."""
    way = "in" if steps > 0 else "out"
    whole, half = divmod(abs(steps), 2)
    if not whole:
        return f"half a twist {way}" if half else "no twist"
    count = _COUNTS.get(whole, str(whole))
    if half:
        return f"{count} and a half twists {way}"
    return f"{count} twist{'s' if whole > 1 else ''} {way}"


def say_option(problem: Problem, option: Option) -> str:
    """The change as an instruction: `Top take-up cable: half a twist in. One press.`"""
    if not option.steps:
        return "Leave it."
    parts = []
    for key, steps in option.steps:
        adjuster = problem.adjuster(key)
        parts.append(f"{adjuster.label}: {say_set(adjuster, problem.spent.get(key, 0), steps)}.")
    return " ".join([*parts, "One press." if option.presses else "No press."])


def say_adjuster(key: str, labels: Mapping[str, str]) -> str:
    """The name of any adjuster: `Buss cable, left leg`; `labels` are those of the parts."""
    role, dot, what = key.partition(".")
    if dot:
        return f"{labels.get(role, role)}, {what if what == 'spacer' else what + ' leg'}"
    return labels.get(key) or _NAMES.get(key, key)


_NAMES = {
    "shim_top": "Shims, top cam", "shim_bottom": "Shims, bottom cam", "nock_point": "Nock point",
    "limb_bolts": "Both limb bolts", "bolt_top": "Top limb bolt", "bolt_bottom": "Bottom limb bolt",
}  # fmt: skip


def say_set(adjuster: Adjuster, before: int, steps: int) -> str:
    """Steps from where an adjuster stands: what a kit is set to, or how far the rest is turned."""
    position = adjuster.position(before + steps)
    return position.words if position else say_steps(adjuster.key, steps)


def say_stands(adjuster: Adjuster, total: int) -> str:
    """Where an adjuster stands: the kit's position, or all that was turned; "" for nothing."""
    position = adjuster.position(total)
    return position.words if position else (say_steps(adjuster.key, total) if total else "")


def say_steps(key: str, steps: int) -> str:
    """Steps of any adjuster in words; limb bolts are counted in half turns out."""
    if key.startswith("shim_"):
        way = "left" if steps > 0 else "right"
        return f"cam {abs(steps) * SHIM_STEP_IN / 2:.4g} in further {way}"
    if key == "nock_point":
        return f"{abs(steps)} step{'s' if abs(steps) > 1 else ''} {'up' if steps > 0 else 'down'}"
    if key.endswith(".spacer"):
        way = "shorter" if steps > 0 else "longer"
        return f"{abs(steps) * SPACER_STEP_IN:.4g} in {way}"
    if key not in BOLTS:
        return say_half_twists(steps)
    said = say_half_twists(steps).replace("twist", "turn")
    return said.replace(" in", " out") if steps > 0 else said.replace(" out", " in")


def say_turning(lay: str) -> str:
    """Which way "in" turns, by the lay of the threads; "" if nobody wrote it down.

    Threads of a right-hand lay run like the bar of a Z; they wind tighter when an end is turned
    counter-clockwise, seen by someone who looks at that end.
    """
    if lay not in ("right", "left"):
        return ""
    like, way = {
        "right": ("the bar of a Z", "counter-clockwise"), "left": ("the middle of an S", "clockwise"),
    }[lay]  # fmt: skip
    return f"Its threads run like {like}: in is {way}, seen looking at the end you turn."


def say_plan(problem: Problem, plan: Plan) -> str:
    """The largest sentence on the screen."""
    if plan.kind is Kind.LEAVE:
        return "Leave it: every number is inside."
    if plan.kind is Kind.READ_AGAIN:
        return f"Read this again first: {QUANTITIES[plan.read_again].name.lower()}."
    if plan.kind is Kind.UNREACHABLE:
        return _say_unreachable(problem, plan)
    return say_option(problem, plan.best)


def say_effect(problem: Problem, option: Option) -> str:
    """What moves by enough to be read: `Gap: top 3/64 open to top 1/64 open.`"""
    moves = []
    for name in problem.planned:
        quantity = QUANTITIES[name]
        before, after = problem.readings[name][0], option.predicted[name][0]
        if quantity.say(before) != quantity.say(after):
            moves.append(f"{quantity.name} {quantity.say(before)} → {quantity.say(after)}")
    return "; ".join(moves) + "." if moves else "Nothing moves by as much as a tool can read."


def say_placing(part: PartSpec) -> list[str]:
    """How a spacer goes between the halves of a cable (common practice)."""
    half, twist = part.strands // 2, say_inches(2 * half_split_in(part), 8)
    return [
        f"Part its {part.strands} strands into {half} and {half}; count them on both sides.",
        f"Away from every serving, and at least one twist ({twist} in on this cable) from another "
        "spacer. The smallest size first.",
        "It may fall out when the press takes the load off: the next gate asks for it.",
    ]


def say_lesson(problem: Problem, told: Sequence[Innovation]) -> str:
    """Predicted against measured after the last change, the planned quantities only."""
    lines = []
    for one in told:
        if one.quantity in problem.planned:
            quantity = QUANTITIES[one.quantity]
            expected, measured = quantity.say(one.expected), quantity.say(one.value)
            if expected != measured:
                lines.append(f"{quantity.name} {measured}, expected {expected}")
    if not told:
        return ""
    return "The last change: " + ("; ".join(lines) if lines else "as predicted") + "."


def say_chance(chance: float) -> str:
    """A probability in tenths, as people say it."""
    if chance >= 0.95:
        return "better than nine in ten"
    return f"about {max(round(chance * 10), 1)} in ten"


def _say_unreachable(problem: Problem, plan: Plan) -> str:
    if plan.flip is not None:
        return _say_flip(plan.flip)
    fall = plan.shortfall
    if fall is None:
        return f"No set of whole steps reaches every band{_say_left(problem, plan)}."
    adjuster = problem.adjuster(fall.adjuster)
    size = say_inches(abs(fall.off_in), 16)
    way = "short" if fall.off_in > 0 else "long"
    return f"Cannot be reached with this {adjuster.label.lower()}: it is about {size} in {way}."


def _say_left(problem: Problem, plan: Plan) -> str:
    """What the nearest leaves outside: `; the nearest leaves lean, top at 3/8 right`."""
    left = [
        f"{QUANTITIES[name].name.lower()} at {QUANTITIES[name].say(value)}"
        for name, (value, _) in plan.best.predicted.items()
        if name in problem.planned and not problem.bands[name].judge(value).inside
    ]
    return f"; the nearest leaves {', '.join(left)}" if left else ""


def _say_flip(flip: Flip) -> str:
    """No shim brings a lean home: what old hands do then (common practice)."""
    quantity = QUANTITIES[flip.quantity]
    near, far = (quantity.say(end) for end in flip.ends)
    return (
        f"{quantity.name} flips between two shims: {near} with {flip.stays}, {far} with {flip.next}. "
        f"Keep the nearer and finish with the rest, by up to {say_inches(REST_IN)} in."
    )
