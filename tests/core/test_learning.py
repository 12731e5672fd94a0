"""Learning: the filter against batch least squares, the gate, pooling, history."""

import json

import numpy as np
import pytest
from statsmodels.tsa.statespace.kalman_filter import KalmanFilter

from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.specification import Family
from bowcore.deciding.problem import PlanKind, TuningPolicy, problem_after
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.deciding.words import say_plan
from bowcore.errors import BadInput
from bowcore.learning.belief import UNKNOWN, Belief
from bowcore.learning.history import Read, Replaced, Turned, learn
from bowcore.learning.pooling import pool
from bowcore.learning.prior import prior_belief
from bowcore.learning.stored_belief import belief_from_json, belief_to_json
from bowcore.measurement.bands import around
from tests.core.bows import answered, read

PRIOR = prior_belief(*answered(Family.BINARY))
SIGMA = 0.005


def gap_response(belief: Belief, key="cable_a"):
    return belief.response().per_step("stop_gap", key)


def test_one_reading_and_its_uncertainty():
    belief = PRIOR.observe("stop_gap", 0.05, SIGMA)
    value, sigma = belief.readings()["stop_gap"]
    assert (value, sigma) == (pytest.approx(0.05, abs=1e-6), pytest.approx(SIGMA, rel=1e-3))


def scalar(mean, covariance):
    """A belief of one number and one cable's response to it, nothing left out."""
    zeros = np.zeros((3, 3))
    zeros[:2, :2] = covariance
    return Belief(
        ("draw_length",), PRIOR.adjusters[:1], np.array([[*mean, 0.0]]), zeros[None],
        np.ones(1), process_share=0.0,
    )  # fmt: skip


@pytest.fixture
def quiet(monkeypatch):
    """Parts that seat alike each time, and no surprise: the plain linear case."""
    monkeypatch.setattr("bowcore.learning.belief.SEATING_SHARE", 0.0)
    monkeypatch.setattr("bowcore.learning.belief.SURPRISED", 1e9)


def test_the_filter_is_batch_least_squares(quiet):
    """Scalar case, one adjuster, no process noise: NumPy's normal equations are the authority."""
    steps = [1, 2, -1]
    readings = [0.010, 0.034, 0.070, 0.052]
    sigma = 0.003
    belief = scalar([0.0, 0.02], np.diag([UNKNOWN**2, 0.008**2]))
    belief = belief.observe("draw_length", readings[0], sigma)
    for count, value in zip(steps, readings[1:], strict=True):
        belief = belief.change({"cable_a": count}).observe("draw_length", value, sigma)
    total = np.cumsum([0, *steps])
    left = np.stack([np.ones(4), total], axis=1) / sigma
    left = np.vstack([left, [1 / UNKNOWN, 0], [0, 1 / 0.008]])
    right = np.array([*(np.array(readings) / sigma), 0, 0.02 / 0.008])
    exact = np.linalg.lstsq(left, right, rcond=None)[0]
    assert belief.mean[0, 1] == pytest.approx(exact[1], rel=1e-6)
    assert belief.mean[0, 0] == pytest.approx(exact[0] + exact[1] * total[-1], rel=1e-6)


