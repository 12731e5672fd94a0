"""From a job's facts to what is known of its tears: shots between changes, findings, trials, limits."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from math import hypot

from bowcore.accessories.on_the_bow import ARROW
from bowcore.adjusters.rest_move import REST_STEP_IN, REST_UP
from bowcore.adjusters.steps import Steps
from bowcore.evidence.facts import Facts
from bowcore.evidence.shooting_policy import UpFirst
from bowcore.evidence.shots import (
    Group,
    ShaftKind,
    Shot,
    ShotTest,
    group_of,
)
from bowcore.evidence.shots_between import (
    LEAST_ALIKE,
    before_and_after,
    between_changes,
    boundaries,
    own_among,
    own_shot,
)
from bowcore.evidence.tears import CLEAN_IN, TearWords, say_tear
from bowcore.measurement.bands import Band
from bowcore.quantities.changes import Change
from bowcore.stages.shooting_in.bare_groups import BareGroups, bare_before_and_after, bare_rate
from bowcore.stages.shooting_in.bare_shaft import (
    as_tear,
)
from bowcore.stages.shooting_in.next_act import (
    Tune,
    TuneAct,
    best_act,
    next_act,
    off_in,
    sigma_in,
    worst_axis,
)
from bowcore.stages.shooting_in.spine_response import (
    BY_ANOTHER_ARROW,
    OF_SPINE,
    ArrowTear,
    spine_answer,
)
from bowcore.stages.shooting_in.suspects import (
    SUSPECTS,
    Axis,
    Evidence,
    Mending,
    Suspicion,
    TearSuspect,
    mending,
    suspicions,
)
from bowcore.stages.shooting_in.tear_levers import levers_of
from bowcore.stages.shooting_in.tear_response import (
    Lever,
    TriedStep,
)

OPENS_EVERYTHING = frozenset({Change.ARROW_OR_NOCK, Change.LIMB_BOLT, Change.MODULE_OR_STOP})
"""Weight or arrow changed: whatever was cleared is open again (common practice)."""
BY_ANOTHER_ARCHER = {Axis.UP: "heel", Axis.SIDE: "hand"}
ANOTHER_ARCHERS = frozenset(BY_ANOTHER_ARCHER.values())
ANOTHER_ARROWS = frozenset(BY_ANOTHER_ARROW.values())
"""Suspects for which somebody else shoots, or another arrow is shot: it is written down with the shot."""
ONE_LOOK = (("contact_up", "contact_side"),)
"""Suspects for which one look speaks, whichever way it tears (common practice)."""
SHOWN_BY_SHOTS = frozenset({*BY_ANOTHER_ARCHER.values(), *BY_ANOTHER_ARROW.values()})
"""Suspects whose test is shots of another archer or another arrow."""
PART_OF_A_TEAR = 1 / 4
"""A number that is off accuses of a tear if it could make so much of it: our figure."""
MENDED_WORDS = {
    Mending.GONE: "mended, and it went", Mending.PARTLY: "mended, and some of it went",
    Mending.IN_VAIN: "mended in vain",
}  # fmt: skip


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
    axis = worst_axis(group_of(tune.now, tune.scatter_in))
    return suspicions(axis, tune.findings, tune.shares)


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
    groups = [own_among(group, shots) for group in between_changes(facts, shots)]
    kept = [group for at, group in enumerate(groups) if group or at == len(groups) - 1]
    arrows = _arrows(facts, shots)
    by_shots = tuple(_by_others(facts, shots, arrows))
    levers = levers_of(facts, bands)
    tear = _tear_now(kept[-1]) if kept else None
    by_readings = tuple(_by_readings(facts, bands, tear, levers))
    findings = (*_by_looking(facts, shots), *by_readings, *by_shots)
    by_reading = (
        one for one in SUSPECTS if (keys := readings_for(one, bands)) and _all_fresh(facts, keys)
    )
    trials = tuple(_trials(facts, shots, levers))
    return Tune(
        kept, findings, trials, levers,
        frozenset(one.key for one in by_reading) | {one.suspect for one in by_shots},
        facts.shooting_policy.shares,
        facts.shooting_policy.preferred, arrows, facts.shooting_policy.up_first is UpFirst.TIMING,
    )  # fmt: skip


def _all_fresh(facts: Facts, keys: Sequence[str]) -> bool:
    return all(_fresh(facts, key) for key in keys)


def readings_for(suspect: TearSuspect, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """What is read to clear a suspect on this bow; empty where somebody has to look and say."""
    return tuple(key for key in suspect.readings if key in bands)


def _tear_now(shots: Sequence[Shot]) -> Group | None:
    good = [one for one in shots if one.good]
    return group_of(good) if len(good) >= LEAST_ALIKE else None


def _by_readings(
    facts: Facts, bands: Mapping[str, Band], tear: Group | None, levers: Sequence[Lever]
) -> Iterator[Evidence]:
    """What readings that are fresh say of the suspects that they clear: one that is outside accuses only of
    a tear that it could make, by its direction and its size."""
    for suspect in SUSPECTS:
        read = [key for key in readings_for(suspect, bands) if _fresh(facts, key)]
        if not read:
            continue
        outside = [key for key in read if not bands[key].judge(_value(facts, key)).inside]
        could = [
            key
            for key in outside
            if _could_make(suspect, bands[key].target, _value(facts, key), tear, levers)
        ]
        words = [
            f"{facts.named(key).name} {facts.named(key).say(_value(facts, key))}, "
            f"{'inside' if key not in outside else 'outside' if key in could else 'outside, not this tear'}"
            for key in read
        ]
        yield Evidence(suspect.key, bool(could), "; ".join(words))


def _could_make(
    suspect: TearSuspect, target: float, value: float, tear: Group | None, levers: Sequence[Lever]
) -> bool:
    """Whether a number so far off may be behind the tear: what the plan brings back is believed anyway."""
    lever = next((one for one in levers if one.key in suspect.moves), None)
    if suspect.by_plan or tear is None or lever is None:
        return True
    way = -1 if lever.key == REST_UP else 1  # a rest that is low leaves the nock high
    taps, seen = way * (value - target) / REST_STEP_IN, off_in(tear, suspect.axis)
    most = abs(taps) * (abs(lever.first.mean) + 2 * lever.first.sigma)
    return taps * lever.first.mean * seen > 0 and most >= PART_OF_A_TEAR * abs(seen)


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
            for suspect in _both_ways(one.suspect):
                yield Evidence(suspect, one.found, "looked at")
            continue
        around = _around(facts, shots, one.seq)
        if around is not None:
            became = _mending(next(s.axis for s in SUSPECTS if s.key == one.suspect), *around)
            yield Evidence(one.suspect, words=MENDED_WORDS[became], mended=became)


def _both_ways(suspect: str) -> tuple[str, ...]:
    """A look at what tears either way is a look for both."""
    return next((pair for pair in ONE_LOOK if suspect in pair), (suspect,))


def _mending(axis: Axis, before: Group, after: Group) -> Mending:
    was, now = off_in(before, axis), off_in(after, axis)
    return mending(was, now, hypot(sigma_in(before, axis), sigma_in(after, axis)))


def act_on_bare(facts: Facts, bands: Mapping[str, Band], found: BareGroups) -> TuneAct:
    """The best test or move for bare shafts that land apart, as for the tear that goes with them.

    Bare shafts that are high or low ask for half a twist with the nock kept level before the rest (common
    practice, no published source).
    """
    tear = as_tear(found.off, found.distance_yd, bare_rate(facts), found.shots)
    tune = replace(tune_of(facts, bands), half_twist_first=True)
    return best_act(tune, tear)


def _around(facts: Facts, shots: Sequence[Shot], seq: int) -> tuple[Group, Group] | None:
    """The tears just before and just after a moment, by paper or else by bare shafts."""
    return before_and_after(facts, shots, seq) or bare_before_and_after(facts, seq)


def _by_others(
    facts: Facts, shots: Sequence[Shot], arrows: Mapping[Axis, Sequence[ArrowTear]]
) -> Iterator[Evidence]:
    """What another archer's shots, or another arrow's, say: the tear goes with whom or what makes it."""
    now = between_changes(facts, shots)[-1]
    own = [one for one in own_among(now, shots) if one.good]
    if len(own) < LEAST_ALIKE:
        return
    mine, first = group_of(own), own_shot(shots)
    by_archer = [s for s in now if s.good and s.shooter != first.shooter]
    by_arrow = [s for s in now if s.good and s.shooter == first.shooter and s.arrow != first.arrow]
    for axis in Axis:
        if axis is not worst_axis(mine) and abs(off_in(mine, axis)) < CLEAN_IN:
            continue  # nothing tears that way
        answer = spine_answer(arrows[axis])
        others = {BY_ANOTHER_ARCHER[axis]: by_archer, BY_ANOTHER_ARROW[axis]: by_arrow}
        for key, theirs in others.items():
            if len(theirs) < LEAST_ALIKE:
                continue
            gone = abs(off_in(group_of(theirs), axis)) < abs(off_in(mine, axis)) / 2
            by_spine = key in OF_SPINE and answer is not None and answer.answers
            became = (
                "clean" if gone else ("it goes with the spine" if by_spine else "the same tear")
            )
            yield Evidence(key, gone or by_spine, f"{len(theirs)} shots: {became}")


def _arrows(facts: Facts, shots: Sequence[Shot]) -> dict[Axis, list[ArrowTear]]:
    """The tears of the archer's arrows whose spine is known since the last change, the own one first.

    None where the own one's spine is not known: nobody could say what another one is to be instead.
    """
    if not shots:
        return {axis: [] for axis in Axis}
    first, now = own_shot(shots), between_changes(facts, shots)[-1]
    mine = [
        s for s in now if s.good and s.shooter == first.shooter and s.kind is ShaftKind.FLETCHED
    ]
    names = sorted({one.arrow for one in mine}, key=lambda name: name != first.arrow)
    by_arrow = {name: [one for one in mine if one.arrow == name] for name in names}
    found: dict[Axis, list[ArrowTear]] = {axis: [] for axis in Axis}
    for name, theirs in by_arrow.items():
        spine, group = _spine_of(facts, theirs, name), group_of(theirs)
        if spine and len(theirs) >= LEAST_ALIKE:
            for axis, tears in found.items():
                tears.append(ArrowTear(spine, off_in(group, axis), sigma_in(group, axis)))
        if not found[Axis.UP]:
            break
    return found


def arrows_known(facts: Facts) -> list[str]:
    """Names of arrows that were shot or are on file, besides the bow's own."""
    shot = (one.arrow for one in facts.shots)
    own = facts.on_bow.of(ARROW).get("name")
    return sorted({name for name in (*shot, *facts.spines) if name and name != own})


