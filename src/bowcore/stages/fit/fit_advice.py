"""What to do next in the fit, each act with its reason, what it will do, how sure that is, and what else
would work."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field
from math import sqrt

from bowcore.accessories.at_the_nock import TEAR_DOUBT, USUAL_ARROW_IN, tear_up_in
from bowcore.accessories.centre_shot import points_back_at
from bowcore.adjusters.adjuster import MOST_HALF_TWISTS, Adjuster
from bowcore.adjusters.loop_turn import LOOP_TURN
from bowcore.adjusters.registry import adjuster_in
from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.adjusters.steps import Steps
from bowcore.deciding.act import Expected
from bowcore.deciding.fit_moves import FitMove, FitQuestion, plan_moves
from bowcore.evidence.facts import Current, Facts
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate
from bowcore.quantities.catalogue import LEANS, QUANTITIES
from bowcore.quantities.inches import say_length
from bowcore.stages.fit.fit_bow import FitAct, FitBow, say_off
from bowcore.stages.fit.fit_by_hand import ASKED_TO_TIE, BY_HAND, twin_figures
from bowcore.stages.fit.fit_figures import plain_figures
from bowcore.stages.fit.fit_needs import arrow_too_light, fit_outside, ties_open

MOVED = ("nock_height", "arrow_level", "centre_shot", "front_back")
"""Numbers that taps of nock point and rest move."""
AT_THE_NOCK, SIDEWAYS = ("nock_height", "arrow_level"), ("centre_shot", "front_back")
"""Numbers that are set together."""
TIED_NOCK, LOOP_HELD_NOCK = ("nock_point", REST_UP), ("nock_point", LOOP_TURN, REST_UP)
"""What sets level and height: a loop that holds the nock by itself is screwed a hair along its serving."""
ORDER_OF_ACTS = (
    "nock_height", "arrow_level", "nock_gap", "nock_to_peep", "loop_length", "nock_to_kisser", "centre_shot",
    "front_back", "cord_up", "peep_turn", "loop_facing",
)  # fmt: skip
"""The nock first: peep and kisser are measured from it."""
TEAR_UP = QUANTITIES["tear_up"]
NOCK_DOUBT = 0.15
BY_GEOMETRY = "by geometry: a tap is 1/32 in, a tenth either way"


@dataclass(frozen=True)
class FitAdvice:
    """What to do now, in order; `stop` is why the bow is not shot with this arrow, "" if it may be.

    `shown` are figures that twin and arithmetic give, in words, by the quantity that they are about.
    """

    acts: tuple[FitAct, ...]
    stop: str = ""
    shown: Mapping[str, str] = field(default_factory=dict)


def fit_advice(bow: FitBow) -> FitAdvice:
    """What to do now in the fit.

    Parameters
    ----------
    bow : FitBow
        Read so far.

    Returns
    -------
    FitAdvice
        Acts in the order of work; none while nothing that was read is outside.
    """
    by_twin, plain = twin_figures(bow), plain_figures(bow.facts)
    both = {key: (plain.get(key, ""), by_twin.get(key, "")) for key in ORDER_OF_ACTS}
    shown = {key: " ".join(filter(None, words)) for key, words in both.items() if any(words)}
    return FitAdvice(fit_acts(bow), arrow_too_light(bow.facts), shown)


def fit_acts(bow: FitBow) -> tuple[FitAct, ...]:
    """Acts in the order of work; none while nothing that was read is outside."""
    asked = [ASKED_TO_TIE[one.ties](bow) for one in ties_open(bow.facts) if one.ties is not None]
    tied = {key for act in asked for key in act.sets}
    outside = tuple(key for key in fit_outside(bow.facts, bow.bands) if key not in tied)
    by_hand = (BY_HAND[key](bow) for key in outside if key in BY_HAND)
    acts = {act.sets: act for act in (*_moves(bow, outside), *by_hand)}
    return (*asked, *sorted(acts.values(), key=_place_in_order))


def _place_in_order(act: FitAct) -> int:
    return min(ORDER_OF_ACTS.index(key) for key in act.sets)


def tried(bow: FitBow, steps: Steps) -> dict[str, tuple[float, float]]:
    """What numbers would read after taps of nock point and rest, with their doubt; only what is read now."""
    found = {}
    for name in MOVED:
        now = bow.facts.current(name)
        if now is None or not now.fresh or now.summary is None:
            continue
        after, variance = now.summary.value, QUANTITIES[name].precision.sigma ** 2
        for key, count in steps.items():
            rate = _rates(bow, adjuster_in(bow.adjusters, key)).get(name)
            if rate is not None:
                after += count * rate.mean
                variance += (count * rate.sigma) ** 2
        found[name] = (after, sqrt(variance))
    return found


def said_of_tried(bow: FitBow, steps: Steps, read: Collection[str]) -> list[str]:
    """What the twin says of numbers that are tried, pinch and travel of the nock, and what room the rest has
    left after the taps, in sentences."""
    by_twin = twin_figures(bow)
    words = [
        by_twin[name] for name in ("arrow_level", "nock_gap") if name in read and name in by_twin
    ]
    return words + _room(bow, steps.get(REST_UP, 0))


def _moves(bow: FitBow, outside: tuple[str, ...]) -> Iterator[FitAct]:
    """Level and height together, centre shot by itself: the fewest taps that bring them inside."""
    at_the_nock = TIED_NOCK if bow.facts.on_bow.nock_is_tied else LOOP_HELD_NOCK
    for group, keys in ((AT_THE_NOCK, at_the_nock), (SIDEWAYS, (REST_OUT,))):
        if any(name in outside for name in group):
            yield _move_act(bow, group, keys, outside)


def _move_act(
    bow: FitBow, group: tuple[str, ...], keys: tuple[str, ...], outside: tuple[str, ...]
) -> FitAct:
    known = [
        n for n in group if n in bow.bands and (c := bow.facts.current(n)) and c.fresh and c.summary
    ]
    readings = {name: (bow.best(name), QUANTITIES[name].precision.sigma) for name in known}
    adjusters = {key: adjuster_in(bow.adjusters, key) for key in keys}
    rates = {key: _rates(bow, one) for key, one in adjusters.items()}
    limits = {key: _limits(bow, key) for key in keys}
    minutes = {key: one.minutes for key, one in adjusters.items()}
    found = plan_moves(FitQuestion(readings, bow.bands, rates, limits, minutes))
    sets = tuple(name for name in known if name in outside)
    why = [say_off(bow, name) for name in sets]
    if not found.best.inside:
        why.append("It does not come inside with what can be moved here.")
    if REST_UP in keys:
        why += _room(bow, found.best.steps.get(REST_UP, 0))
    if "centre_shot" in sets:
        why += behind_centre(bow)
    why += _beside_the_nock(bow, adjusters, found.best.steps)
    trials = sum(rate.trials for by in rates.values() for rate in by.values())
    return FitAct(
        _say_steps(adjusters, found.best.steps) or "Leave it where it is.",
        " ".join(why),
        found.best.steps,
        sets=sets,
        expect=tuple(Expected(name, *found.best.predicted[name]) for name in known),
        sure=f"from {trials} trials on this bow" if trials else BY_GEOMETRY,
        others=tuple(_say_other(adjusters, one) for one in found.others),
        minutes=found.best.minutes,
    )  # fmt: skip


def _beside_the_nock(bow: FitBow, adjusters: Mapping[str, Adjuster], steps: Steps) -> list[str]:
    """What a move of the nock or the rest does besides: to peep and kisser, and on paper."""
    raised = {key: adjusters[key].raises_in * count for key, count in steps.items()}
    nock = sum(raised.values())
    rest = steps.get(REST_UP, 0) * REST_STEP_IN
    words = []
    on_string = [n for n in ("nock_to_peep", "nock_to_kisser") if bow.facts.current(n)]
    if nock and on_string:
        names = " and ".join(bow.facts.named(n).name.lower() for n in on_string)
        words.append(
            f"{names.capitalize()}: {say_length(abs(nock))} {'less' if nock > 0 else 'more'}."
        )
    arrow = bow.facts.on_bow.arrow
    tear = tear_up_in(nock, rest, arrow.length_in if arrow else USUAL_ARROW_IN)
    if TEAR_UP.shows(tear):
        way = "higher" if tear > 0 else "lower"
        doubt = TEAR_UP.say_size(TEAR_DOUBT * tear)
        words.append(
            f"On paper the nock comes about {TEAR_UP.say_size(tear)} {way} by geometry, give or take {doubt}."
        )
    return words


def _room(bow: FitBow, taps: int) -> list[str]:
    """What is left of the rest's slot after so many taps: too little, and a later correction does not fit."""
    room = bow.facts.on_bow.room_in(taps >= 0)
    if not taps or room is None:
        return []
    left = room - abs(taps) * REST_STEP_IN
    enough = left > REST_STEP_IN
    warning = (
        "" if enough else " Move the nock before the ties are set, or a correction will not fit."
    )
    return [f"The rest then has {say_length(max(left, 0))} left that way.{warning}"]


