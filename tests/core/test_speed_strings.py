"""Strings of speeds and string weights: against SciPy, statsmodels, and bows whose insides are hidden."""

from dataclasses import replace

import numpy as np
import pytest
import statsmodels.api as sm
from scipy import stats

from bowcore.accessories.on_the_bow import OnTheBow, thing
from bowcore.errors import BadInput
from bowcore.evidence.facts import LedgerEntry, Take
from bowcore.measurement.normal import chi_square_95
from bowcore.quantities.catalogue import quantity
from bowcore.quantities.changes import Change
from bowcore.simulation.simulated_speeds import SimulatedSpeeds, find_best_place
from bowcore.stages.speed.speed_board import speed_board
from bowcore.stages.speed.speed_strings import (
    SpeedShot,
    SpeedString,
    bow_by_arrows,
    compared,
    strings_of,
)
from bowcore.stages.speed.string_weights import (
    FARTHEST_IN,
    NEAREST_IN,
    WeightsActKind,
    next_place,
    optimum_of,
    places_differ,
)
from tests.core.test_on_the_bow import ARROW, facts

MASS = 400.0
SCATTERED = ([280.2, 284.1, 277.9, 282.8, 286.0], [288.4, 283.5, 291.2, 286.9, 290.6])
"""Far wider than the chronograph, so that the shots speak for themselves."""


def string(speeds, mass=MASS, weights=None, seq=1):
    return SpeedString(tuple(SpeedShot(seq, v, mass, "", weights) for v in speeds))


def bow(seed, **inside):
    return SimulatedSpeeds(np.random.default_rng(seed), **inside)


def test_the_doubt_of_before_and_after_is_welchs():
    """Against SciPy. A reading's own resolution comes on top: the root of the sum of squares."""
    before, after = (string(speeds) for speeds in SCATTERED)
    found, welch = (
        compared(before, after),
        stats.ttest_ind(SCATTERED[1], SCATTERED[0], equal_var=False),
    )
    assert found.faster_fps == pytest.approx(np.mean(SCATTERED[1]) - np.mean(SCATTERED[0]))
    step = quantity("arrow_speed").precision.resolution
    by_welch = abs(found.faster_fps / welch.statistic)
    assert by_welch <= found.sigma <= np.hypot(by_welch, np.sqrt(2) * step) + 1e-9
    assert found.clear == (abs(found.faster_fps) > 2 * found.sigma)


def test_before_and_after_are_shot_with_the_same_arrow():
    with pytest.raises(BadInput, match="same arrow"):
        compared(string([280]), string([270], mass=430))


def test_three_that_agree_are_a_string_and_a_slow_one_is_left_out():
    assert not string([281, 282]).finished and string([281, 282, 283]).finished
    assert not string([281, 282, 285]).finished
    touched = string([281, 282, 270, 281])
    assert touched.finished and touched.mean == pytest.approx(281.33, abs=0.01)
    assert string([270, 280, 290, 300, 310, 320, 330, 340]).finished  # more shots would say nothing


def test_a_shot_that_was_called_bad_does_not_count():
    shots = [SpeedShot(1, v, MASS, good=v > 275) for v in (281, 270, 282, 282)]
    assert SpeedString(tuple(shots)).mean == pytest.approx(281.667, abs=0.001)


def test_a_change_begins_a_new_string():
    shots = [SpeedShot(seq, 280, mass) for seq, mass in ((1, 400), (2, 450), (4, 400), (5, 400))]
    found = strings_of(shots, [3])
    assert [(s.mass_gr, len(s.shots)) for s in found] == [(400, 1), (450, 1), (400, 2)]


def test_the_moving_mass_and_other_arrows_are_found_within_their_doubt():
    """Of 200 bows with hidden insides, 95 % bands hold 95 % of the time."""
    held = {"mass": 0, "speed": 0}
    for seed in range(200):
        hidden = bow(seed, moving_gr=90 + seed / 4)
        found = bow_by_arrows([hidden.string(350), hidden.string(520)])
        fps, sigma = found.speed_of(430)
        held["mass"] += abs(found.mass_gr - hidden.moving_gr) < 1.96 * found.mass_sigma
        held["speed"] += abs(fps - hidden.true_fps(430)) < 1.96 * sigma
    assert all(180 <= count <= 200 for count in held.values()), held