def test_one_pass_is_statsmodels_kalman_filter(quiet):
    """Two numbers, two parts, correlated responses, what a change leaves out included: statsmodels'
    Kalman filter (a general library) must end with the same state and covariance."""
    rng = np.random.default_rng(4)
    root = rng.normal(size=(6, 6)) * np.array([3, 3, 0.02, 0.02, 0.02, 0.02])[:, None]
    covariance, mean = root @ root.T, np.array([33.0, 29.0, -0.004, -0.005, 0.004, 0.006])
    whole = np.zeros((8, 8))
    whole[:6, :6] = covariance
    names = ("axle_to_axle", "draw_length")
    belief = Belief(
        names, PRIOR.adjusters[:2], np.array([[*mean, 0, 0]]), whole[None], np.ones(1),
        process_share=0.2,
    )  # fmt: skip
    turns = [(0, 0), (3, -1), (-2, 4), (1, 1)]
    reads = rng.normal([33, 29], 0.1, size=(4, 2))
    noise = np.array([0.02, 0.03])
    model = KalmanFilter(k_endog=2, k_states=6, initialization="known", constant=mean,
                         stationary_cov=covariance)  # fmt: skip
    model.bind(reads)
    model["design"], model["selection"] = np.eye(2, 6), np.eye(6)
    model["obs_cov"] = np.diag(noise**2)
    model["transition"], model["state_cov"] = np.zeros((6, 6, 4)), np.zeros((6, 6, 4))
    for at, (turned, read_then) in enumerate(zip(turns, reads, strict=True)):
        steps = dict(zip(("cable_a", "cable_b"), turned, strict=True))
        if any(turned):
            move = np.eye(6)
            move[0, 2:4] = move[1, 4:6] = turned
            model["transition", :, :, at - 1] = move
            left_out = (belief.mean[0, 2:6].reshape(2, 2) * turned) ** 2
            model["state_cov", :2, :2, at - 1] = np.diag(0.2**2 * left_out.sum(axis=1))
        belief = belief.change(steps)
        for name, value, sigma in zip(names, read_then, noise, strict=True):
            belief = belief.observe(name, float(value), sigma)
    model["transition", :, :, 3] = np.eye(6)
    found = model.filter()
    assert belief.mean[0, :6] == pytest.approx(found.filtered_state[:, -1], rel=1e-6, abs=1e-8)
    assert belief.covariance[0, :6, :6] == pytest.approx(
        found.filtered_state_cov[:, :, -1], rel=1e-5, abs=1e-9
    )


def test_a_response_of_the_wrong_size_is_learned():
    true = 1.6 * gap_response(PRIOR)
    events, gap = [read("stop_gap", -0.12, SIGMA)], -0.12
    for count in (2, 2):
        gap += true * count
        events += [Turned(Steps({"cable_a": count})), read("stop_gap", gap, SIGMA)]
    known = learn(PRIOR, events)
    assert 1.3 < gap_response(known.belief) / gap_response(PRIOR) < 1.65
    assert gap_response(known.belief, "cable_b") < gap_response(PRIOR, "cable_b")  # they are alike
    assert len(known.lessons) == 2
    assert known.lessons[0].innovations[0].quantity == "stop_gap"
    assert known.belief.basis() == "the book and 2 changes of this bow"


def test_one_absurd_reading_teaches_nothing_and_a_second_like_it_is_believed():
    events = [
        read("stop_gap", 0.0, SIGMA),
        Turned(Steps({"cable_a": 1})),
        read("stop_gap", 1.2, SIGMA),
    ]
    known = learn(PRIOR, events)
    assert len(known.odd) == 1
    assert gap_response(known.belief) == pytest.approx(gap_response(PRIOR))
    twice = learn(PRIOR, [*events, read("stop_gap", 1.199, SIGMA)])
    assert twice.belief.readings()["stop_gap"][0] == pytest.approx(1.199, abs=0.03)
    assert gap_response(twice.belief) > 10 * gap_response(PRIOR)  # two that agree are a fact


def test_a_value_misread_before_any_change_teaches_no_response():
    events = [read("stop_gap", value, SIGMA) for value in (0.0, 0.4, 0.401)]
    known = learn(PRIOR, events)
    assert gap_response(known.belief) == pytest.approx(gap_response(PRIOR))
    assert known.belief.readings()["stop_gap"][0] > 0.2


def test_a_replaced_part_opens_the_numbers_and_keeps_the_response():
    events = [
        read("stop_gap", 0.0, SIGMA),
        Turned(Steps({"cable_a": 2})),
        read("stop_gap", 0.08, SIGMA),
    ]
    before = learn(PRIOR, events)
    after = learn(PRIOR, [*events, Replaced("cable_a")])
    assert "stop_gap" not in after.belief.readings()
    assert gap_response(after.belief) == pytest.approx(gap_response(before.belief))
    assert after.spent["cable_a"] == 0 and before.spent["cable_a"] == 2


