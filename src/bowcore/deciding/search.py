"""The search for the change that has the bow finished soonest.

Every option costs the minutes to a finished bow that it leads one to expect (`weighing.py`): its
own, and another round at the press in the share of cases in which it is not enough. So a press that
is opened anyway is used to aim at the middle of every band, and one more part is turned only for a
chance that is worth it. If nothing reaches: most numbers home, then as near as can be, then the
least to do. Parts are few and steps bounded, so whole sets of candidates are weighed at once,
exactly.
"""

from dataclasses import replace
from itertools import combinations

import numpy as np

from bowcore.adjusters.adjuster import Adjuster
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.deciding.problem import Option, Plan, PlanKind, Problem, ShimFlip, Shortfall
from bowcore.deciding.weighing import Weighing
from bowcore.learning.first_stop_effect import closer_in
from bowcore.measurement.bands import Band, around
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change

MOST_PARTS = 3
"""More are turned at once only where fewer do not reach."""
ACCEPTED = 0.95
"""A bow is done when every number is inside with this probability; stricter than 9 in 10, because
the readings that look best are also the lucky ones."""
COMEBACK_MINUTES, HAIR_MINUTES = 60.0, 25.0
"""A bow that was accepted and is outside by more than a hair comes back, one that is outside by a hair
is a blemish that the customer may find: weighed against another press now. With these 95 of 100 simulated
bows are truly inside; with 5 for a hair 92 are."""
WORTH_A_PRESS = 0.1
"""Coming nearer by less, in squared half widths of a band, is not worth opening the press."""
AS_NEAR = 0.1
"""Options that gain all but this share of what can be gained are taken to come as near."""
HELPS = 0.94
"""Another take is asked for while it makes a reading at least so much surer: up to eight in all. With
three more than usual at most, five more of 120 simulated bows were accepted and outside by a hair."""
SURE = 0.99
"""A number that is inside with this probability is not the one to read again."""
FAR_IN, PART_WAY = 0.6, 0.2
"""A gap further out is first brought to this share of itself, where half a twist does much."""
LONG_SHOT = 0.15
"""A change that brings everything home with less than this chance is not tried at once."""
MANY_STEPS = 6
"""Before so many half twists, what sends the bow to the press is read twice (common practice)."""


def find_plan(problem: Problem) -> Plan:
    """The plan for a problem.

    Parameters
    ----------
    problem : Problem
        Readings, bands, response and limits; every planned quantity must have a reading.

    Returns
    -------
    Plan
        `PlanKind.LEAVE` when all is inside; `PlanKind.READ_AGAIN` when that is not sure enough and
        a reading helps, or when one take alone would decide much; `PlanKind.CHANGE` with the best
        option and up to two of another kind; `PlanKind.UNREACHABLE` with the option that comes
        nearest, one of another kind, and the part that falls short.
    """
    weighing, far = Weighing(problem), part_way_aim(problem)
    still = weighing.weigh(NO_STEPS)
    unread = [name for name in problem.planned if problem.takes and not problem.takes.get(name)]
    doubtful = unread or [name for name in problem.planned if name in problem.surprising]
    if doubtful:
        return Plan(PlanKind.READ_AGAIN, still, read_again=doubtful[0])
    if still.reaches:
        again = reading_to_repeat(problem, still)
        if again:
            return Plan(PlanKind.READ_AGAIN, still, read_again=again)
        if not problem.takes or still.chance >= ACCEPTED:
            return Plan(PlanKind.LEAVE, still)
    plan = _change(problem, weighing, still) if far is None else None
    if plan is None or (plan.kind is not PlanKind.LEAVE and plan.best.chance < LONG_SHOT):
        plan = _part_way(problem, far) or plan or _change(problem, weighing, still)
    plan = _trial_first(problem, weighing, plan)
    plan = _kit_alone(problem, weighing, plan)
    hair = _outside_by_less_than_its_doubt(problem)
    if hair and plan.kind is not PlanKind.LEAVE:
        return Plan(PlanKind.READ_AGAIN, still, read_again=hair)
    alone = _resting_on_one_take(problem)
    decides_much = plan.kind is PlanKind.UNREACHABLE or half_twists(problem, plan) >= MANY_STEPS
    if alone and decides_much and plan.kind is not PlanKind.LEAVE:
        return Plan(PlanKind.READ_AGAIN, still, read_again=alone)
    return plan