def test_of_two_arrows_it_is_the_mass_with_which_both_carry_the_same_energy():
    """(m1 + mv) v1² = (m2 + mv) v2², by hand (textbook mechanics)."""
    found = bow_by_arrows([string([300, 300, 300], 380), string([270, 270, 270], 480)])
    assert found.mass_gr == pytest.approx((480 * 270**2 - 380 * 300**2) / (300**2 - 270**2))
    assert found.speed_of(380)[0] == pytest.approx(300)


def test_the_line_through_several_arrows_is_that_of_weighted_least_squares():
    """Against statsmodels' WLS; four arrows say more than the two outer ones."""
    hidden = bow(4, moving_gr=110)
    strings = [hidden.string(mass) for mass in (350, 400, 460, 520)]
    found, two = bow_by_arrows(strings), bow_by_arrows([strings[0], strings[-1]])
    masses, speeds = ([getattr(s, key) for s in strings] for key in ("mass_gr", "mean"))
    y = np.array(speeds) ** -2.0
    slope = np.polyfit(masses, y, 1)[0]
    doubt = np.hypot(2 * np.array([s.sigma for s in strings]) * y**1.5, slope * 0.3)
    known = sm.WLS(y, sm.add_constant(np.array(masses)), 1 / doubt**2).fit()
    assert found.line == pytest.approx(known.params)
    assert found.mass_sigma < two.mass_sigma and found.agree
    assert abs(found.mass_gr - 110) < 3 * found.mass_sigma


def test_an_arrow_that_was_weighed_wrong_is_seen_among_three():
    right = [string([300.0, 300.5, 300.2], 380), string([270.0, 270.3, 270.1], 480)]
    middle = bow_by_arrows(right).speed_of(430)[0]
    on_the_line, off_it = ([middle + off + by for by in (0.0, 0.3, -0.2)] for off in (0, 4))
    assert bow_by_arrows([*right, string(on_the_line, 430)]).agree
    assert not bow_by_arrows([*right, string(off_it, 430)]).agree


@pytest.mark.parametrize("freedom", [1, 2, 5, 11])
def test_the_quantile_of_chi_square(freedom):
    """Against SciPy."""
    assert chi_square_95(freedom) == pytest.approx(stats.chi2.ppf(0.95, freedom), rel=0.03)


def test_arrows_too_alike_say_nothing():
    assert bow_by_arrows([string([280]), string([279], mass=405)]) is None
    assert bow_by_arrows([string([280]), string([290], mass=500)]) is None
    assert bow_by_arrows([string([280])]) is None


def test_the_top_of_the_parabola_and_its_doubt_are_those_of_weighted_least_squares():
    """Against statsmodels' WLS and its delta method."""
    hidden = bow(3)
    places = np.arange(0.75, 3.0, 0.375)
    tried = strings_of([hidden.shoot(MASS, float(p)) for p in places for _ in range(3)])
    found = optimum_of(tried)
    x = np.array([one.weights_in for one in tried])
    design = np.column_stack([np.ones_like(x), x, x**2])
    weights = 1 / np.array([one.sigma for one in tried]) ** 2
    fit = sm.WLS([one.mean for one in tried], design, weights=weights).fit(cov_type="fixed scale")
    _, b, c = fit.params
    assert found.place_in == pytest.approx(-b / (2 * c), rel=1e-6)
    slope = np.array([0, -1 / (2 * c), b / (2 * c**2)])
    assert found.sigma_in == pytest.approx(np.sqrt(slope @ fit.cov_params() @ slope), rel=1e-6)


def test_the_experiment_finds_the_best_place_in_fewer_shots_than_trying_all():
    """Hidden tops from one to three inches: what is lost against the top, and shots against all eighths."""
    found, lost, shots, whole = 0, [], [], 3 * len(np.arange(NEAREST_IN, FARTHEST_IN, 1 / 8))
    for seed in range(60):
        hidden = bow(seed, best_in=1 + 2 * seed / 60, lost_per_in2=0.008)
        act = find_best_place(hidden, MASS)
        found += act.clear
        lost.append(hidden.true_fps(MASS, hidden.best_in) - hidden.true_fps(MASS, act.place_in))
        shots.append(len(hidden.shots))
    assert found >= 54 and np.median(lost) < 0.2 and max(lost) < 1.5
    assert np.mean(shots) < whole / 3