def _say_steps(adjusters: Mapping[str, Adjuster], steps: Steps) -> str:
    return " ".join(
        f"{adjusters[key].label}: {adjusters[key].say(count)}." for key, count in steps.items()
    )


def _say_other(adjusters: Mapping[str, Adjuster], move: FitMove) -> str:
    after = ((QUANTITIES[name], value) for name, (value, _) in move.predicted.items())
    reads = ", ".join(f"{what.name.lower()} {what.say(value)}" for what, value in after)
    return f"{_say_steps(adjusters, move.steps)} Then {reads}."


def _limits(bow: FitBow, key: str) -> tuple[int, int]:
    """Taps that are possible: the rest only as far as its slot has room."""
    least, most = adjuster_in(bow.adjusters, key).usual_totals(MOST_HALF_TWISTS)
    if key != REST_UP:
        return least, most
    down, up = (bow.facts.on_bow.room_in(up) for up in (False, True))
    taps = [None if room is None else int(room / REST_STEP_IN + 1e-9) for room in (down, up)]
    return (
        least if taps[0] is None else max(least, -taps[0]),
        most if taps[1] is None else min(most, taps[1]),
    )


def fit_estimates(bow: FitBow) -> dict[str, float]:
    """Best estimates of what taps have moved: the newest reading and the one before it, carried along by what
    was tapped in between, each weighted by its doubt. Only where nothing else moved the number.

    A square shows sixteenths: moved from one edge of a band, a number is easily read at the other one, and
    would be tapped to and fro by readings alone.
    """
    found = {}
    for name in MOVED:
        now = bow.facts.current(name)
        if now is None or not now.fresh or now.summary is None:
            continue
        carried = _carried_along(bow, name, now)
        if carried is None:
            continue
        value, variance = carried
        weight = variance / (variance + now.summary.sigma**2)
        found[name] = value + weight * (now.summary.value - value)
    return found


