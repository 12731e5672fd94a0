"""The next act of the tuning: the one that promises a clean tear in the fewest minutes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from math import hypot

from bowcore.adjusters.steps import NO_STEPS
from bowcore.deciding.act import Act, Expected
from bowcore.deciding.words import COUNTED
from bowcore.evidence.shots import (
    USUAL_SCATTER_IN,
    Group,
    Shot,
    group_of,
    pooled_scatter,
    shots_to_tell,
    two_alike,
)
from bowcore.evidence.tears import CLEAN_IN
from bowcore.quantities.inches import say_length
from bowcore.stages.shooting_in.minutes_to_done import (
    SHOOT_TWO_MINUTES,
    after_a_tap,
    after_a_test,
    after_mending,
)
from bowcore.stages.shooting_in.spine_response import (
    BY_ANOTHER_ARROW,
    OF_SPINE,
    ArrowTear,
    SpineAnswer,
    say_spine,
    spine_answer,
)
from bowcore.stages.shooting_in.suspects import (
    BY_KEY,
    TIMING_CABLE,
    Axis,
    Causes,
    Evidence,
    Mending,
    SuspectStanding,
    Suspicion,
    possible_causes,
)
from bowcore.stages.shooting_in.tear_response import Lever, TriedStep, tap_levers
from bowcore.stages.shooting_in.two_clusters import lies_in_two

MOST_SHOTS_TO_TELL = 12
"""A tear that takes more shots to tell from scatter is inside the archer's own scatter: our figure."""
MOST_IN_VAIN = 4
"""After so many causes mended in vain the tear is left, and said on the sheet. Our figure."""
MOST_TESTS = 1
"""Who looks again sees the same again (common practice)."""
MOST_MINUTES_OF_A_TAP, MOST_TRIALS_OF_A_TAP, WORTH_A_TAP_IN = 5.0, 4, 1 / 16
"""What is left of a tear when the causes were mended in vain is tapped away: by what takes no press, so often
at most with each, where it brings the tear so much nearer. Our figures."""
CLEAN_SIGMAS, NOT_CLEAN_IN, MOST_TO_BE_CLEAN = 1.0, 9 / 64, 5
"""A tear is clean where it is so in five of six cases; so many shots settle it. Our figures."""
WORTH_MENDING = 0.25
"""A suspect that no test has found is mended from this chance on, where nothing else is left: our figure."""
ONE_WAY_SIGMAS = 2.5
"""A tear is always one way where its mean is more than so many of its errors: our figure."""
LEAST_TO_LEAVE = 4
"""So many shots before a tear is called the archer's own spread: our figure."""
WORTH_A_TAP = 2 / 3
"""A tap leaves the tear clean, or no more than this share of it: our figure."""
SMALL_KICK_IN = 1 / 4
"""A small kick is finished with the rest (our figure)."""
LOOKED_AT_BEFORE: Mapping[str, tuple[str, ...]] = {
    "rest_side": ("lean",), "rest_height": ("timing", "pinch"), "nock": ("timing", "pinch"),
    "spine_up": ("timing", "nock"), "spine_side": ("lean", "rest_side"),
}  # fmt: skip
"""What is read before nock or rest are moved, which would hide it, or another arrow is recommended (common
practice)."""

MENDED_TOGETHER: Mapping[str, tuple[str, ...]] = dict.fromkeys(
    ("nock", "rest_height"), ("nock", "rest_height")
)
"""A small tear that nock or rest is to blame for is tapped away at either."""

HALF_TWIST = "Half a twist in a cable, the nock kept level; then shoot two."


class ActKind(StrEnum):
    """What kind of act comes next."""

    SHOOT = "shoot"
    TEST = "test"
    MEND = "mend"
    TAP = "tap"
    LEAVE = "leave"
    DONE = "done"


class ActWay(StrEnum):
    """How an act is done on the page of paper or butt."""

    SHOOT = "shoot"
    READ = "read"
    OTHERS_SHOOT = "others_shoot"
    LOOK = "look"
    TURN = "turn"
    MEND = "mend"
    END = "end"


