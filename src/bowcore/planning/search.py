"""The search for the smallest change that brings every number home.

Goals, each only where the ones before are equal: every band reached with probability
`SURE_ENOUGH` (if nothing is that sure: by the best estimate); fewest press cycles; fewest parts
touched; the first stop not turned over; (if nothing is sure: the surest); fewest half twists;
nearest to the middle of the bands. If nothing reaches: most numbers home, then as near as can be,
then the least to do.
Parts are few and steps bounded, so whole sets of candidates are weighed at once, exactly, from the
least intervention upward.
"""

from itertools import combinations

import numpy as np

from bowcore.adjusters.steps import NO_STEPS
from bowcore.planning.problem import Option, Plan, PlanKind, Problem, ShimFlip, Shortfall
from bowcore.planning.weighing import SURE_ENOUGH, Weighing
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change

MOST_PARTS = 3
ACCEPTED = 0.95
"""A bow is done when every number is inside with this probability; stricter than 9 in 10, because
the readings that look best are also the lucky ones."""
WORTH_IT = 0.2
"""A number at its edge is only turned for if that much more certainty is to be had."""
WORTH_A_PRESS = 0.1
"""Coming nearer by less, in squared half widths of a band, is not worth opening the press."""
AS_NEAR = 0.1
"""Options that gain all but this share of what can be gained are taken to come as near."""
MOST_REPEATS = 3
"""Beyond so many readings of one moment another one teaches little."""


def find_plan(problem: Problem) -> Plan:
    """The plan for a problem.

    Parameters
    ----------
    problem : Problem
        Readings, bands, response and limits; every planned quantity must have a reading.

    Returns
    -------
    Plan
        `PlanKind.LEAVE` when all is inside already; `PlanKind.READ_AGAIN` when that is not sure enough and
        a reading helps; `PlanKind.CHANGE` with the best option and up to two of another kind, also for
        a number that was read often enough and stays at its edge; `PlanKind.UNREACHABLE` with the
        option that comes nearest and the part that falls short.
    """
    weighing = Weighing(problem)
    still = weighing.weigh(NO_STEPS)
    unread = [name for name in problem.planned if problem.takes and not problem.takes.get(name)]
    if unread:
        return Plan(PlanKind.READ_AGAIN, still, read_again=unread[0])
    if still.reaches:
        again = reading_to_repeat(problem, still)
        if again:
            return Plan(PlanKind.READ_AGAIN, still, read_again=again)
        if not problem.takes or still.chance >= ACCEPTED:
            return Plan(PlanKind.LEAVE, still)
    per_subset = _search(weighing)
    reaching = sorted((o for o in per_subset if o.reaches), key=_rank)
    if still.reaches:
        surer = [option for option in reaching if option.chance > still.chance + WORTH_IT]
        if not surer:
            return Plan(PlanKind.LEAVE, still)
        reaching = surer
    if not reaching:
        nearest = weighing.weigh(_nearest(per_subset, still).steps)
        rest = (still,) if nearest.steps else ()
        return Plan(PlanKind.UNREACHABLE, nearest, rest, shortfall(problem), shim_flip(problem))
    best = reaching[0]
    others = [option for option in reaching[1:] if _differs(option, best)][:2]
    best, *others = (weighing.weigh(option.steps) for option in (best, *others))
    return Plan(PlanKind.CHANGE, best, (*others, still))


def reading_to_repeat(problem: Problem, still: Option) -> str:
    """The quantity worth reading once more before everything is accepted, or "".

    A bow is accepted when every number is inside with probability `ACCEPTED`; otherwise the least
    sure number is read again, as long as another reading of it can still help.
    """
    if still.chance >= ACCEPTED:
        return ""
    chances = {}
    for name in problem.planned:
        value, sigma = problem.readings[name]
        often = QUANTITIES[name].takes * MOST_REPEATS
        if 0 < problem.takes.get(name, 0) < often:
            chances[name] = problem.bands[name].chance_inside(value, sigma)
    if not chances:
        return ""
    return min(chances, key=lambda name: chances[name])


def shortfall(problem: Problem) -> Shortfall | None:
    """Which part's length is to blame when nothing reaches the bands, and by how much.

    Solves for the length changes without limits, by least squares in units of half band width,
    with a mild preference for leaving old parts alone; the part furthest past its limit is named.
    """
    response = problem.response
    rows = [response.quantities.index(name) for name in problem.planned]
    width = np.array([problem.bands[name].half_width for name in problem.planned])
    aim = np.array([problem.bands[n].target - problem.readings[n][0] for n in problem.planned])
    matrix = response.mean[rows] / width[:, None]
    reluctance = np.diag([0.02 if a.key in problem.suspects else 0.1 for a in response.adjusters])
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
    """The best option of every set of adjusters, fewest first, its predictions left out.

    Once one of them is sure enough and there is another way to go, larger sets cannot win.
    """
    found: list[Option] = []
    for size in range(1, min(MOST_PARTS, len(weighing.keys)) + 1):
        for keys in combinations(weighing.keys, size):
            reached = any(option.reaches for option in found)
            best = weighing.best(weighing.grid(keys), or_nearest=not reached)
            found += [best] if best else []
        sure = [o for o in found if o.reaches and o.chance >= SURE_ENOUGH]
        if sure and sum(option.reaches for option in found) > 1:
            break
    return found


def _rank(option: Option) -> tuple[bool, int, int, bool, float, int, float]:
    sure = option.chance >= SURE_ENOUGH
    surest = 0.0 if sure else -round(option.chance, 6)
    parts = len(option.steps)
    flips = option.flips_stop
    return (not sure, option.presses, parts, flips, surest, option.effort, option.off_middle)


def _differs(option: Option, best: Option) -> bool:
    """Another kind of answer, not the same parts and one more."""
    return not set(option.steps) >= set(best.steps)
