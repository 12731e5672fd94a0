"""The search for the smallest change that brings every number home.

Goals, each only where the ones before are equal: every band reached with probability
`SURE_ENOUGH` (if nothing is that sure: by the best estimate); fewest press cycles; fewest parts
touched; the first stop not turned over; (if nothing is sure: the surest); fewest half twists;
nearest to the middle of the bands. If nothing reaches: most numbers home, then as near as can be,
then the least to do.
Parts are few and steps bounded, so whole sets of candidates are weighed at once, exactly, from the
least intervention upward.
"""

from dataclasses import replace
from itertools import combinations

import numpy as np

from bowcore.mechanics.adjusters import lean_of
from bowcore.planning.estimator import closer_in
from bowcore.planning.problem import Flip, Kind, Option, Plan, Problem, Shortfall
from bowcore.planning.weighing import KEPT_IN, SURE_ENOUGH, Weights, doubt_after, flips
from bowcore.quantities.catalogue import QUANTITIES

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


def solve(problem: Problem) -> Plan:
    """The plan for a problem.

    Parameters
    ----------
    problem : Problem
        Readings, bands, response and limits; every planned quantity must have a reading.

    Returns
    -------
    Plan
        `Kind.LEAVE` when all is inside already; `Kind.READ_AGAIN` when that is not sure enough and
        a reading helps; `Kind.CHANGE` with the best option and up to two of another kind, also for
        a number that was read often enough and stays at its edge; `Kind.UNREACHABLE` with the
        option that comes nearest and the part that falls short.
    """
    still = weigh(problem, {})
    unread = [name for name in problem.planned if problem.takes and not problem.takes.get(name)]
    if unread:
        return Plan(Kind.READ_AGAIN, still, read_again=unread[0])
    if still.reaches:
        again = reading_to_repeat(problem, still)
        if again:
            return Plan(Kind.READ_AGAIN, still, read_again=again)
        if not problem.takes or still.chance >= ACCEPTED:
            return Plan(Kind.LEAVE, still)
    per_subset = _search(problem)
    reaching = sorted((o for o in per_subset if o.reaches), key=_rank)
    if still.reaches:
        surer = [option for option in reaching if option.chance > still.chance + WORTH_IT]
        if not surer:
            return Plan(Kind.LEAVE, still)
        reaching = surer
    if not reaching:
        nearest = weigh(problem, dict(_nearest(per_subset, still).steps))
        rest = (still,) if nearest.steps else ()
        return Plan(Kind.UNREACHABLE, nearest, rest, shortfall(problem), shim_flip(problem))
    best = reaching[0]
    others = [option for option in reaching[1:] if _differs(option, best)][:2]
    told = [weigh(problem, dict(option.steps)) for option in (best, *others)]
    return Plan(Kind.CHANGE, told[0], (*told[1:], still))


def weigh(problem: Problem, steps: dict[str, int]) -> Option:
    """What a given change would do: predicted readings, chance, flip of the first stop."""
    predicted = _predicted(problem, steps)
    chance, reaches, off, outside, left = 1.0, True, 0.0, 0.0, 0
    for name in problem.planned:
        band = problem.bands[name]
        value, sigma = predicted[name]
        chance *= band.chance_inside(value, sigma)
        reaches = reaches and band.judge(value).inside
        off += ((value - band.target) / band.half_width) ** 2
        outside += (max(band.low - value, value - band.high, 0.0) / band.half_width) ** 2
        left += not band.judge(value).inside
    option = Option(
        tuple((key, count) for key, count in steps.items() if count),
        predicted, chance, reaches, off / max(len(problem.planned), 1),
        sum(problem.effort(key, count) for key, count in steps.items()), outside, left,
    )  # fmt: skip
    kept = not problem.school.keep_length or _keeps_length(problem, option)
    gap = "stop_gap" in problem.readings and "stop_gap" in predicted and bool(option.steps)
    turned = gap and flips(problem.readings["stop_gap"][0], predicted["stop_gap"][0])
    return replace(option, reaches=reaches and kept, flips_stop=turned)


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