_WAYS = {
    ActKind.SHOOT: ActWay.SHOOT, ActKind.TEST: ActWay.LOOK, ActKind.TAP: ActWay.TURN,
    ActKind.MEND: ActWay.MEND, ActKind.LEAVE: ActWay.END, ActKind.DONE: ActWay.END,
}  # fmt: skip
BY_ANOTHER_ARCHER = {Axis.UP: "heel", Axis.SIDE: "hand"}
ANOTHER_ARCHERS = frozenset(BY_ANOTHER_ARCHER.values())
ANOTHER_ARROWS = frozenset(BY_ANOTHER_ARROW.values())
"""Suspects for which somebody else shoots, or another arrow is shot: it is written down with the shot."""
SHOWN_BY_SHOTS = ANOTHER_ARCHERS | ANOTHER_ARROWS


@dataclass(frozen=True)
class Tune:
    """Everything that is known of a tear: shots since the last change, all shots, findings and trials.

    `groups` are the shots between changes, the newest last; `levers` are what this bow has to move the
    tear by; `known_by_reading` are suspects whose readings are all fresh, or that others' shots have
    shown: the same again would say nothing new. `shares` are how often each suspect was behind a tear
    on other bows of the model, and `preferred` the suspects that the shop looks at or moves first.
    `arrows` are the tears of every arrow that was shot since the last change, the archer's own first.
    `readings` are the quantities that clear each suspect on this bow, those that are not fresh first.
    With `half_twist_first` half a twist of a cable is tried before nock or rest are moved up or down.
    """

    groups: Sequence[Sequence[Shot]]
    findings: Sequence[Evidence] = ()
    trials: Sequence[TriedStep] = ()
    levers: Sequence[Lever] = field(default_factory=tap_levers)
    known_by_reading: frozenset[str] = frozenset()
    shares: Mapping[str, int] = field(default_factory=dict)
    preferred: frozenset[str] = frozenset()
    arrows: Mapping[Axis, Sequence[ArrowTear]] = field(default_factory=dict)
    half_twist_first: bool = False
    readings: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    @property
    def now(self) -> Sequence[Shot]:
        return self.groups[-1] if self.groups else ()

    @property
    def scatter_in(self) -> float:
        """Of one shot of this archer, one way. [in]"""
        return pooled_scatter(self.groups)

    def spine(self, suspect: str) -> SpineAnswer | None:
        """What the arrows say of the spine that this suspect wants; None where it is not about spine."""
        if suspect not in OF_SPINE:
            return None
        return spine_answer(self.arrows.get(BY_KEY[suspect].axis, ()))


@dataclass(frozen=True, kw_only=True)
class TuneAct(Act):
    """What to do next about a tear.

    `suspect` is whom it is about, `chance` how likely that one is now, or with `or_small_sum` that one or no
    single one; `reads` are the quantities that a test reads, those that are not fresh first.
    """

    kind: ActKind
    suspect: str = ""
    or_small_sum: bool = False
    reads: tuple[str, ...] = ()

    @property
    def remains(self) -> Expected | None:
        """What it should leave of the tear, the way that it is about [in]; None where it moves none."""
        return self.expect[0] if self.expect else None

    @property
    def way(self) -> ActWay:
        """How it is done on the page."""
        if self.kind is ActKind.TEST and self.reads:
            return ActWay.READ
        if self.kind is ActKind.TEST and self.suspect in SHOWN_BY_SHOTS:
            return ActWay.OTHERS_SHOOT
        return _WAYS[self.kind]


@dataclass(frozen=True)
class _Candidate:
    minutes: float
    act: TuneAct
    first: bool = False
    """Whether the shop looks at it before anything else."""


def worst_axis(group: Group) -> Axis:
    """The way in which the tear is larger."""
    return Axis.UP if abs(group.y_in) >= abs(group.x_in) else Axis.SIDE


def off_in(group: Group, axis: Axis) -> float:
    """The tear in one axis. [in]"""
    return group.y_in if axis is Axis.UP else group.x_in


def sigma_in(group: Group, axis: Axis) -> float:
    """Doubt of the tear in one axis. [in]"""
    return group.sigma_y if axis is Axis.UP else group.sigma_x


