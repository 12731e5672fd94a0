"""What a bow has to move a tear by, and how far each may go: taps, yoke legs, pairs of shims, a cable."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.yoke_leg import LEG_SIDES, MOST_PER_LEG, YokeLeg
from bowcore.bow.specification import Family
from bowcore.evidence.facts import Facts
from bowcore.measurement.bands import Band
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.response.matrix import Response
from bowcore.stages.shooting_in.suspects import NOCK_POINT
from bowcore.stages.shooting_in.tear_response import (
    MOST_CABLE_STEPS,
    MOST_LEG_STEPS,
    MOST_TAPS,
    Lever,
    shim_lever,
    tap_lever,
    timing_lever,
    yoke_lever,
)

_GAP = "stop_gap"


def levers_of(facts: Facts, bands: Mapping[str, Band]) -> tuple[Lever, ...]:
    """Everything by which this bow's tear is moved: taps, yoke legs against each other, shims, half a twist.

    Parameters
    ----------
    facts : Facts
        With what was turned already, and with the shims that are in.
    bands : mapping of str to Band
        By which the rest may move.
    """
    taps = [
        tap_lever(NOCK_POINT, facts.left_handed),
        *(_rest_lever(facts, bands, key) for key in (REST_UP, REST_OUT)),
    ]
    every = (*taps, *_yokes(facts), *_shims(facts), *_timing(facts, bands))
    known = facts.shooting_policy.rates
    return tuple(replace(one, first=known.get(one.key, one.first)) for one in every)


def _rest_lever(facts: Facts, bands: Mapping[str, Band], key: str) -> Lever:
    limits, blocked = _room(facts, bands)
    free = (-MOST_TAPS, MOST_TAPS)
    return tap_lever(key, facts.left_handed, limits.get(key, free), blocked.get(key, ""))


def _yokes(facts: Facts) -> Iterator[Lever]:
    legs: dict[str, dict[str, YokeLeg]] = {}
    for one in facts.adjusters:
        if isinstance(one, YokeLeg):
            legs.setdefault(one.axle, {})[one.side] = one
    for axle, pair in legs.items():
        left, right = (pair[side].key for side in LEG_SIDES)
        spent = facts.net_steps(left) - facts.net_steps(right)
        counts = [
            n for n in range(-MOST_LEG_STEPS, MOST_LEG_STEPS + 1)
            if n and abs(spent / 2 + n) <= MOST_PER_LEG
        ]  # fmt: skip
        yield yoke_lever(f"yoke_{axle}", left, right, counts)


def _shims(facts: Facts) -> Iterator[Lever]:
    for one in facts.adjusters:
        if not isinstance(one, Shim):
            continue
        key = f"shim_{one.axle}"
        if one.start(facts) is None:
            unknown = f"{one.label}: write down which are in now before they are exchanged."
            yield shim_lever(key, one.key, (), unknown)
        else:
            total = one.total(facts)
            yield shim_lever(
                key, one.key, [p.total - total for p in one.positions if p.total != total]
            )


def cable_moves(response: Response) -> dict[str, dict[str, float]]:
    """What half a twist in each cable does to each number, by the cable's adjuster."""
    cables = [one for one in response.adjusters if one.change is Change.CABLE]
    return {
        one.key: {name: response.per_step(name, one.key) for name in response.quantities}
        for one in cables
    }


def _timing(facts: Facts, bands: Mapping[str, Band]) -> Iterator[Lever]:
    """Half a twist in the cable that moves the timing most and everything else least; with two cams only."""
    moves = {key: numbers for key, numbers in facts.cable_moves.items() if numbers.get(_GAP, 0.0)}
    if facts.family is Family.SINGLE or not moves:
        return
    cable = max(moves, key=lambda key: _share_of_timing(moves[key]))
    counts, blocked = _half_twists(facts, bands, moves[cable])
    yield timing_lever(cable, moves[cable][_GAP], counts, blocked)


def _share_of_timing(numbers: Mapping[str, float]) -> float:
    """Of everything that half a twist moves, each number in its tolerances."""
    moved = {key: abs(by) / QUANTITIES[key].tolerance for key, by in numbers.items()}
    return moved[_GAP] / sum(moved.values())


def _half_twists(
    facts: Facts, bands: Mapping[str, Band], numbers: Mapping[str, float]
) -> tuple[list[int], str]:
    """Half twists that leave every number in its band, and why there are no more."""
    timing = facts.named(_GAP)
    if _GAP not in bands or not _is_fresh(facts, _GAP):
        return [], f"{timing.name} has to be read before a cable is turned."
    counts, why = [], ""
    for count in range(-MOST_CABLE_STEPS, MOST_CABLE_STEPS + 1):
        out = next(
            (key for key, by in numbers.items() if _leaves(facts, bands, key, count * by)), ""
        )
        if count and not out:
            counts.append(count)
        why = f"{facts.named(out).name} would leave its band." if out else why
    return counts, why


def _is_fresh(facts: Facts, key: str) -> bool:
    now = facts.current(key)
    return now is not None and now.fresh


def _leaves(facts: Facts, bands: Mapping[str, Band], key: str, by: float) -> bool:
    """Whether a number that is inside its band would not be so any more."""
    now = facts.current(key)
    if key not in bands or now is None or not now.fresh or now.summary is None:
        return False
    value = facts.estimates.get(key, now.summary.value)
    return bands[key].judge(value).inside and not bands[key].judge(value + by).inside


def taps_of_rest(facts: Facts, bands: Mapping[str, Band]) -> tuple[int, int, str]:
    """The fewest and the most taps of the rest sideways, and why there are no more."""
    limits, blocked = _room(facts, bands)
    least, most = limits.get(REST_OUT, (-MOST_TAPS, MOST_TAPS))
    return least, most, blocked.get(REST_OUT, "")


def _room(
    facts: Facts, bands: Mapping[str, Band]
) -> tuple[dict[str, tuple[int, int]], dict[str, str]]:
    """How many taps of the rest leave centre shot inside and its slot enough, and why there are no more."""
    limits, blocked = {}, {}
    value = _centre_shot_now(facts)
    if "centre_shot" in bands and value is not None:
        band, what = bands["centre_shot"], facts.named("centre_shot")
        limits[REST_OUT] = _taps(
            (band.low - value) / REST_STEP_IN, (band.high - value) / REST_STEP_IN
        )
        blocked[REST_OUT] = f"Centre shot is {what.say(value)}; farther it would leave its band."
    down, up = (facts.on_bow.room_in(way) for way in (False, True))
    if down is not None or up is not None:
        limits[REST_UP] = _taps(-_or_most(down), _or_most(up))
        blocked[REST_UP] = "The rest has no room left that way."
    return limits, blocked


def _centre_shot_now(facts: Facts) -> float | None:
    """As it was read last, with the taps since; None where it was never read. [in]"""
    read = facts.current("centre_shot")
    if read is None or read.summary is None:
        return None
    since = sum(c.steps for c in facts.changes if c.adjuster == REST_OUT and c.seq > read.seq)
    return read.summary.value + since * REST_STEP_IN


def _or_most(room_in: float | None) -> float:
    return MOST_TAPS if room_in is None else room_in / REST_STEP_IN


def _taps(least: float, most: float) -> tuple[int, int]:
    """Whole taps between two ends, none where the ends leave none."""
    return min(int(least - 1e-9), 0), max(int(most + 1e-9), 0)
