"""Groups on a butt, from hidden bows: a drift moves the rest the right way, torque moves nothing."""

import numpy as np
import pytest

from bowcore.adjusters.rest_move import REST_OUT
from bowcore.evidence.facts import LedgerEntry, Take
from bowcore.evidence.shooting_policy import ShootingPolicy
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.measurement.bands import around
from bowcore.measurement.lines import DRAWN_NOCK_TO_REST_IN, line_through
from bowcore.quantities.changes import Change
from bowcore.stages.shooting_in.butt import BUTT_TESTS, HOW_IT_IS_SHOT, butt_result
from bowcore.stages.shooting_in.drift import WALK_BACK_YD, drift_trials
from bowcore.stages.shooting_in.tear_lessons import tear_lesson, together
from bowcore.stages.shooting_in.tear_levers import taps_of_rest
from bowcore.stages.shooting_in.tear_response import DRIFT, drift_lever
from tests.core.test_on_the_bow import facts

ROOM = {"centre_shot": around(0.8125, 0.5, "baseline", "")}


def walked(x_of, scatter=0.0, shots=2, **more):
    rng = np.random.default_rng(4)
    fired = [
        Shot(
            at,
            ShotTest.WALK_BACK,
            yards,
            x_of(yards) + scatter * yards / 20 * rng.standard_normal(),
            0.0,
        )
        for at, yards in enumerate(np.repeat(WALK_BACK_YD, shots), 30)
    ]
    return facts(shots=tuple(fired), **more)


@pytest.mark.parametrize("left_handed", [False, True])
def test_a_drift_moves_the_rest_so_that_it_is_gone(left_handed):
    off = 4 / 32  # the rest is so far right of where it belongs
    slope = 36 * off / DRAWN_NOCK_TO_REST_IN
    known = walked(lambda d: slope * d, left_handed=left_handed)
    found = butt_result(ShotTest.WALK_BACK, known, ROOM)
    assert found.verdict.startswith("Move the rest 1/8 in to the left")
    # away from the riser is to the left on a right-handed bow, to the right on a left-handed one
    assert found.steps[REST_OUT] == (-4 if left_handed else 4)


def test_a_drift_inside_its_doubt_is_left_and_the_rest_is_the_sights():
    flat = butt_result(ShotTest.WALK_BACK, walked(lambda d: 0.5, 0.4, 3), {})
    assert flat.verdict.startswith("Leave it") and not flat.steps
    assert "that is the sight's" in flat.why


def test_a_curve_is_torque_or_an_axis_and_no_rest_is_moved():
    bent = butt_result(ShotTest.WALK_BACK, walked(lambda d: 0.01 * (d - 20) ** 2, 0.05, 3), ROOM)
    assert "torque" in bent.verdict and not bent.steps


def test_too_few_distances_say_which_are_missing():
    short = facts(shots=(Shot(30, ShotTest.WALK_BACK, 20, 0, 0),))
    why = butt_result(ShotTest.WALK_BACK, short, {}).why
    assert "1 at 20 yd, 2 at 25 yd" in why and "decide nothing" in why


def test_without_a_drift_one_walk_back_in_twenty_would_move_the_rest():
    """Student's t holds what it says: of straight bows 5 in 100 seem to drift."""
    rng = np.random.default_rng(1)
    yards = np.repeat(WALK_BACK_YD, 2).astype(float)
    lines = [
        line_through(yards, yards / 20 * rng.standard_normal(10), yards, scaled=True)
        for _ in range(600)
    ]
    assert 0.03 < np.mean([one.slopes for one in lines]) < 0.075
    assert 0.03 < np.mean([one.bends for one in lines]) < 0.075


def test_centre_shot_limits_the_move_and_says_its_number():
    tight = {"centre_shot": around(0.8125, 1 / 16, "baseline", "")}
    read = (Take(9, "centre_shot", 0.875),)
    known = walked(lambda d: 0.2 * d, takes=read)
    found = butt_result(ShotTest.WALK_BACK, known, tight)
    assert not found.steps and "Do not move the rest" in found.verdict and "7/8" in found.why


def test_taps_since_the_reading_count_towards_the_limit_of_centre_shot():
    room = {"centre_shot": around(0.8125, 1 / 16, "baseline", "")}
    read = (Take(9, "centre_shot", 0.8125),)
    tapped = (LedgerEntry(20, Change.REST, REST_OUT, steps=2),)
    assert taps_of_rest(facts(takes=read, changes=()), room)[:2] == (-2, 2)
    assert taps_of_rest(facts(takes=read, changes=tapped), room)[:2] == (-4, 0)