def _spine_of(facts: Facts, theirs: Sequence[Shot], name: str) -> float:
    """As it was typed with a shot, else as it is on file; an arrow without a name is the bow's own."""
    typed = [one.spine for one in theirs if one.spine]
    own = facts.on_bow.arrow
    if not typed and own is not None and name in ("", facts.on_bow.of(ARROW).get("name")):
        return own.spine
    return typed[-1] if typed else facts.spines.get(name, 0.0)


def _trials(facts: Facts, shots: Sequence[Shot], levers: Sequence[Lever]) -> Iterator[TriedStep]:
    """What levers have done to the tear, one lever at a time."""
    for seq in boundaries(facts):
        made = [one for one in facts.changes if one.seq == seq]
        steps = Steps({one.adjuster: one.steps for one in made if one.adjuster})
        if len(steps) != len(made):
            continue
        around = _around(facts, shots, seq)
        lever = next((one for one in levers if one.units_in(steps)), None)
        if around is not None and lever is not None:
            yield _tried(lever, lever.units_in(steps), *around)


def _tried(lever: Lever, count: int, before: Group, after: Group) -> TriedStep:
    was, now = (off_in(one, lever.axis) for one in (before, after))
    doubt = hypot(*(sigma_in(one, lever.axis) for one in (before, after)))
    return TriedStep(lever.key, count, was, now, doubt)