def next_act(tune: Tune) -> TuneAct:
    """What to do now.

    Parameters
    ----------
    tune : Tune
        What is known so far.

    Returns
    -------
    TuneAct
        Two shots alike come before any change; one change at a time.
    """
    good = [one for one in tune.now if one.good]
    if len(good) < 2:
        return _shoot(
            "One shot is not enough. Shoot again; two that agree count."
            if good
            else "Nothing was shot yet."
        )
    in_two = lies_in_two(tune.now, min(tune.scatter_in, USUAL_SCATTER_IN))
    if not in_two and not two_alike(tune.now, tune.scatter_in) and len(good) < MOST_SHOTS_TO_TELL:
        return _shoot("The last two are not alike: another one shows which is the flyer.")
    group = group_of(tune.now, tune.scatter_in)
    if in_two:
        return best_act(tune, group)
    if group.size_in < CLEAN_IN:
        return _clean(tune, group, len(good))
    if shots_to_tell(group.size_in, tune.scatter_in) > MOST_SHOTS_TO_TELL:
        if len(good) < LEAST_TO_LEAVE:
            return _shoot(
                "It may be within this archer's shot-to-shot spread: more shots show that."
            )
        if _always_one_way(group):
            return _by_another_archer(tune, group) or best_act(tune, group)
        return TuneAct(
            "Leave it: the tear is within this archer's shot-to-shot spread.",
            f"One shot scatters by {say_length(tune.scatter_in, 32)}; no change of so little can be seen.",
            kind=ActKind.LEAVE,
        )
    if group.size_in < NOT_CLEAN_IN and not _taps_nearer(tune, group):
        return TuneAct(
            "Leave it: no tap brings it nearer.",
            f"What is left is {say_length(group.size_in, 16)}; the smallest tap moves it farther than that.",
            kind=ActKind.LEAVE,
        )
    return best_act(tune, group)


def _always_one_way(group: Group) -> bool:
    """Whether a tear stands out of shots that scatter much: bow or archer makes it, not chance."""
    axis = worst_axis(group)
    return abs(off_in(group, axis)) > ONE_WAY_SIGMAS * sigma_in(group, axis)


def _by_another_archer(tune: Tune, group: Group) -> TuneAct | None:
    """Somebody else's shots, which tell the bow from the archer; None where they were asked for already."""
    causes = causes_of(tune, group)
    key = BY_ANOTHER_ARCHER[causes.axis]
    one = next(found for found in causes.suspicions if found.suspect.key == key)
    if any(not finding.mended for finding in one.findings if not finding.beside):
        return None
    why = "These shots scatter, and still tear one way: another archer's shots tell the bow from the archer."
    return replace(_test(one, tune), why=why)


def _clean(tune: Tune, group: Group, shots: int) -> TuneAct:
    """Two clean alike are proof, unless their doubt reaches past it, or the tear came and went before."""
    doubt = CLEAN_SIGMAS * max(group.sigma_x, group.sigma_y)
    if shots < MOST_TO_BE_CLEAN and group.size_in + doubt > NOT_CLEAN_IN:
        return _shoot("Clean so far, but near the edge: another one makes it sure.")
    if shots < MOST_TO_BE_CLEAN and any(
        lies_in_two(one, min(tune.scatter_in, USUAL_SCATTER_IN)) for one in tune.groups
    ):
        return _shoot("The tear came and went before: a few more show that it is gone.")
    return TuneAct(
        "Clean: leave it.",
        f"{COUNTED.get(shots, shots)} alike, under an eighth.",
        kind=ActKind.DONE,
    )


def _shoot(why: str) -> TuneAct:
    return TuneAct(
        "Shoot one more through paper.",
        why,
        kind=ActKind.SHOOT,
        minutes=SHOOT_TWO_MINUTES / 2,
    )


