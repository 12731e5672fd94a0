"""What a bow has to move a tear by, and how far each may go: taps, yoke legs, pairs of shims."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.adjusters.shim import Shim
from bowcore.adjusters.yoke_leg import LEG_SIDES, MOST_PER_LEG, YokeLeg
from bowcore.diagnosis.suspects import NOCK_POINT
from bowcore.diagnosis.tear_response import (
    MOST_LEG_STEPS,
    MOST_TAPS,
    Lever,
    shim_lever,
    tap_lever,
    yoke_lever,
)
from bowcore.measurement.bands import Band
from bowcore.workflow.facts import Facts


def levers_of(facts: Facts, bands: Mapping[str, Band]) -> tuple[Lever, ...]:
    """Everything by which this bow's tear is moved: taps, yoke legs against each other, pairs of shims.

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
    every = (*taps, *_yokes(facts), *_shims(facts))
    known = facts.school.rates
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
        if isinstance(one, Shim) and one.start(facts) is not None:
            total = one.total(facts)
            counts = [p.total - total for p in one.positions if p.total != total]
            yield shim_lever(f"shim_{one.axle}", one.key, counts)


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
