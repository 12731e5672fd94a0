"""From a job's facts to what is known of its tears: shots between changes, findings, trials, limits."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from math import hypot

from bowcore.accessories.arrow_build import ANCHOR_POINT_GR, SPINE_SHARE, spine_hint
from bowcore.accessories.on_the_bow import ARROW
from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN, REST_UP
from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput
from bowcore.evidence.facts import Facts
from bowcore.evidence.shooting_policy import UpFirst
from bowcore.evidence.shots import (
    USUAL_SCATTER_IN,
    Group,
    ShaftKind,
    Shot,
    ShotTest,
    group_of,
    pooled_scatter,
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
from bowcore.learning.one_rate import Rate
from bowcore.measurement.bands import Band
from bowcore.quantities.changes import Change
from bowcore.stages.shooting_in.bare_groups import BareGroups, bare_before_and_after, bare_rate
from bowcore.stages.shooting_in.bare_shaft import (
    as_tear,
)
from bowcore.stages.shooting_in.next_act import (
    BY_ANOTHER_ARCHER,
    Tune,
    TuneAct,
    best_act,
    causes_of,
    next_act,
    off_in,
    sigma_in,
    worst_axis,
)
from bowcore.stages.shooting_in.reading_shows import (
    EITHER_WAY,
    OPPOSITE,
    NumberOff,
    could_make,
    density,
    reading_shows,
)
from bowcore.stages.shooting_in.spine_response import (
    BY_ANOTHER_ARROW,
    OF_SPINE,
    ArrowTear,
    spine_answer,
)
from bowcore.stages.shooting_in.suspects import (
    NOCK_POINT,
    SUSPECTS,
    Axis,
    Evidence,
    Mending,
    Suspicion,
    TearSuspect,
    mending,
)
from bowcore.stages.shooting_in.tear_levers import levers_of
from bowcore.stages.shooting_in.tear_response import (
    TAPPED,
    TEAR_PER_GAP,
    TIMING_DOUBT,
    Lever,
    TriedStep,
)
from bowcore.stages.shooting_in.two_clusters import lies_in_two

OPENS_EVERYTHING = frozenset({Change.ARROW_OR_NOCK, Change.LIMB_BOLT, Change.MODULE_OR_STOP})
"""Weight or arrow changed: whatever was cleared is open again (common practice)."""
MOVED_BY_TAPS: Mapping[str, Mapping[str, int]] = {
    "centre_shot": {REST_OUT: 1}, "nock_height": {NOCK_POINT: 1}, "arrow_level": {NOCK_POINT: 1, REST_UP: -1},
}  # fmt: skip
"""What a tap of 1/32 in does to a number that was read before it: it needs no second reading. (geometry)"""
ARROW_GOES = (0.45, 0.3, 0.12)
"""How often the tear goes with the next class of arrow where spine is behind it alone, with another cause,
and not: every tear changes with the arrow. Our figures."""
OFF_CHART = 1.5
"""An arrow is off the chart from so many of the chart's doubts: our figure."""
CHART_SPREADS = (30.0, 120.0)
"""How far from the chart arrows are that fit their bow and that do not, in classes: our figures."""
CLUSTERS_SHOW: Mapping[str, tuple[float, float, float]] = {
    "contact_up": (0.5, 0.4, 0.1), "contact_side": (0.5, 0.4, 0.1), "pinch": (0.25, 0.2, 0.1),
    "heel": (0.2, 0.2, 0.1), "hand": (0.2, 0.2, 0.1),
}  # fmt: skip
"""How often shots lie in two clusters: a finding, not a mean (common practice; the figures are ours)."""
ONE_LOOK = (("contact_up", "contact_side"),)
"""Suspects for which one look speaks, whichever way it tears (common practice)."""
LEAN, TIMING = "lean", "timing"
TEAR_PER_LEAN = Rate(1.0, 0.6)
"""An inch of lean along a shaft makes a tear of so many inches: our figure. [in]"""
TIMING_OPPOSITE = 0.25
"""Some hybrids answer to timing the other way round
(common practice; the shares are ours)."""
MENDED_WORDS = {
    Mending.GONE: "mended, and it went", Mending.PARTLY: "mended, and some of it went",
    Mending.IN_VAIN: "mended in vain",
}  # fmt: skip


def paper_act(facts: Facts, bands: Mapping[str, Band]) -> TuneAct:
    """The next act at the paper."""
    return facts.once("paper act", bands, lambda: next_act(tune_of(facts, bands)))


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
    return causes_of(tune, group_of(tune.now, tune.scatter_in)).suspicions


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
    return facts.once("tune", bands, lambda: _tune_of(facts, bands))