def french(miss, scatter=0.2):
    rng = np.random.default_rng(7)
    fired = [Shot(30, ShotTest.FRENCH, 3, 0.0, 0.0)]
    fired += [
        Shot(31 + n, ShotTest.FRENCH, 20, miss + scatter * rng.standard_normal(), 0.0)
        for n in range(4)
    ]
    return facts(shots=tuple(fired))


def test_french_moves_the_rest_away_from_the_miss():
    right = butt_result(ShotTest.FRENCH, french(-3.0), ROOM)
    assert "to the right" in right.verdict and right.steps[REST_OUT] < 0
    assert butt_result(ShotTest.FRENCH, french(0.1), ROOM).verdict.startswith("Leave it")
    assert "shoot two at 20 yd" in butt_result(ShotTest.FRENCH, facts(), ROOM).verdict


def against(test, kind, x, y):
    fired = [Shot(30 + n, test, 20, 0.1 * n, 0.0) for n in range(3)]
    fired += [Shot(40 + n, test, 20, x + 0.1 * n, y, kind) for n in range(3)]
    return butt_result(test, facts(shots=tuple(fired)), ROOM)


@pytest.mark.parametrize(
    ("test", "kind"),
    [(ShotTest.BARE_SHAFT, ShaftKind.BARE), (ShotTest.BROADHEAD, ShaftKind.BROADHEAD)],
)
def test_bare_and_broadheads_are_compared_with_fletched_field_points(test, kind):
    assert "meet" in against(test, kind, 0.1, 0.1).verdict
    assert "high: timing" in against(test, kind, 0.5, 5.0).verdict
    assert "to the right" in against(test, kind, 6.0, 0.5).verdict
    nothing_yet = butt_result(test, facts(), ROOM)
    assert nothing_yet.verdict.startswith("Shoot two") and not nothing_yet.why


def test_shots_before_a_change_do_not_count():
    known = walked(lambda d: 0.1 * d, changes=(LedgerEntry(60, Change.REST, REST_OUT, steps=2),))
    assert butt_result(ShotTest.WALK_BACK, known, ROOM).verdict == "Shoot on."


def test_every_test_says_how_it_is_shot():
    assert set(BUTT_TESTS) == set(HOW_IT_IS_SHOT) == set(ShotTest) - {ShotTest.PAPER}


def walk_back(at, slope, start=0.3):
    """Two shots at each place, exactly on a line but for a sixteenth to either side."""
    return [
        Shot(at + n, ShotTest.WALK_BACK, yards, start + slope * yards + (-1) ** n / 16, 0.0)
        for n, yards in enumerate((20, 20, 25, 25, 30, 30, 35, 35, 40, 40))
    ]


def tapped(taps, before, after, **more):
    changes = (LedgerEntry(50, Change.REST, REST_OUT, "", taps),)
    return facts(shots=(*walk_back(20, before), *walk_back(60, after)), changes=changes, **more)


def test_the_rest_follows_what_it_did_to_the_drift_on_this_bow():
    """After one trial that took away twice what geometry says, half as many taps are asked for."""
    plain = butt_result(ShotTest.WALK_BACK, facts(shots=tuple(walk_back(20, 0.12))), {})
    known = tapped(1, 0.2, 0.12)
    (trial,) = drift_trials(known)
    assert (trial.count, trial.before, trial.after) == (1, pytest.approx(0.2), pytest.approx(0.12))
    learned = butt_result(ShotTest.WALK_BACK, known, {})
    assert plain.steps[REST_OUT] == 3 and "the usual value" in plain.why
    assert 1 <= learned.steps[REST_OUT] < 3 and "1 trial on this bow" in learned.why


def test_a_rest_that_hardly_moves_the_drift_is_left_alone():
    """Common practice, no published source: what remains is torque, an axis or an arrow that flies askew."""
    result = butt_result(ShotTest.WALK_BACK, tapped(3, 0.12, 0.12), {})
    assert not result.steps and result.done and "torque" in result.verdict


def test_on_a_left_handed_bow_the_rest_goes_the_other_way():
    right, left = (
        butt_result(
            ShotTest.WALK_BACK, facts(shots=tuple(walk_back(20, 0.12)), left_handed=hand), {}
        )
        for hand in (False, True)
    )
    assert right.steps[REST_OUT] == -left.steps[REST_OUT]
    assert "to the left" in right.verdict and "to the left" in left.verdict


def test_the_models_bows_teach_what_a_tap_does_to_the_drift():
    lesson = tear_lesson(tapped(1, 0.2, 0.12), {})
    shown = together([lesson] * 4, [drift_lever()])
    assert shown.rates[DRIFT].mean < drift_lever().first.mean < 0
    school = ShootingPolicy(rates=shown.rates)
    known = facts(shots=tuple(walk_back(20, 0.12)), shooting_policy=school)
    assert 1 <= butt_result(ShotTest.WALK_BACK, known, {}).steps[REST_OUT] < 3