def test_weights_that_change_nothing_stay_where_they_were():
    """Of 60 bows whose speed does not depend on the place, nearly none are moved."""
    acts = [find_best_place(bow(seed, lost_per_in2=0.0), MASS, 1.5) for seed in range(60)]
    stayed = [act for act in acts if not act.clear]
    assert len(stayed) >= 54 and all(act.place_in == 1.5 for act in stayed)
    assert "Put the weights back" in stayed[0].why


@pytest.mark.parametrize("places", [2, 5, 9])
def test_whether_places_differ_is_a_chi_square_test(places):
    """Against SciPy's quantile: just inside it they do not differ, just outside they do."""
    quantile = stats.chi2.ppf(0.95, places - 1)
    for factor, differ in ((0.97, False), (1.03, True)):
        sigma = string([280] * 3).sigma
        wanted = np.sqrt(factor * quantile * sigma**2 / 2)
        apart = [string([280 + way * wanted] * 3, weights=1 + n) for n, way in enumerate((-1, 1))]
        middle = [string([280] * 3, weights=3 + n) for n in range(places - 2)]
        assert places_differ([*apart, *middle]) == differ


def test_a_slow_shot_now_and_then_does_not_lead_it_astray():
    lost = []
    for seed in range(40):
        hidden = bow(seed, best_in=2.0, flyers=0.1)
        act = find_best_place(hidden, MASS)
        lost.append(hidden.true_fps(MASS, 2.0) - hidden.true_fps(MASS, act.place_in))
    assert np.median(lost) < 0.4


def test_a_place_is_asked_for_with_every_string_of_weights():
    with pytest.raises(BadInput, match="Where were the weights"):
        next_place([string([280, 280, 280])])
    first = next_place([], 1.3)
    assert first.kind is WeightsActKind.SHOOT and first.place_in == 1.25


@pytest.mark.parametrize(("fps", "mass"), [(20, 400), (900, 400), (280, 5), (280, 9000)])
def test_what_no_bow_shoots_is_refused(fps, mass):
    with pytest.raises(BadInput):
        SpeedShot(1, fps, mass)


def read(*speeds, at=1):
    return tuple(Take(at + n, "arrow_speed", float(v)) for n, v in enumerate(speeds))


def own_arrow():
    return OnTheBow({"arrow": thing("arrow").read(ARROW)})


def test_the_board_says_what_the_work_cost_and_what_to_shoot_next():
    turned = LedgerEntry(10, Change.CABLE, "cable_a", "cable_a", 2)
    now = facts(
        takes=read(284, 284, 285) + read(280, 281, 280, at=20),
        changes=(turned,),
        on_bow=own_arrow(),
    )
    board = speed_board(now, [])
    assert len(board.now) == len(board.earlier) == 1
    assert "4.0 fps slower than before the work" in board.said[0]
    assert board.next_shot == "That is a good string. Shoot another arrow, or go on."
    begun = speed_board(replace(now, takes=now.takes[:5]), [])
    assert begun.next_shot.startswith("Shoot 1 more of")
    apart = speed_board(
        facts(takes=read(280, 284, 288, 281, 285, 289, 283, 287, at=20), on_bow=own_arrow()), []
    )
    assert "9 fps apart" in apart.next_shot and "battery" in apart.next_shot


def test_the_board_takes_other_arrows_and_weights_into_account():
    mass = float(ARROW["mass_gr"])
    heavy = [SpeedShot(30 + n, 256.0, mass + 100, "H") for n in range(3)]
    at_one = [SpeedShot(40 + n, 281.0, mass, "", 1.0) for n in range(3)]
    board = speed_board(
        facts(takes=read(281, 281, 282, at=20), on_bow=own_arrow()), [*heavy, *at_one], None, 1.0
    )
    assert any("of the bow move with the arrow" in words for words in board.said)
    assert [mass for mass, _, _ in board.predicted] == [300, 350, 400, 450, 500]
    speeds = [fps for _, fps, _ in board.predicted]
    assert speeds == sorted(speeds, reverse=True)
    assert board.weights is not None and board.weights.place_in == 1.375


def test_without_an_arrow_its_shots_say_nothing_of_energy():
    board = speed_board(facts(takes=read(281, 282, 281, at=20)), [])
    assert board.now == () and board.next_shot == "Shoot 3 of the archer's own arrow."