@pytest.mark.parametrize(("value", "sigma"), [(float("nan"), 0.1), (1.0, 0.0), (1.0, -1)])
def test_readings_that_are_none_are_refused(value, sigma):
    with pytest.raises(BadInput):
        PRIOR.observe("stop_gap", value, sigma)


def test_unknown_quantities_and_adjusters_are_refused():
    with pytest.raises(BadInput):
        PRIOR.observe("colour", 1, 1)
    with pytest.raises(BadInput):
        PRIOR.change({"hammer": 1})


def taught(factor, count=3):
    """A finished bow whose gap answers `factor` times as strongly as the prior says."""
    step, gap = factor * gap_response(PRIOR), 0.0
    events = [read("stop_gap", gap, SIGMA)]
    for _ in range(count):
        gap += 2 * step
        events += [Turned(Steps({"cable_a": 2})), read("stop_gap", gap, SIGMA)]
    return learn(PRIOR, events).belief


def test_bows_of_a_model_teach_the_next_one_and_narrow_it():
    pooled = pool(PRIOR, [taught(1.3), taught(1.25), taught(1.35)])
    assert gap_response(PRIOR) * 1.1 < gap_response(pooled.belief) < gap_response(PRIOR) * 1.35
    column = PRIOR.response().column("cable_a")
    row = PRIOR.quantities.index("stop_gap")
    assert pooled.belief.response().sigma[row, column] < PRIOR.response().sigma[row, column]
    assert pooled.belief.basis() == "the book and 3 other bows of the model"


def test_one_absurd_bow_is_left_out_and_said_so():
    far = taught(1.0)
    far.mean[:, len(far.quantities) :] *= 40
    pooled = pool(PRIOR, [taught(1.1), far])
    assert pooled.left_out == (1,)
    assert pooled.jobs == 1
    assert gap_response(pool(PRIOR, []).belief) == pytest.approx(gap_response(PRIOR))


BANDS = {"stop_gap": around(0, 1 / 32, "school", "")}


def planned(events, bands=None, policy=None):
    known = learn(PRIOR, events)
    return find_plan(
        problem_after(known, bands or BANDS, policy or TuningPolicy(), {"limb_bolts": (0, 0)})
    )


def test_an_unsure_number_is_read_again_and_a_sure_one_accepted():
    edge = planned([read("stop_gap", 0.029, SIGMA)])
    assert edge.kind is PlanKind.READ_AGAIN
    assert edge.read_again == "stop_gap"
    middle = planned([read("stop_gap", 0.002, SIGMA)])
    assert middle.kind is PlanKind.LEAVE
    assert middle.best.chance >= 0.9


def test_a_gap_read_three_times_at_1_32_is_left_alone_and_says_its_chance():
    # 1/32 in is fine: common practice, no published source
    once = [Read("stop_gap", (1 / 32,))]
    assert planned(once).best.steps == NO_STEPS
    known = learn(PRIOR, [Read("stop_gap", (1 / 32,) * 5)])
    problem = problem_after(known, BANDS, TuningPolicy(), {"limb_bolts": (0, 0)})
    plan = find_plan(problem)
    assert plan.kind is PlanKind.LEAVE
    assert "about 5 in ten" in say_plan(problem, plan)
    assert any("near the edge of its band" in line for line in say_why(problem, plan))


def test_what_is_outside_by_less_than_its_doubt_is_read_again_before_the_press():
    hair = [Read("stop_gap", (3 / 64, 1 / 32))]
    known = learn(PRIOR, hair)
    problem = problem_after(known, BANDS, TuningPolicy(), {"limb_bolts": (0, 0)})
    plan = find_plan(problem)
    assert plan.kind is PlanKind.READ_AGAIN and plan.read_again == "stop_gap"
    assert any("less than the doubt of one reading" in line for line in say_why(problem, plan))
    far = planned([Read("stop_gap", (5 / 64, 5 / 64))])
    assert far.kind is PlanKind.CHANGE