def _trial_first(problem: Problem, weighing: Weighing, plan: Plan) -> Plan:
    """One small step of what the plan turns most, by a shop that wants to see it first."""
    if not problem.policy.trial_first or problem.answered or plan.kind is not PlanKind.CHANGE:
        return plan
    turned = {one.key: n for one, n in problem.turned(plan.best.steps) if one.twisted}
    key = max(turned, key=lambda one: abs(turned[one]), default="")
    small = 1 if problem.policy.half_twists else 2
    if not key or half_twists(problem, plan) <= small:
        return plan
    step = weighing.weigh(Steps({key: small if turned[key] > 0 else -small}))
    others = (plan.best, *plan.alternatives)
    return replace(plan, best=step, alternatives=others, trial=True, part_way=False)


def _kit_alone(problem: Problem, weighing: Weighing, plan: Plan) -> Plan:
    """Shims are exchanged alone in their press, after what is twisted; where this bow has not shown yet what
    they do, the thin kit comes first (common practice)."""
    plan = _shims_after_twists(problem, weighing, plan)
    unseen = [
        (one, count)
        for one, count in problem.turned(plan.best.steps)
        if _is_shim(one) and one.key not in problem.seen
    ]
    if not unseen:
        return plan
    kit, wanted = unseen[0]
    first = Steps({kit.key: kit.gentlest_steps(problem.spent.get(kit.key, 0), wanted)})
    if first == plan.best.steps:
        return plan
    others = (plan.best, *plan.alternatives)
    best = weighing.weigh(first)
    return replace(plan, kind=PlanKind.CHANGE, best=best, alternatives=others, trial=True)


def _shims_after_twists(problem: Problem, weighing: Weighing, plan: Plan) -> Plan:
    """The same plan without the shims of every option that twists something too."""

    def alone(option: Option) -> Option:
        turned = problem.turned(option.steps)
        if not any(one.twisted for one, _ in turned):
            return option
        rest = Steps((one.key, count) for one, count in turned if not _is_shim(one))
        return option if rest == option.steps else weighing.weigh(rest)

    best = alone(plan.best)
    if best is plan.best:
        return plan
    later = tuple(one.leans for one, _ in problem.turned(plan.best.steps) if _is_shim(one))
    others = {option.steps: option for option in map(alone, plan.alternatives)}
    others.pop(best.steps, None)
    return Plan(PlanKind.CHANGE, best, tuple(others.values()), trial=plan.trial, later=later)


def _is_shim(adjuster: Adjuster) -> bool:
    return bool(adjuster.positions and adjuster.leans)


def half_twists(problem: Problem, plan: Plan) -> int:
    """Half twists that the best option takes, in whichever direction."""
    turned = problem.turned(plan.best.steps)
    return sum(abs(count) for adjuster, count in turned if adjuster.twisted)


def part_way_aim(problem: Problem) -> Band | None:
    """Where a gap that is far out is brought first; None where it is taken home at once.

    Where half a twist moves it by more than its whole band, and how far is not known well before
    this bow has answered once, going all the way lands as often as not on the other side.
    """
    if problem.bend is None or "stop_gap" not in problem.planned:
        return None
    band = problem.bands["stop_gap"]
    off = problem.readings["stop_gap"][0] - band.target
    step = max(abs(problem.response.per_step("stop_gap", key)) for key in problem.whole_parts)
    if problem.answered or abs(off) < FAR_IN or step < band.high - band.low:
        return None
    tolerance = PART_WAY * abs(off) / 3
    return around(band.target + PART_WAY * off, tolerance, band.source, band.because)


def _part_way(problem: Problem, aim: Band | None) -> Plan | None:
    """A change that brings home what can be judged now: what is read at the first of two stops that
    are apart is judged once they are together. None where there is nothing of the kind."""
    gap = problem.bands.get("stop_gap")
    apart = gap is not None and not gap.judge(problem.readings["stop_gap"][0]).inside
    later = [name for name in problem.planned if problem.first_stop_effect.get(name)]
    if not apart or not (later or aim):
        return None
    bands = {name: band for name, band in problem.bands.items() if name not in later}
    nearer = replace(problem, bands=bands | ({} if aim is None else {"stop_gap": aim}))
    weighing = Weighing(nearer)
    plan = _change(nearer, weighing, weighing.weigh(NO_STEPS))
    if plan.kind is not PlanKind.CHANGE:
        return None
    whole = Weighing(problem)
    best, *others = (whole.weigh(option.steps) for option in (plan.best, *plan.alternatives))
    return replace(plan, best=best, alternatives=tuple(others), part_way=True)