def _predicted(problem: Problem, steps: dict[str, int]) -> dict[str, tuple[float, float]]:
    """Value and uncertainty of every quantity afterwards, by the joint covariance if known."""
    plain = _unkinked(problem, problem.response.predict(problem.readings, steps))
    if problem.blocks is None:
        return plain
    turned = tuple(steps.items())
    return {name: (value, doubt_after(problem, name, turned)) for name, (value, _) in plain.items()}


def _unkinked(
    problem: Problem, after: dict[str, tuple[float, float]]
) -> dict[str, tuple[float, float]]:
    """What is read at the first stop comes up as the gap closes, whichever stop is ahead."""
    if "stop_gap" not in after:
        return after
    gaps = problem.readings["stop_gap"][0], after["stop_gap"][0]
    moved = {n: slope * closer_in(n, *gaps) for n, slope in problem.kinks.items() if n in after}
    return after | {n: (after[n][0] + change, after[n][1]) for n, change in moved.items()}


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
        if adjuster.change not in ("string", "cable"):
            continue
        past = abs(steps + problem.spent.get(adjuster.key, 0)) - problem.limit
        excess.append((past, adjuster, float(steps) + problem.spent.get(adjuster.key, 0)))
    if not excess:
        return None
    past, adjuster, total = max(excess, key=lambda item: item[0])
    if past <= 0:
        return None
    return Shortfall(adjuster.key, -total * adjuster.length_step_in)


def shim_flip(problem: Problem) -> Flip | None:
    """The lean that goes from one side of its band to the other between two neighbouring shims.

    Such a lean is left at the nearer one and finished with the rest (common practice).
    """
    for key in (adjuster.key for adjuster in problem.response.adjusters if adjuster.positions):
        name = lean_of(key)
        if name not in problem.planned:
            continue
        now, band, spent = problem.readings[name][0], problem.bands[name], problem.spent.get(key, 0)
        slope = problem.response.per_step(name, key)
        ends = [(now + n * slope, spent + n) for n in (0, *problem.steps_of(key))]
        below = [end for end in ends if end[0] < band.low]
        above = [end for end in ends if end[0] > band.high]
        if below and above and len(below) + len(above) == len(ends):
            near, far = sorted((max(below), min(above)), key=lambda end: abs(end[0] - band.target))
            said = [_said_position(problem, key, total) for _, total in (near, far)]
            return Flip(key, name, said[0], said[1], (near[0], far[0]))
    return None


def _said_position(problem: Problem, key: str, total: int) -> str:
    position = problem.adjuster(key).position(total)
    return position.words if position else "as it is"


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


def _search(problem: Problem) -> list[Option]:
    """The best option of every set of adjusters, fewest first, its predictions left out.

    Once one of them is sure enough and there is another way to go, larger sets cannot win.
    """
    weights = Weights(problem)
    found: list[Option] = []
    for size in range(1, min(MOST_PARTS, len(weights.keys)) + 1):
        for keys in combinations(weights.keys, size):
            reached = any(option.reaches for option in found)
            best = weights.best(weights.grid(keys), or_nearest=not reached)
            found += [best] if best else []
        sure = [o for o in found if o.reaches and o.chance >= SURE_ENOUGH]
        if sure and sum(option.reaches for option in found) > 1:
            break
    return found


def _keeps_length(problem: Problem, option: Option) -> bool:
    if "axle_to_axle" not in problem.planned:
        return True
    moved = option.predicted["axle_to_axle"][0] - problem.readings["axle_to_axle"][0]
    return abs(moved) <= KEPT_IN


def _rank(option: Option) -> tuple[bool, int, int, bool, float, int, float]:
    sure = option.chance >= SURE_ENOUGH
    surest = 0.0 if sure else -round(option.chance, 6)
    parts = len(option.steps)
    flips = option.flips_stop
    return (not sure, option.presses, parts, flips, surest, option.effort, option.off_middle)


def _differs(option: Option, best: Option) -> bool:
    """Another kind of answer, not the same parts and one more."""
    return not {key for key, _ in option.steps} >= {key for key, _ in best.steps}
