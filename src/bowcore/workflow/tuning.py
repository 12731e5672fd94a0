"""From a job's facts to what is known of its tears: shots between changes, findings, trials, limits."""

from collections.abc import Iterator, Mapping, Sequence
from math import hypot

from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.diagnosis.next_act import Tune, TuneAct, next_act, off_in, worst_axis
from bowcore.diagnosis.shots import Group, ShaftKind, Shot, ShotTest, group_of
from bowcore.diagnosis.suspects import (
    SUSPECTS,
    Axis,
    Evidence,
    Suspicion,
    TearSuspect,
    suspicions,
)
from bowcore.diagnosis.tear_response import AXIS_OF, MOST_TAPS, TriedStep
from bowcore.diagnosis.tears import TearWords, say_tear
from bowcore.measurement.bands import Band
from bowcore.quantities.changes import Change
from bowcore.workflow.facts import Facts, LedgerEntry

OPENS_EVERYTHING = frozenset({Change.ARROW_OR_NOCK, Change.LIMB_BOLT, Change.MODULE_OR_STOP})
"""Weight or arrow changed: whatever was cleared is open again (common practice)."""
BY_ANOTHER_ARCHER = {Axis.UP: "heel", Axis.SIDE: "hand"}
BY_ANOTHER_ARROW = {Axis.UP: "spine_up", Axis.SIDE: "spine_side"}
LEAST_ALIKE = 2


def paper_act(facts: Facts, bands: Mapping[str, Band]) -> TuneAct:
    """The next act at the paper."""
    return next_act(tune_of(facts, bands))


def say_paper(facts: Facts, bands: Mapping[str, Band], words: TearWords = TearWords.NOCK) -> str:
    """What the paper showed last, in a sentence for the customer; "" where nothing was shot."""
    tune = tune_of(facts, bands)
    good = [one for one in tune.now if one.good]
    if not good:
        return ""
    group = group_of(good, tune.scatter_in)
    shots = f"{group.shots} shot{'s' if group.shots > 1 else ''}"
    return (
        f"Through paper: {say_tear(group.x_in, group.y_in, words)}, {shots} since the last change."
    )


def ladder(facts: Facts, bands: Mapping[str, Band]) -> list[Suspicion]:
    """Every suspect of the larger tear, in the order of practice; empty before anything was shot."""
    tune = tune_of(facts, bands)
    if not any(one.good for one in tune.now):
        return []
    return suspicions(worst_axis(group_of(tune.now, tune.scatter_in)), tune.findings)


def tune_of(facts: Facts, bands: Mapping[str, Band]) -> Tune:
    """What is known of this bow's tears.

    Parameters
    ----------
    facts : Facts
        With its shots and what was looked at.
    bands : mapping of str to Band
        By which readings clear a suspect.

    Returns
    -------
    Tune
        Shots of the archer and the arrow that the first shot was made with; those of others show whether
        it is the hand or the spine.
    """
    shots = [one for one in facts.shots if one.test is ShotTest.PAPER]
    groups = [_own(group, shots) for group in _between_changes(facts, shots)]
    kept = [group for at, group in enumerate(groups) if group or at == len(groups) - 1]
    findings = (*_by_readings(facts, bands), *_by_looking(facts, shots), *_by_others(facts, shots))
    limits, blocked = _room(facts, bands)
    by_reading = (
        one for one in SUSPECTS if (keys := readings_for(one, bands)) and _all_fresh(facts, keys)
    )
    return Tune(
        kept, findings, tuple(_trials(facts, shots)), limits, blocked, facts.left_handed,
        frozenset(one.key for one in by_reading),
    )  # fmt: skip


def _all_fresh(facts: Facts, keys: Sequence[str]) -> bool:
    return all(_fresh(facts, key) for key in keys)


