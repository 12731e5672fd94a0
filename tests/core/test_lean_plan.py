"""Lean and timing in one answer: yoke legs, shims and spacers beside cables."""

import pytest

from bowcore.measurement.bands import around
from bowcore.mechanics.sensitivity import ensemble, handles, twin_response
from bowcore.mechanics.specification import Family
from bowcore.mechanics.twin import build_twin
from bowcore.planning.history import Read, Turned, learn
from bowcore.planning.prior import prior_belief
from bowcore.planning.problem import Kind, School
from bowcore.planning.solver import solve
from bowcore.planning.words import say_plan
from tests.core.bows import book

HYBRID = book(Family.HYBRID, yokes=("cable_b",))
YOKE = prior_belief(*twin_response(build_twin(HYBRID), handles(HYBRID), ensemble(HYBRID, count=8)))
BINARY = book(Family.BINARY, shim_in=0.03, spacer_in=0.125)
SHIMS = prior_belief(*twin_response(build_twin(BINARY), handles(BINARY), ensemble(BINARY, count=8)))
BANDS = {"stop_gap": around(0, 1 / 32, "school", ""), "lean": around(0, 0.125, "book", "")}


def planned(prior, gap, lean, school=None, **limits):
    events = [Read("stop_gap", gap, 0.005), Read("lean", lean, 0.04)]
    problem = learn(prior, events).problem(BANDS, school or School(), limits)
    return problem, solve(problem)


def test_both_legs_alike_move_timing_and_opposite_ones_lean_alone():
    # common practice, no published source
    response = YOKE.response()
    left, right = (response.per_step("stop_gap", f"cable_b.{side}") for side in ("left", "right"))
    assert left == pytest.approx(right)
    assert left + right == pytest.approx(2 * left) and abs(left) > 0
    assert response.per_step("lean", "cable_b.left") == -response.per_step("lean", "cable_b.right")
    assert response.per_step("lean", "cable_a") == 0


def test_a_lean_alone_is_split_between_the_legs_and_timing_stays():
    _, plan = planned(YOKE, 0.0, 0.45)
    assert plan.kind is Kind.CHANGE
    steps = dict(plan.best.steps)
    assert steps.get("cable_b.right", 0) > 0 or steps.get("cable_b.left", 0) < 0
    assert abs(plan.best.predicted["stop_gap"][0]) <= 1 / 32
    assert abs(plan.best.predicted["lean"][0]) < 0.125


def test_lean_and_timing_are_solved_in_one_answer():
    problem, plan = planned(YOKE, -0.08, 0.4)
    assert plan.kind is Kind.CHANGE
    assert plan.best.presses == 1
    assert abs(plan.best.predicted["stop_gap"][0]) <= 1 / 32
    assert "leg" in say_plan(problem, plan)


def test_the_first_trial_teaches_how_strongly_a_leg_works():
    before = YOKE.response().per_step("lean", "cable_b.left")
    events = [
        Read("lean", 0.6, 0.03),
        Turned({"cable_b.right": 2}),
        Read("lean", 0.6 - 6 * before, 0.03),
    ]
    after = learn(YOKE, events).belief.response()
    assert after.per_step("lean", "cable_b.right") < 1.5 * -before  # stronger, still to the left
    assert after.per_step("lean", "cable_b.left") > 1.5 * before  # one stiffness for both


def test_a_yokeless_bow_is_shimmed():
    problem, plan = planned(SHIMS, 0.0, 0.18)
    assert dict(plan.best.steps).keys() == {"shim"}
    assert "shim" in say_plan(problem, plan)


def test_spacers_finish_where_half_twists_are_forbidden():
    """A spacer does a part of a half twist, in the same direction, at most two on a cable."""
    response = SHIMS.response()
    one = response.per_step("stop_gap", "cable_a.spacer")
    assert 0 < one < response.per_step("stop_gap", "cable_a")
    problem, _ = planned(SHIMS, -0.05, 0.0, School(half_twists=False))
    assert problem.steps_of("cable_a.spacer") == [1, 2]
    assert all(n % 2 == 0 for n in problem.steps_of("cable_a"))


def test_limb_bolts_are_left_where_the_makers_limit_is_not_known():
    problem, _ = planned(SHIMS, -0.05, 0.0)
    assert problem.steps_of("limb_bolts") == []


def test_a_low_nock_is_raised_without_a_press_and_leaves_the_timing():
    spec = book(Family.BINARY, nock_step_in=1 / 16)
    response, spread = twin_response(build_twin(spec), handles(spec), ensemble(spec, count=6))
    prior = prior_belief(response, spread)
    assert response.per_step("nock_height", "nock_point") == pytest.approx(1 / 16)
    events = [Read("nock_height", -0.125, 0.02), Read("stop_gap", 0.0, 0.005)]
    bands = {"nock_height": around(0, 1 / 16, "school", ""), "stop_gap": BANDS["stop_gap"]}
    problem = learn(prior, events).problem(bands, School(), {})
    plan = solve(problem)
    assert plan.best.steps == (("nock_point", 2),)
    assert plan.best.presses == 0
    assert say_plan(problem, plan) == "Nock point: 2 steps up. No press."