def best_act(tune: Tune, group: Group) -> TuneAct:
    """The test or the move that is best for a tear of some size.

    Parameters
    ----------
    tune : Tune
        What is known so far.
    group : Group
        The tear, from shots through paper or from bare shafts.
    """
    vain = [one for one in tune.findings if one.mended is Mending.IN_VAIN]
    if len(vain) >= MOST_IN_VAIN and (tap := _tap_what_is_left(tune, group)) is not None:
        return tap
    if len(vain) >= MOST_IN_VAIN:
        return _leave_on_the_sheet(f"{len(vain)} causes were mended and the tear stayed.")
    causes = causes_of(tune, group)
    known = causes.suspicions
    found = _candidates(tune, group, causes) or _last_resort(tune, group, causes)
    found.sort(key=lambda one: (not one.first, one.minutes, -one.act.chance))
    outside = [one for one in known if _is_outside(tune, one)]
    if outside:
        likeliest = max(outside, key=lambda one: one.chance)
        act = _mend(tune, group, likeliest)
        put_back = _blames(act, likeliest, likeliest.chance) if act.steps else act
        found.insert(0, _Candidate(0.0, put_back))
    if not found:
        return _tap_what_is_left(tune, group) or _leave_on_the_sheet(
            "Everything was looked at, and what moves the tear was moved."
        )
    others = [one.act for one in found[1:] if one.act.do != found[0].act.do]
    return _with_others(found[0].act, others[:2])


def _is_outside(tune: Tune, one: Suspicion) -> bool:
    """Whether a reading of it is outside and could make such a tear: it is put back before anything else."""
    by_reading = one.suspect.key in tune.known_by_reading and one.suspect.readings
    return bool(by_reading) and one.found_once and not _tried(tune, one)


def _leave_on_the_sheet(because: str) -> TuneAct:
    return TuneAct(
        "Leave it, and write the tear on the sheet.",
        f"{because} What is left is a small sum of things, the archer, or something that nobody has looked "
        "at: another day, another pair of eyes.",
        kind=ActKind.LEAVE,
    )


def _taps_nearer(tune: Tune, group: Group) -> bool:
    """Whether any tap of nock point or rest brings a tear nearer to clean."""
    return any(
        lever.count_for(off_in(group, lever.axis), lever.rate(tune.trials))
        for lever in tune.levers
        if lever.minutes <= MOST_MINUTES_OF_A_TAP
    )


def causes_of(tune: Tune, group: Group) -> Causes:
    """What may be behind the larger part of a tear."""
    axis = worst_axis(group)
    return possible_causes(axis, tune.findings, tune.shares, off_in(group, axis))


def _candidates(tune: Tune, group: Group, causes: Causes) -> list[_Candidate]:
    """Everything that may be done, with the minutes to the end of it that it leads one to expect.

    Nobody is accused and nothing is taken apart before a test has found it; taps and another arrow that is
    known to take the tear away are tried without.
    """
    found = _tests(causes, tune)
    for one in causes.suspicions:
        act = _mend(tune, group, one)
        if act.remains is not None:
            moved = _moved(tune, group, causes, one, act)
            found += [moved] if moved else []
        elif one.found_once:
            minutes = after_mending(causes, one.suspect, one.suspect.mend_minutes)
            found.append(_Candidate(minutes, act))
    return found


def _moved(
    tune: Tune, group: Group, causes: Causes, one: Suspicion, act: TuneAct
) -> _Candidate | None:
    """Taps, steps or another arrow, by what they leave of the tear; None where they come too early or leave
    too much."""
    assert act.remains is not None
    was, left = abs(off_in(group, causes.axis)), act.remains.value
    if _too_early(one, causes, tune) or _tapped_enough(tune, act):
        return None
    if abs(left) > max(CLEAN_IN, WORTH_A_TAP * was):
        return None
    doubt = hypot(act.remains.sigma, sigma_in(group, causes.axis))
    large, own = was >= SMALL_KICK_IN, (one.suspect.key,)
    blamed = causes.chance_of_any(own if large else MENDED_TOGETHER.get(one.suspect.key, own))
    takes = act.minutes - SHOOT_TWO_MINUTES if act.steps else one.suspect.mend_minutes
    minutes = after_a_tap(causes, blamed, left, doubt, takes, large)
    return _Candidate(minutes, _blames(act, one, blamed, large))