def _carried_along(bow: FitBow, name: str, now: Current) -> tuple[float, float] | None:
    """The reading before the last taps, with them added, and its variance; None where something else moved
    the number too, or nothing did."""
    moved_by = [one for one in bow.facts.changes if one.change in QUANTITIES[name].stale_after]
    last = max((one.seq for one in moved_by if one.seq < now.seq), default=None)
    before = None if last is None else bow.facts.read_before(name, last)
    if before is None or before.summary is None or before.points != now.points:
        return None
    value, variance = before.summary.value, before.summary.sigma**2
    known = {one.key: one for one in bow.adjusters}
    for one in moved_by:
        if not before.seq < one.seq < now.seq:
            continue
        rate = _rates(bow, known[one.adjuster]).get(name) if one.adjuster in known else None
        if rate is None:
            return None
        value += one.steps * rate.mean
        variance += (one.steps * rate.sigma) ** 2
    return value, variance


def _rates(bow: FitBow, adjuster: Adjuster) -> dict[str, Rate]:
    """What a step does to each number, by geometry and by what this bow has shown."""
    doubt = adjuster.doubt or NOCK_DOUBT
    return {
        name: learned_rate(Rate(step, abs(step) * doubt), _trials(bow.facts, adjuster.key, name))
        for name, step in adjuster.trial().beside.items()
        if name in MOVED
    }


def _trials(facts: Facts, adjuster: str, quantity: str) -> Iterator[ShownStep]:
    """Readings just before and just after steps of one adjuster alone, nothing else changed between."""
    seqs = sorted({one.seq for one in facts.changes})
    sigma = QUANTITIES[quantity].precision.sigma * sqrt(2)
    for at, seq in enumerate(seqs):
        made = [one for one in facts.changes if one.seq == seq]
        if [one.adjuster for one in made] != [adjuster]:
            continue
        begun = seqs[at - 1] if at else -1
        until = seqs[at + 1] if at + 1 < len(seqs) else None
        before = facts.read_before(quantity, seq)
        after = facts.read_before(quantity, until) if until else facts.current(quantity)
        if before is None or after is None or not before.summary or not after.summary:
            continue
        if before.seq > begun and after.seq > seq:
            yield ShownStep(made[0].steps, after.summary.value - before.summary.value, sigma)


def behind_centre(bow: FitBow) -> list[str]:
    """What a rest far off centre points back at, in sentences; none while it is near."""
    leans = [
        (bow.facts.named(name).name, now.summary.value, QUANTITIES[name].tolerance)
        for name in LEANS if (now := bow.facts.current(name)) and now.summary
    ]  # fmt: skip
    off = bow.value("centre_shot") - bow.bands["centre_shot"].target
    return [one.why for one in points_back_at(off, leans)]