def _tune_of(facts: Facts, bands: Mapping[str, Band]) -> Tune:
    shots = [one for one in facts.shots if one.test is ShotTest.PAPER]
    groups = [own_among(group, shots) for group in between_changes(facts, shots)]
    kept = [group for at, group in enumerate(groups) if group or at == len(groups) - 1]
    arrows = _arrows(facts, shots)
    by_shots = tuple(_by_others(facts, shots, arrows))
    seen = sorted((*_by_looking(facts, shots), *by_shots), key=lambda one: one[0])
    levers = levers_of(facts, bands)
    tear = _tear_now(kept[-1]) if kept else None
    by_readings = tuple(_by_readings(facts, bands, tear, levers))
    by_chart, clusters = tuple(_by_chart(facts)), tuple(_by_clusters(kept))
    findings = (*by_chart, *(one for _, one in seen), *by_readings, *clusters)
    by_reading = (
        one for one in SUSPECTS if (keys := readings_for(one, bands)) and _all_fresh(facts, keys)
    )
    trials = tuple(_trials(facts, shots, levers))
    return Tune(
        kept, findings, trials, levers,
        frozenset(one.key for one in by_reading) | {one.suspect for _, one in by_shots},
        facts.shooting_policy.shares,
        facts.shooting_policy.preferred, arrows, facts.shooting_policy.up_first is UpFirst.TIMING,
        {one.key: _stale_first(facts, readings_for(one, bands)) for one in SUSPECTS},
    )  # fmt: skip


def _all_fresh(facts: Facts, keys: Sequence[str]) -> bool:
    return all(_fresh(facts, key) for key in keys)


def _stale_first(facts: Facts, keys: Sequence[str]) -> tuple[str, ...]:
    return tuple(sorted(keys, key=lambda key: _fresh(facts, key)))


def readings_for(suspect: TearSuspect, bands: Mapping[str, Band]) -> tuple[str, ...]:
    """What is read to clear a suspect on this bow; empty where somebody has to look and say."""
    return tuple(key for key in suspect.readings if key in bands)


def _tear_now(shots: Sequence[Shot]) -> Group | None:
    good = [one for one in shots if one.good]
    return group_of(good) if len(good) >= LEAST_ALIKE else None


def _by_readings(
    facts: Facts, bands: Mapping[str, Band], tear: Group | None, levers: Sequence[Lever]
) -> Iterator[Evidence]:
    """What readings that are fresh say of the suspects that they clear: found where one is outside and could
    make this tear, by its direction and its size."""
    for suspect in SUSPECTS:
        mended = max(
            (one.seq for one in facts.looked_at if one.mended and one.suspect == suspect.key),
            default=0,
        )
        read = [
            key
            for key in readings_for(suspect, bands)
            if _fresh(facts, key) and (now := facts.current(key)) and now.seq > mended
        ]
        if not read:
            continue
        outside = {key for key in read if not bands[key].judge(_value(facts, key)).inside}
        numbers = _numbers(facts, bands, suspect, read, levers)
        likely, could = None, True
        if tear is not None and numbers:
            off = off_in(tear, suspect.axis)
            likely = reading_shows(numbers, off, sigma_in(tear, suspect.axis))
            could = suspect.by_plan or could_make(numbers, off)
        words = [
            f"{facts.named(key).name} {facts.named(key).say(_value(facts, key))}, "
            f"{'inside' if key not in outside else 'outside' if could else 'outside, not this tear'}"
            for key in read
        ]
        yield Evidence(suspect.key, bool(outside) and could, "; ".join(words), likely=likely)


def _numbers(
    facts: Facts,
    bands: Mapping[str, Band],
    suspect: TearSuspect,
    read: Sequence[str],
    levers: Sequence[Lever],
) -> list[NumberOff]:
    """Its readings with the tear that they would make; none where nobody knows how much that is."""
    lever = next((one for one in levers if one.key in suspect.moves), None)
    return [
        NumberOff(
            _value(facts, key) - bands[key].target, _sigma(facts, key),
            (bands[key].high - bands[key].low) / 2, *gain,
        )
        for key in (read if suspect.key == LEAN else read[:1])
        if (gain := _tear_per_inch(suspect, lever)) is not None
    ]  # fmt: skip


def _tear_per_inch(suspect: TearSuspect, lever: Lever | None) -> tuple[Rate, float] | None:
    """The tear that an inch of a suspect's reading makes [in], and how often a bow answers the other way."""
    if suspect.key == LEAN:
        return TEAR_PER_LEAN, EITHER_WAY
    if suspect.key == TIMING:
        return Rate(TEAR_PER_GAP, TIMING_DOUBT * TEAR_PER_GAP), TIMING_OPPOSITE
    if lever is None or lever.key not in TAPPED:
        return None
    way = -1 if lever.key == REST_UP else 1  # a rest that is low leaves the nock high
    return Rate(way * lever.first.mean / REST_STEP_IN, lever.first.sigma / REST_STEP_IN), OPPOSITE


def _fresh(facts: Facts, key: str) -> bool:
    return _read(facts, key) is not None