def test_before_many_half_twists_one_reading_is_read_twice():
    once = [read("stop_gap", -0.2, SIGMA)]
    known = learn(PRIOR, once)
    problem = problem_after(known, BANDS, TuningPolicy(), {"limb_bolts": (0, 0)})
    plan = find_plan(problem)
    assert plan.kind is PlanKind.READ_AGAIN
    assert any("one reading only" in line for line in say_why(problem, plan))
    assert planned([*once, read("stop_gap", -0.2, SIGMA)]).kind is PlanKind.CHANGE


def test_dead_even_is_not_finished_where_the_school_wants_the_top_first():
    from bowcore.stages.back_to_spec.targets import Tolerances, gap_band
    from tests.core.bows import book

    lead = gap_band(book(Family.HYBRID), Tolerances(top_first_in=1 / 16))
    assert not lead.judge(0).inside
    assert lead.judge(-1 / 16).inside  # the top stop touches while the bottom one is open
    assert (
        gap_band(book(Family.BINARY), Tolerances(top_first_in=1 / 16)).judge(0).inside
    )  # hybrids only


def test_a_school_that_leaves_a_part_alone_is_obeyed():
    plan = planned([read("stop_gap", -0.08, SIGMA)], policy=TuningPolicy(leave=("cable_a",)))
    assert plan.best.steps
    for option in (plan.best, *plan.alternatives):
        assert "cable_a" not in dict(option.steps)


def test_a_school_that_keeps_the_length_turns_one_in_and_the_other_out():
    bands = BANDS | {"axle_to_axle": around(33, 1 / 8, "book", "")}
    events = [read("stop_gap", -0.08, SIGMA), read("axle_to_axle", 33.0, 0.02)]
    steps = dict(planned(events, bands, TuningPolicy(keep_length=True)).best.steps)
    assert steps["cable_a"] > 0 > steps["cable_b"]


def test_limb_bolts_need_no_press_and_stop_at_the_makers_limit():
    bands = {"peak_weight": around(60, 1, "customer", "")}
    known = learn(PRIOR, [read("peak_weight", 65, 0.2)])
    far = find_plan(problem_after(known, bands, TuningPolicy(), {"limb_bolts": (0, 8)}))
    assert dict(far.best.steps).keys() == {"limb_bolts"}
    assert far.best.presses == 0
    near = problem_after(known, bands, TuningPolicy(), {"limb_bolts": (0, 1)})
    assert max(near.steps_of("limb_bolts")) == 1
    assert dict(find_plan(near).best.steps).get("limb_bolts", 0) <= 1


def test_a_doubted_reading_is_asked_for_again_and_says_what_it_read():
    events = [
        read("stop_gap", 0.0, SIGMA),
        Turned(Steps({"cable_a": 1})),
        read("stop_gap", 1.2, SIGMA),
    ]
    problem = problem_after(learn(PRIOR, events), BANDS, TuningPolicy(), {})
    plan = find_plan(problem)
    assert plan.kind is PlanKind.READ_AGAIN
    assert say_plan(problem, plan) == "Read this again first: cam timing."
    assert "Unexpected: it read top 1 13/64 open" in say_why(problem, plan)[0]
    takes = [*events, read("stop_gap", 0.03, SIGMA), read("stop_gap", 1.2, SIGMA)]
    for last, value in ((1.2, 1.2), (0.03, 0.03)):  # a fourth take decides, whichever it is
        done = learn(PRIOR, [*takes, read("stop_gap", last, SIGMA)])
        assert done.belief.readings()["stop_gap"][0] == pytest.approx(value, abs=0.05)
        assert done.takes["stop_gap"] >= 2 and not done.disbelieved


def test_a_prior_is_kept_and_read_back():
    back = belief_from_json(json.loads(json.dumps(belief_to_json(PRIOR))))
    assert np.array_equal(back.covariance, PRIOR.covariance)
    assert back.adjusters == PRIOR.adjusters
    with pytest.raises(BadInput):
        belief_from_json({"mean": []})