def _blames(act: TuneAct, one: Suspicion, chance: float, alone: bool = True) -> TuneAct:
    """The act with whom it blames and how likely that is; a small tear may be a sum of small things."""
    whom = one.suspect.name if alone else f"{one.suspect.name} or a small sum of things"
    why = f"{whom}: {chance:.0%} likely now. {act.why}"
    return replace(act, why=why, chance=chance, or_small_sum=not alone)


def _last_resort(tune: Tune, group: Group, causes: Causes) -> list[_Candidate]:
    """Where everything was looked at once and nothing found: a second look, or the likeliest mended."""
    found = _tests(causes, tune, MOST_TESTS + 1)
    for one in causes.suspicions:
        act = _mend(tune, group, one)
        mended = any(finding.mended for finding in one.findings)
        if one.chance >= WORTH_MENDING and not mended and act.kind is ActKind.MEND:
            found.append(
                _Candidate(after_mending(causes, one.suspect, one.suspect.mend_minutes), act)
            )
    return found


def _too_early(one: Suspicion, causes: Causes, tune: Tune) -> bool:
    """Whether something has to be looked at, or mended, before that is moved: it would hide it."""
    before = LOOKED_AT_BEFORE.get(one.suspect.key, ())
    return any(
        not other.findings or (other.found_once and not _tried(tune, other))
        for other in causes.suspicions
        if other.suspect.key in before
    )


def _tapped_enough(tune: Tune, act: TuneAct) -> bool:
    lever = next((one for one in tune.levers if act.steps and one.units_in(act.steps)), None)
    tried = 0 if lever is None else sum(one.lever == lever.key for one in tune.trials)
    return tried >= MOST_TRIALS_OF_A_TAP


def _tap_what_is_left(tune: Tune, group: Group) -> TuneAct | None:
    """Nock point or rest for a small sum of things that nobody is to blame for, as far as they go (common
    practice); None where they bring it no nearer or were tried often enough."""
    axis = worst_axis(group)
    for one in causes_of(tune, group).suspicions:
        for lever in levers_for(tune, one):
            tried = sum(trial.lever == lever.key for trial in tune.trials)
            if lever.minutes > MOST_MINUTES_OF_A_TAP or tried >= MOST_TRIALS_OF_A_TAP:
                continue
            act = _tap(tune, group, one, lever)
            left = act.remains.value if act.remains else 0.0
            if act.steps and abs(off_in(group, axis)) - abs(left) >= WORTH_A_TAP_IN:
                why = (
                    "What was checked is not the cause: it is a small sum of things. Nock point and rest "
                    f"take it away as far as they go. {act.why}"
                )
                return replace(act, why=why)
    return None


def _tried(tune: Tune, one: Suspicion) -> bool:
    """Whether a lever of a suspect was moved already."""
    return any(trial.lever in one.suspect.moves for trial in tune.trials)


def _with_others(act: TuneAct, others: Sequence[TuneAct]) -> TuneAct:
    return replace(act, others=tuple(one.do for one in others))


def _tests(causes: Causes, tune: Tune, most: int = MOST_TESTS) -> list[_Candidate]:
    """Every test that was not made so often yet, with the minutes that it leads one to expect."""
    found = []
    for one in causes.suspicions:
        made = sum(not (finding.mended or finding.beside) for finding in one.findings)
        if one.suspect.key not in tune.known_by_reading and made < most:
            first = one.suspect.key in tune.preferred and not one.findings
            found.append(_Candidate(after_a_test(causes, one.suspect), _test(one, tune), first))
    return found


def _test(one: Suspicion, tune: Tune) -> TuneAct:
    suspect = one.suspect
    why = (
        f"{suspect.name}: {one.chance:.0%} likely now. {suspect.test.minutes:g} min, and it is found "
        f"{suspect.test.finds:.0%} of the time."
    )
    if any(not finding.beside for finding in one.findings):
        why += " Looked at before: another look makes it surer."
    return TuneAct(
        suspect.test.ask,
        why,
        kind=ActKind.TEST,
        suspect=suspect.key,
        reads=tune.readings.get(suspect.key, ()),
        minutes=suspect.test.minutes,
        chance=one.chance,
    )