def _value(facts: Facts, key: str) -> float:
    read = _read(facts, key)
    assert read is not None
    return read[0]


def _sigma(facts: Facts, key: str) -> float:
    read = _read(facts, key)
    assert read is not None
    return read[1]


def _read(facts: Facts, key: str) -> tuple[float, float] | None:
    """A number now and its doubt: as read, or as read with the taps since; None where nobody knows. [in]"""
    now = facts.current(key)
    if now is None or now.summary is None:
        return None
    if now.fresh:
        return now.summary.value, now.summary.sigma
    since = [
        c for c in facts.changes if c.seq > now.seq and c.change in facts.named(key).stale_after
    ]
    moved = MOVED_BY_TAPS.get(key, {})
    if not moved or not all(one.adjuster in moved for one in since):
        return None
    taps = sum(moved[one.adjuster] * one.steps for one in since)
    return now.summary.value + taps * REST_STEP_IN, now.summary.sigma


def _by_chart(facts: Facts) -> Iterator[Evidence]:
    """What the arrow's class of spine says against the one that this weight and length ask for: the first
    evidence of a spine, before any other arrow is shot."""
    arrow, peak = facts.on_bow.arrow, facts.current("peak_weight")
    if arrow is None or not arrow.spine or peak is None or peak.summary is None:
        return
    point = float(facts.on_bow.of(ARROW).get("point_gr") or ANCHOR_POINT_GR)
    try:
        hint = spine_hint(peak.summary.value, arrow.length_in, point)
    except BadInput:
        return  # the chart has nothing for so light a bow
    off, doubt = arrow.spine - hint.spine, SPINE_SHARE * hint.spine
    fits, wrong = (density(off, hypot(doubt, spread)) for spread in CHART_SPREADS)
    way = (
        "as asked for"
        if hint.least <= arrow.spine <= hint.most
        else "stiffer"
        if off < 0
        else "softer"
    )
    words = f"class {arrow.spine:g}, about {hint.spine:.0f} by weight and length: {way}"
    for key in OF_SPINE:
        yield Evidence(
            key, abs(off) > OFF_CHART * doubt, words, likely=(wrong, wrong, fits), beside=True
        )


def _by_clusters(groups: Sequence[Sequence[Shot]]) -> Iterator[Evidence]:
    """Two clusters with nothing changed between them: it touches, or is pinched, at some shots only."""
    scatter = pooled_scatter(groups)
    if not groups or not lies_in_two(groups[-1], min(scatter, USUAL_SCATTER_IN)):
        return
    for key, likely in CLUSTERS_SHOW.items():
        yield Evidence(key, words="the shots lie in two clusters", likely=likely, beside=True)


def _opened(facts: Facts) -> int:
    """The moment since which weight and arrow are as they are: what was cleared before it is open again."""
    return max((c.seq for c in facts.changes if c.change in OPENS_EVERYTHING), default=0)


def _by_looking(facts: Facts, shots: Sequence[Shot]) -> Iterator[tuple[int, Evidence]]:
    """When somebody looked at what, since weight and arrow are as they are; and what came of mending it."""
    since = _opened(facts)
    for one in facts.looked_at:
        if one.seq <= since:
            continue
        if not one.mended:
            for suspect in _both_ways(one.suspect):
                yield one.seq, Evidence(suspect, one.found, "looked at")
            continue
        around = _around(facts, shots, one.seq)
        if around is not None:
            became = _mending(next(s.axis for s in SUSPECTS if s.key == one.suspect), *around)
            yield one.seq, Evidence(one.suspect, words=MENDED_WORDS[became], mended=became)


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
) -> Iterator[tuple[int, Evidence]]:
    """When another archer's shots, or another arrow's, said what of a suspect: the last time that each was
    tried. Who was cleared stays cleared while the tear is worked on (common practice)."""
    since, last = _opened(facts), dict[str, tuple[int, Evidence]]()
    for group in between_changes(facts, shots):
        if group and group[0].seq > since:
            last.update({one.suspect: (group[-1].seq, one) for one in _shown(group, shots, arrows)})
    yield from last.values()


def _shown(
    now: Sequence[Shot], shots: Sequence[Shot], arrows: Mapping[Axis, Sequence[ArrowTear]]
) -> Iterator[Evidence]:
    """What shots between two changes say: the tear goes with the archer or the arrow that makes it."""
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
            moves = key in OF_SPINE and answer is not None and answer.answers
            became = "clean" if gone else ("another tear, not gone" if moves else "the same tear")
            shows = ARROW_GOES if key in OF_SPINE else None
            likely = (
                None
                if shows is None
                else shows
                if gone
                else (1 - shows[0], 1 - shows[1], 1 - shows[2])
            )
            yield Evidence(key, gone, f"{len(theirs)} shots: {became}", likely=likely)


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
