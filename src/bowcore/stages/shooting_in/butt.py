"""Groups on a butt: bare shafts, French, walk-back, broadheads; what each says and asks of the rest."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from bowcore.adjusters.rest_move import REST_OUT, REST_STEP_IN
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.evidence.facts import Facts
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest, group_of
from bowcore.evidence.shots_between import since_last_change
from bowcore.learning.one_rate import Rate
from bowcore.measurement.bands import Band
from bowcore.measurement.lines import Line
from bowcore.quantities.inches import say_length
from bowcore.stages.shooting_in.bare_groups import bare_of, usual_at
from bowcore.stages.shooting_in.bare_shaft import AT_YD, BareShaft, Together
from bowcore.stages.shooting_in.drift import (
    NEAR_YD,
    WALK_BACK_YD,
    drift_line,
    drift_trials,
    hardly_moves,
    lever_of_drift,
    still_to_shoot,
)
from bowcore.stages.shooting_in.next_act import TuneAct, say_trials
from bowcore.stages.shooting_in.tuning import act_on_bare

BUTT_TESTS = {
    ShotTest.BARE_SHAFT: "Bare shafts",
    ShotTest.FRENCH: "French",
    ShotTest.WALK_BACK: "Walk-back",
    ShotTest.BROADHEAD: "Broadheads",
}
HOW_IT_IS_SHOT = {
    ShotTest.BARE_SHAFT: "Two bare among two or three fletched ones, at 10, 20, then 30 yd.",
    ShotTest.FRENCH: "Axes set first. Sight at 2 to 3 yd until the string is split, then two at 20 yd.",
    ShotTest.WALK_BACK: "One sight mark; two shots at every 5 yd from 20 to 40, at a plumb line on the butt.",
    ShotTest.BROADHEAD: "Two broadheads and two field points, the same mass, at 20 yd and farther.",
}
"""Common practice, no published source."""
SHOT_FROM_YD: Mapping[ShotTest, tuple[int, ...]] = {
    ShotTest.BARE_SHAFT: (10, 20, 30), ShotTest.FRENCH: (3, 20), ShotTest.WALK_BACK: WALK_BACK_YD,
    ShotTest.BROADHEAD: (20, 30, 40),
}  # fmt: skip
"""Distances of each test, in their order (common practice, no published source)."""


def next_distance(test: ShotTest, shots: Sequence[Shot]) -> int:
    """From where the next shot of a test is shot. [yd]"""
    yards = SHOT_FROM_YD[test]
    shot = {int(one.distance_yd) for one in shots}
    if test is ShotTest.WALK_BACK:
        return next(iter(still_to_shoot(shots)), yards[-1])
    return next((one for one in yards if one not in shot), yards[-1])


@dataclass(frozen=True)
class ButtResult:
    """What a test on the butt says now: the verdict, why, and the steps if it asks for any.

    `done` where nothing is left to do; `act` is what the suspects behind bare shafts ask for.
    """

    test: ShotTest
    verdict: str
    why: str = ""
    steps: Steps = NO_STEPS
    done: bool = False
    act: TuneAct | None = None


def butt_result(test: ShotTest, facts: Facts, bands: Mapping[str, Band]) -> ButtResult:
    """What the shots of one test say, those since the last change.

    Parameters
    ----------
    test : ShotTest
        One of `BUTT_TESTS`.
    facts : Facts
        With its shots.
    bands : mapping of str to Band
        By which the rest may move.
    """
    shots = [one for one in since_last_change(facts) if one.test is test and one.good]
    if test is ShotTest.WALK_BACK:
        return _walk_back(shots, facts, bands)
    if test is ShotTest.FRENCH:
        return _french(shots, facts, bands)
    kind = ShaftKind.BARE if test is ShotTest.BARE_SHAFT else ShaftKind.BROADHEAD
    return _against_fletched(test, kind, shots, facts, bands)


def say_groups(facts: Facts, bands: Mapping[str, Band]) -> list[str]:
    """What every test on the butt shows since the last change, in sentences for the customer."""
    shot = {one.test for one in since_last_change(facts) if one.good}
    said = []
    for test, name in BUTT_TESTS.items():
        if test in shot:
            result = butt_result(test, facts, bands)
            said.append(f"{name}: {result.why} {result.verdict}")
    return said


def _walk_back(shots: Sequence[Shot], facts: Facts, bands: Mapping[str, Band]) -> ButtResult:
    if missing := still_to_shoot(shots):
        words = ", ".join(f"{more} at {yards} yd" for yards, more in missing.items())
        why = f"Still to shoot: {words}. Fewer decide nothing."
        return ButtResult(ShotTest.WALK_BACK, "Shoot on.", why)
    line = drift_line(shots)
    drift, doubt = (say_length(abs(v) * 10, 32) for v in (line.slope, line.slope_doubt))
    why = f"Every ten yards the impacts drift by {drift}, give or take {doubt} (95 in 100)."
    if line.bends:
        return ButtResult(
            ShotTest.WALK_BACK,
            "They lie on a curve: hand torque or the sight's third axis, not the rest.",
            f"{why} The bend is larger than its doubt.",
            done=True,
        )
    if not line.slopes:
        return ButtResult(
            ShotTest.WALK_BACK,
            "Leave it: any drift is smaller than the measurement error.",
            _with_sight(why, line),
            done=True,
        )
    return _rest_asked(ShotTest.WALK_BACK, line.slope, _with_sight(why, line), facts, bands)


def _with_sight(why: str, line: Line) -> str:
    """What belongs to the sight: where the line would start."""
    way = "right" if line.at_zero > 0 else "left"
    start = say_length(abs(line.at_zero), 16)
    return f"{why} At 0 yd the line is {start} {way}: that is the sight's."


def _french(shots: Sequence[Shot], facts: Facts, bands: Mapping[str, Band]) -> ButtResult:
    far = [one for one in shots if one.distance_yd > 2 * NEAR_YD]
    if len(far) < 2:
        return ButtResult(
            ShotTest.FRENCH,
            f"Set the sight at {NEAR_YD:g} yd until the string is split, then shoot two at 20 yd.",
            "The rest follows the miss at the far distance only.",
        )
    group = group_of(far, usual_at(far[-1].distance_yd))
    off, doubt = abs(group.x_in), 2 * group.sigma_x
    why = (
        f"At {far[-1].distance_yd:g} yd it misses {say_length(off, 16)} to the {_way(group.x_in)}."
    )
    if off < doubt:
        return ButtResult(
            ShotTest.FRENCH, "Leave it: the miss is inside its doubt.", why, done=True
        )
    slope = group.x_in / (far[-1].distance_yd - NEAR_YD)
    return _rest_asked(ShotTest.FRENCH, slope, why, facts, bands)


def _against_fletched(
    test: ShotTest, kind: ShaftKind, shots: Sequence[Shot], facts: Facts, bands: Mapping[str, Band]
) -> ButtResult:
    name = "Bare shafts" if kind is ShaftKind.BARE else "Broadheads"
    found = bare_of(shots, kind)
    if found is None:
        yards = max((s.distance_yd for s in shots), default=AT_YD)
        asked = f"Shoot two {name.lower()} among two or three fletched ones."
        return ButtResult(test, asked, f"At {yards:g} yd." if shots else "")
    why = f"At {found.distance_yd:g} yd. {_say_off(name, found.off)}"
    apart = found.off.verdict is Together.APART
    act = act_on_bare(facts, bands, found) if apart and kind is ShaftKind.BARE else None
    steps = NO_STEPS if act is None else act.steps
    done = found.off.verdict is Together.MEET
    return ButtResult(test, _say_together(name, found.off), why, steps, done, act)


def _say_together(name: str, found: BareShaft) -> str:
    if found.verdict is Together.MEET:
        return f"{name} and fletched arrows meet: leave it."
    if found.verdict is Together.UNDECIDED:
        return f"Not decided: shoot {found.more_shots} more of each."
    if abs(found.y_in) > abs(found.x_in):
        high = found.y_in > 0
        return f"{name} land {'high' if high else 'low'}: timing by half a twist first, the nock kept level."
    return f"{name} land to the {_way(found.x_in)}: lean first, then the rest, as for a nock to one side."


def _say_off(name: str, found: BareShaft) -> str:
    across = f"{say_length(abs(found.x_in), 16)} {_way(found.x_in)}"
    up = f"{say_length(abs(found.y_in), 16)} {'high' if found.y_in > 0 else 'low'}"
    doubt = say_length(2 * max(found.sigma_x, found.sigma_y), 16)
    return f"{name} are {across} and {up} of the others, give or take {doubt}."


def _rest_asked(
    test: ShotTest, slope: float, why: str, facts: Facts, bands: Mapping[str, Band]
) -> ButtResult:
    """The rest moved across by what it does to the drift on this bow, as far as centre shot allows."""
    lever = lever_of_drift(facts, bands)
    rate = lever.rate(drift_trials(facts))
    why = f"{why} {_say_rate(rate)}"
    if hardly_moves(facts, rate):
        return ButtResult(test, NOT_THE_REST, why, done=True)
    taps = lever.count_for(slope, rate)
    if abs(slope) < abs(rate.mean) / 2:
        return ButtResult(test, "Leave it: the rest would move less than a tap.", why, done=True)
    if not taps:
        return ButtResult(
            test, "Do not move the rest: something else is behind it.", f"{why} {lever.blocked}"
        )
    far = say_length(abs(taps) * REST_STEP_IN, 32)
    away = "left" if (taps > 0) is not facts.left_handed else "right"
    moved = f"Move the rest {far} to the {away}, then shoot it again."
    return ButtResult(test, moved, why, Steps({REST_OUT: taps}))


NOT_THE_REST = (
    "Leave the rest: it hardly moves the drift. What is left is hand torque, the sight's third axis or an "
    "arrow that flies askew."
)


def _say_rate(rate: Rate) -> str:
    """What a tap of the rest does to ten yards' drift, and how that is known."""
    by, doubt = (say_length(abs(10 * one), 32) for one in (rate.mean, rate.sigma))
    known = say_trials(rate.trials)
    return f"A tap of the rest changes the drift over ten yards by {by}, give or take {doubt}, {known}."


def _way(x_in: float) -> str:
    return "right" if x_in > 0 else "left"