def _change(problem: Problem, weighing: Weighing, still: Option) -> Plan:
    found = _search(weighing)
    reaching = sorted((option for option in found if option.reaches), key=_rank)
    if still.reaches:
        risk = COMEBACK_MINUTES * (1 - still.nearly) + HAIR_MINUTES * (1 - still.pressed)
        left = not reaching or reaching[0].minutes >= risk
        if left or (problem.on_tolerance and _only_the_gap_is_doubtful(problem)):
            return Plan(PlanKind.LEAVE, still)
    if not reaching:
        nearest = weighing.weigh(_nearest(found, still).steps)
        elsewhere = _nearest([one for one in found if _differs(one, nearest)], still)
        others = [weighing.weigh(elsewhere.steps)] if elsewhere.steps else []
        rest = (*others, still) if nearest.steps else ()
        if nearest.chance < still.chance:
            nearest, rest = still, (nearest, *others)
        return Plan(PlanKind.UNREACHABLE, nearest, rest, shortfall(problem), shim_flip(problem))
    best = reaching[0]
    others = [option for option in reaching[1:] if _differs(option, best)][:2]
    others += _one_part_way(problem, best, others)
    best, *others = (weighing.weigh(option.steps) for option in (best, *others))
    if best.chance < still.chance:
        return Plan(PlanKind.UNREACHABLE, still, (best,), shortfall(problem), shim_flip(problem))
    return Plan(PlanKind.CHANGE, best, (*others, still))


def _only_the_gap_is_doubtful(problem: Problem) -> bool:
    """Whether every other number is surely inside."""
    others = (name for name in problem.planned if name != "stop_gap")
    return all(
        problem.bands[name].chance_inside(*problem.readings[name]) >= ACCEPTED for name in others
    )


def reading_to_repeat(problem: Problem, still: Option) -> str:
    """The quantity worth reading once more before everything is accepted, or "".

    A bow is accepted when every number is inside with probability `ACCEPTED`; otherwise the least
    sure number is read again, as long as another reading of it can still help. A gap that was read on its
    tolerance again and again is not.
    """
    if still.chance >= ACCEPTED:
        return ""
    chances = {}
    for name in problem.planned:
        if name == "stop_gap" and problem.on_tolerance:
            continue
        chance = problem.bands[name].chance_inside(*problem.readings[name])
        if chance < SURE and _another_helps(name, problem.takes.get(name, 0)):
            chances[name] = chance
    return min(chances, key=lambda name: chances[name], default="")


def _another_helps(name: str, takes: int) -> bool:
    precision = QUANTITIES[name].precision
    return takes > 0 and precision.of_mean(takes + 1) < HELPS * precision.of_mean(takes)


def _outside_by_less_than_its_doubt(problem: Problem) -> str:
    """The one thing that sends the bow to the press, if another reading may well bring it inside, or ""."""
    doubtful = ""
    for name in problem.planned:
        value, sigma = problem.readings[name]
        verdict = problem.bands[name].judge(value)
        if verdict.inside:
            continue
        if verdict.by > sigma or not _another_helps(name, problem.takes.get(name, 0)):
            return ""
        doubtful = doubtful or name
    return doubtful


def _resting_on_one_take(problem: Problem) -> str:
    """The number furthest outside its band of those that were read once only, or ""."""
    outside = {}
    for name in problem.planned:
        band, value = problem.bands[name], problem.readings[name][0]
        if problem.takes.get(name) == 1 and not band.judge(value).inside:
            outside[name] = band.judge(value).by / band.half_width
    return max(outside, key=lambda name: outside[name], default="")


def shortfall(problem: Problem) -> Shortfall | None:
    """Which part's length is to blame when nothing reaches the bands, and by how much.

    Solves for the length changes without limits, by least squares in units of half band width,
    with a mild preference for leaving old parts alone; the part furthest past its limit is named.
    """
    response = problem.response
    rows = [response.quantities.index(name) for name in problem.planned]
    width = np.array([problem.bands[name].half_width for name in problem.planned])
    level = with_stops_together(problem)
    aim = np.array([problem.bands[n].target - level[n] for n in problem.planned])
    matrix = response.mean[rows] / width[:, None]
    reluctance = np.diag([_reluctance(problem, one) for one in response.adjusters])
    left = np.vstack([matrix, reluctance])
    right = np.concatenate([aim / width, np.zeros(len(response.adjusters))])
    wanted = np.linalg.lstsq(left, right, rcond=None)[0]
    excess = []
    for adjuster, steps in zip(response.adjusters, wanted, strict=True):
        if adjuster.change not in (Change.STRING, Change.CABLE):
            continue
        past = abs(steps + problem.spent.get(adjuster.key, 0)) - problem.limit
        excess.append((past, adjuster, float(steps) + problem.spent.get(adjuster.key, 0)))
    if not excess:
        return None
    past, adjuster, total = max(excess, key=lambda item: item[0])
    if past <= 0:
        return None
    return Shortfall(adjuster.key, -total * adjuster.length_step_in)