def readings_for(suspect: TearSuspect, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """What is read to clear a suspect on this bow; empty where somebody has to look and say."""
    return tuple(key for key in suspect.readings if key in bands)


def since_last_change(facts: Facts) -> list[Shot]:
    """Every shot of whatever test since something was changed."""
    return _between_changes(facts, facts.shots)[-1]


def last_change(facts: Facts) -> int:
    """When something was changed last that a shot may answer to; 0 where nothing was."""
    return max(_boundaries(facts), default=0)


def taps_of_rest(facts: Facts, bands: Mapping[str, Band]) -> tuple[int, int, str]:
    """The fewest and the most taps of the rest sideways, and why there are no more."""
    limits, blocked = _room(facts, bands)
    least, most = limits.get(REST_OUT, (-MOST_TAPS, MOST_TAPS))
    return least, most, blocked.get(REST_OUT, "")


def _boundaries(facts: Facts) -> list[int]:
    """When something was changed that a tear may answer to."""
    made = [one.seq for one in facts.changes if one.change is not Change.SHOTS]
    return sorted({*made, *(one.seq for one in facts.looked_at if one.mended)})


def _between_changes(facts: Facts, shots: Sequence[Shot]) -> list[list[Shot]]:
    """Shots by the changes between them, the newest last; that may be empty."""
    ends = [*_boundaries(facts), None]
    found, begin = [], 0
    for end in ends:
        found.append([s for s in shots if s.seq > begin and (end is None or s.seq <= end)])
        begin = end or begin
    return found


def _own(group: Sequence[Shot], shots: Sequence[Shot]) -> list[Shot]:
    """Shots by the archer and with the arrow of the first shot, fletched."""
    if not shots:
        return []
    whose = (shots[0].shooter, shots[0].arrow)
    fletched = (one for one in group if one.kind is ShaftKind.FLETCHED)
    return [one for one in fletched if (one.shooter, one.arrow) == whose]


def _by_readings(facts: Facts, bands: Mapping[str, Band]) -> Iterator[Evidence]:
    """What readings that are fresh say of the suspects that they clear."""
    for suspect in SUSPECTS:
        read = [key for key in readings_for(suspect, bands) if _fresh(facts, key)]
        if not read:
            continue
        outside = [key for key in read if not bands[key].judge(_value(facts, key)).inside]
        words = [
            f"{facts.named(key).name} {facts.named(key).say(_value(facts, key))}, "
            f"{'outside' if key in outside else 'inside'}"
            for key in read
        ]
        yield Evidence(suspect.key, bool(outside), "; ".join(words))


def _fresh(facts: Facts, key: str) -> bool:
    now = facts.current(key)
    return now is not None and now.fresh and now.summary is not None


def _value(facts: Facts, key: str) -> float:
    now = facts.current(key)
    assert now is not None and now.summary is not None
    return now.summary.value


def _by_looking(facts: Facts, shots: Sequence[Shot]) -> Iterator[Evidence]:
    """What somebody looked at, since weight and arrow are as they are; and what came of mending it."""
    since = max((c.seq for c in facts.changes if c.change in OPENS_EVERYTHING), default=0)
    for one in facts.looked_at:
        if one.seq <= since:
            continue
        if not one.mended:
            yield Evidence(one.suspect, one.found, "looked at")
            continue
        around = _before_and_after(facts, shots, one.seq)
        if around is not None:
            axis = next(s.axis for s in SUSPECTS if s.key == one.suspect)
            was, now = (abs(off_in(group, axis)) for group in around)
            helped = now < was / 2
            yield Evidence(
                one.suspect, helped, "mended, and it went" if helped else "mended in vain", True
            )


def _before_and_after(facts: Facts, shots: Sequence[Shot], seq: int) -> tuple[Group, Group] | None:
    """The groups just before and just after a moment, where both have two good shots."""
    groups = _between_changes(facts, shots)
    place = _boundaries(facts).index(seq)
    both = [_own(groups[at], shots) for at in (place, place + 1)]
    if any(sum(one.good for one in group) < LEAST_ALIKE for group in both):
        return None
    return group_of(both[0]), group_of(both[1])


def _by_others(facts: Facts, shots: Sequence[Shot]) -> Iterator[Evidence]:
    """What another archer's shots, or another arrow's, say: the tear goes with whom or what makes it."""
    now = _between_changes(facts, shots)[-1]
    own = [one for one in _own(now, shots) if one.good]
    if len(own) < LEAST_ALIKE:
        return
    mine = group_of(own)
    axis, first = worst_axis(mine), shots[0]
    others = {
        BY_ANOTHER_ARCHER[axis]: [s for s in now if s.good and s.shooter != first.shooter],
        BY_ANOTHER_ARROW[axis]: [
            s for s in now if s.good and s.shooter == first.shooter and s.arrow != first.arrow
        ],
    }
    for key, theirs in others.items():
        if len(theirs) >= LEAST_ALIKE:
            gone = abs(off_in(group_of(theirs), axis)) < abs(off_in(mine, axis)) / 2
            yield Evidence(
                key, gone, f"{len(theirs)} shots: {'clean' if gone else 'the same tear'}"
            )


def _trials(facts: Facts, shots: Sequence[Shot]) -> Iterator[TriedStep]:
    """What taps of nock and rest have done to the tear, one adjuster at a time."""
    for seq in _boundaries(facts):
        made = [one for one in facts.changes if one.seq == seq]
        if len(made) != 1 or made[0].adjuster not in AXIS_OF:
            continue
        around = _before_and_after(facts, shots, seq)
        if around is not None:
            yield _tried(made[0], *around)


def _tried(made: LedgerEntry, before: Group, after: Group) -> TriedStep:
    axis = AXIS_OF[made.adjuster]
    sigmas = [one.sigma_y if axis is Axis.UP else one.sigma_x for one in (before, after)]
    return TriedStep(
        made.adjuster, made.steps, off_in(before, axis), off_in(after, axis), hypot(*sigmas)
    )


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