def _tap(tune: Tune, group: Group, one: Suspicion, lever: Lever) -> TuneAct:
    rate = lever.rate(tune.trials)
    off = off_in(group, lever.axis)
    count = lever.count_for(off, rate)
    moves, doubt = (say_length(abs(count * by), 32) for by in (rate.mean, rate.sigma))
    why = f"This moves the tear by {moves}, give or take {doubt}, {say_trials(rate.trials)}."
    if lever.key == TIMING_CABLE:
        first = "" if one.suspect.key == "timing" else " It comes before nock and rest."
        why += f"{first} Keep the nock level with the rest."
    if lever.surprised(tune.trials):
        why += " On this bow the change works in the opposite direction."
    return TuneAct(
        HALF_TWIST if lever.key == TIMING_CABLE else one.suspect.mend,
        why,
        lever.steps(count) if count else NO_STEPS,
        kind=ActKind.TAP,
        suspect=one.suspect.key,
        expect=(Expected(lever.axis, off + count * rate.mean, abs(count) * rate.sigma),),
        minutes=lever.minutes + SHOOT_TWO_MINUTES,
        chance=one.chance,
    )


def say_trials(trials: int) -> str:
    """What a rate rests on, in words."""
    if not trials:
        return "the usual value; not measured on this bow"
    return f"as {trials} trial{'s' if trials > 1 else ''} on this bow showed"


def levers_for(tune: Tune, one: Suspicion) -> list[Lever]:
    """What this bow has to mend a suspect by, the first choice first."""
    found = {lever.key: lever for lever in tune.levers}
    hidden = LOOKED_AT_BEFORE.get(one.suspect.key, ())
    first = (TIMING_CABLE,) if tune.half_twist_first and "timing" in hidden else ()
    return [found[key] for key in (*first, *one.suspect.moves) if key in found]


def expected_in(tune: Tune, group: Group, one: Suspicion) -> tuple[float, float] | None:
    """What would be left of the tear after the first choice, and its doubt [in]; None where none moves it."""
    answer = tune.spine(one.suspect.key)
    if answer is not None and answer.best is not None:
        return answer.left_in, answer.left_sigma
    for lever in levers_for(tune, one):
        act = _tap(tune, group, one, lever)
        if act.steps and act.remains is not None:
            return act.remains.value, act.remains.sigma
    return None


def _mend(tune: Tune, group: Group, one: Suspicion) -> TuneAct:
    """What to do about a suspect that is proven."""
    put_back = one.suspect.by_plan and one.found_once
    levers = [] if put_back else levers_for(tune, one)
    for lever in levers:
        act = _tap(tune, group, one, lever)
        if act.steps:
            return act
    answer = tune.spine(one.suspect.key)
    if answer is not None and answer.best is not None:
        return _other_arrow(tune, one, answer)
    blocked = " ".join(lever.blocked for lever in levers if lever.blocked)
    sure = "proven" if one.standing is SuspectStanding.PROVEN else "the likeliest that is left"
    why = f"{one.suspect.name}: {sure}, {one.chance:.0%}. {blocked}".rstrip()
    return TuneAct(
        one.suspect.mend, why, kind=ActKind.MEND, suspect=one.suspect.key, chance=one.chance
    )


def _other_arrow(tune: Tune, one: Suspicion, answer: SpineAnswer) -> TuneAct:
    own = tune.arrows[one.suspect.axis][0].spine
    moves, doubt = (say_length(abs(50 * by), 32) for by in (answer.rate, answer.rate_sigma))
    why = (
        f"From the {answer.arrows} arrows shot here: 50 of spine moves the tear by {moves}, give or take "
        f"{doubt}. The best spine is known to about {answer.best_sigma:.0f}."
    )
    return TuneAct(
        say_spine(answer, own),
        why,
        kind=ActKind.MEND,
        suspect=one.suspect.key,
        expect=(Expected(one.suspect.axis, answer.left_in, answer.left_sigma),),
        chance=one.chance,
    )