def with_stops_together(problem: Problem) -> dict[str, float]:
    """What would be read with both stops together: lengths are not to blame for where the first of
    two stops ends the draw."""
    found = {name: problem.readings[name][0] for name in problem.planned}
    if "stop_gap" in found:
        for name in found:
            effect = problem.first_stop_effect.get(name, 0.0)
            found[name] += effect * closer_in(name, found["stop_gap"], 0.0)
    return found


def _reluctance(problem: Problem, adjuster: Adjuster) -> float:
    """How little an adjuster is to be blamed: what is new comes first, then parts, then the rest."""
    if adjuster.key in problem.suspects:
        return 0.02
    if problem.suspects or adjuster.change not in (Change.STRING, Change.CABLE):
        return 0.5
    return 0.1


def shim_flip(problem: Problem) -> ShimFlip | None:
    """The lean that goes from one side of its band to the other between two neighbouring shims.

    Such a lean is left at the nearer one and finished with the rest (common practice).
    """
    for adjuster in problem.response.adjusters:
        key, name = adjuster.key, adjuster.leans
        if not adjuster.positions or name not in problem.planned:
            continue
        now, band, spent = problem.readings[name][0], problem.bands[name], problem.spent.get(key, 0)
        slope = problem.response.per_step(name, key)
        ends = [(now + n * slope, spent + n) for n in (0, *problem.steps_of(key))]
        below = [end for end in ends if end[0] < band.low]
        above = [end for end in ends if end[0] > band.high]
        if below and above and len(below) + len(above) == len(ends):
            nearer, further = sorted(
                (max(below), min(above)), key=lambda end: abs(end[0] - band.target)
            )
            words = [adjuster.say_total(total) or "as it is" for _, total in (nearer, further)]
            return ShimFlip(key, name, words[0], words[1], (nearer[0], further[0]))
    return None


def _nearest(options: list[Option], still: Option) -> Option:
    """What comes nearest when nothing reaches: most numbers home; of those that come about as near
    the least to do.

    What is inside already is not turned about for, and no press is opened for next to nothing.
    """
    better = [option for option in options if option.outside < still.outside - WORTH_A_PRESS]
    if not better:
        return still
    fewest = min(option.left for option in better)
    better = [option for option in better if option.left == fewest]
    least = min(option.outside for option in better)
    allowed = least + AS_NEAR * (still.outside - least)
    near = [option for option in better if option.outside <= allowed]
    return min(near, key=lambda o: (o.presses, len(o.steps), o.effort, o.off_middle))


def _search(weighing: Weighing) -> list[Option]:
    """The best option of every set of adjusters that may still win, its predictions left out."""
    found: list[Option] = []
    for size in range(1, min(MOST_PARTS, len(weighing.keys)) + 1):
        for keys in combinations(weighing.keys, size):
            found += _best_of(weighing, keys, found)
    if not any(option.reaches for option in found):
        for keys in combinations(weighing.main_keys, MOST_PARTS + 1):
            found += _best_of(weighing, keys, found)
    return found


def _one_part_way(problem: Problem, best: Option, others: list[Option]) -> list[Option]:
    """The timing brought home from the other side, by one cable or by two that share it, where nothing
    offered is that: its consequence for the other numbers is shown with it."""
    band = problem.bands.get("stop_gap")
    if band is None or len(others) > 1 or band.judge(problem.readings["stop_gap"][0]).inside:
        return []
    offered = [set(option.steps) for option in (best, *others)]
    weighing = Weighing(replace(problem, bands={"stop_gap": band}))
    cables = (key for key in problem.whole_parts if problem.adjuster(key).change is Change.CABLE)
    keys = [key for key in cables if key in weighing.keys]
    for count in (1, 2):
        sets = [one for one in combinations(keys, count) if set(one) not in offered]
        found = [weighing.best(weighing.grid(one), or_nearest=False) for one in sets]
        ways = sorted((one for one in found if one is not None), key=_rank)
        if ways:
            return ways[: 2 - len(others)]
    return []


def _best_of(weighing: Weighing, keys: tuple[str, ...], found: list[Option]) -> list[Option]:
    """The best of one set of adjusters, unless two that were found are quicker than it can be."""
    reached = sorted(option.minutes for option in found if option.reaches)
    if len(reached) > 1 and weighing.least_minutes(keys) >= reached[0]:
        return []
    best = weighing.best(weighing.grid(keys), or_nearest=not reached)
    return [best] if best else []


def _rank(option: Option) -> tuple[float, float]:
    return (round(option.minutes, 6), option.off_middle)


def _differs(option: Option, best: Option) -> bool:
    """Another kind of answer, not the same parts and one more."""
    return not set(option.steps) >= set(best.steps)
