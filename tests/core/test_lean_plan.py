"""Lean and timing in one answer: yoke legs, shims and spacers beside cables."""

from dataclasses import replace

import numpy as np
import pytest

from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.spacer import how_to_place
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import Family
from bowcore.bow.twin import build_twin
from bowcore.deciding.problem import PlanKind, TuningPolicy, problem_after
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan, shim_flip
from bowcore.deciding.weighing import weigh
from bowcore.deciding.words import say_acts, say_heading, say_option, say_plan
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.learning.history import Turned, learn
from bowcore.learning.pooling import pool
from bowcore.learning.prior import prior_belief
from bowcore.measurement.bands import around
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.response.sensitivity import twin_response
from tests.core.bows import KITS, book, read

HYBRID = book(Family.HYBRID, yokes=("cable_b",))
YOKE = prior_belief(
    *twin_response(build_twin(HYBRID), adjusters_of(HYBRID), ensemble(HYBRID, count=8))
)
BINARY = book(Family.BINARY, shim_kits=KITS, spacers_in=(1 / 16, 1 / 8, 3 / 16, 1 / 4))
SHIMS = prior_belief(
    *twin_response(build_twin(BINARY), adjusters_of(BINARY), ensemble(BINARY, count=8))
)
BANDS = {"stop_gap": around(0, 1 / 32, "school", ""), "lean": around(0, 0.125, "book", "")}


def planned(prior, gap, lean, policy=None, **limits):
    events = [read("stop_gap", gap, 0.005), read("lean", lean, 0.04)]
    problem = problem_after(learn(prior, events), BANDS, policy or TuningPolicy(), limits)
    return problem, find_plan(problem)


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
    assert plan.kind is PlanKind.CHANGE
    steps = dict(plan.best.steps)
    legs = steps.get("cable_b.right", 0) - steps.get("cable_b.left", 0)
    assert legs > 0  # the right leg becomes the shorter one (common practice)
    assert abs(plan.best.predicted["stop_gap"][0]) <= 1 / 32
    assert abs(plan.best.predicted["lean"][0]) < 0.125


def test_lean_and_timing_are_solved_in_one_answer():
    problem, plan = planned(YOKE, -0.08, 0.4)
    assert plan.kind is PlanKind.CHANGE
    assert plan.best.presses == 1
    assert abs(plan.best.predicted["stop_gap"][0]) <= 1 / 32
    assert any("leg" in act.label.lower() for act in say_acts(problem, plan.best))
    assert "leg" in say_plan(problem, plan)  # the whole of it, also on the command line
    assert "changes, one press" in say_heading(problem, plan)


def test_the_first_trial_teaches_how_strongly_a_leg_works():
    before = YOKE.response().per_step("lean", "cable_b.left")
    events = [
        read("lean", 0.6, 0.03),
        Turned(Steps({"cable_b.right": 2})),
        read("lean", 0.6 - 6 * before, 0.03),
    ]
    after = learn(YOKE, events).belief.response()
    assert after.per_step("lean", "cable_b.right") < 1.5 * -before  # stronger, still to the left
    assert after.per_step("lean", "cable_b.left") > 1.5 * before  # one stiffness for both


def test_what_another_bow_has_shown_leaves_nought_at_nought():
    """A spacer's answer and a bolt's differ by many powers of ten; pooling must not mix them up."""
    events = [
        read("stop_gap", -0.08, 0.005),
        Turned(Steps({"cable_a": 3})),
        read("stop_gap", 0.0, 0.005),
    ]
    pooled = pool(SHIMS, [learn(SHIMS, events).belief]).belief.response()
    before = SHIMS.response()
    sure = before.sigma == 0
    assert (pooled.mean[sure] == before.mean[sure]).all() and not pooled.sigma[sure].any()
    assert (pooled.sigma <= 1.01 * before.sigma).all()
    off = np.abs(pooled.mean - before.mean) / np.where(before.sigma, before.sigma, 1.0)
    assert off.max() < 1.0


def test_a_yokeless_bow_is_shimmed():
    problem, plan = planned(SHIMS, 0.0, 0.18)
    assert dict(plan.best.steps).keys() == {"shim_top"}
    assert dict(plan.best.steps)["shim_top"] < 0  # the cam goes to the right, the shaft to the left
    assert say_plan(problem, plan).startswith("Shims, top cam: left 0.1")
    assert any("is not known on this bow yet" in line for line in say_why(problem, plan))
    assert any("Top cam first" in line for line in say_why(problem, plan))


def test_the_thick_kit_waits_until_the_thin_one_runs_out():
    # common practice, no published source
    problem, _ = planned(SHIMS, 0.0, 0.18)
    thin, thick = problem.effort("shim_top", -40), problem.effort("shim_top", -120)
    assert thin < thick
    assert problem.steps_of("shim_top") == [-120, -80, -40, -20, 20, 40, 80, 120]


def test_shims_that_are_in_count():
    """From the outermost thin shims on the left only the other ways are left to go."""
    problem, _ = planned(SHIMS, 0.0, 0.0)
    there = replace(problem, spent={"shim_top": 40})
    assert there.steps_of("shim_top") == [-160, -120, -80, -60, -40, -20, 40, 80]
    steps = Steps({"shim_top": -40})
    assert say_option(there, weigh(there, steps)) == (
        "Shims, top cam: left 0.125, right 0.125 (thin). One press."
    )


def test_a_lean_that_flips_between_two_shims_is_finished_with_the_rest():
    """Stay at the nearer shim and use the rest, by up to 1/16 (common practice, no published
    source)."""
    problem, _ = planned(SHIMS, 0.0, 0.14)
    stiff = replace(problem.response, mean=problem.response.mean * 20)
    coarse = replace(problem, response=stiff, blocks=None)
    narrow = {"lean": around(0, 1 / 64, "book", "")}
    plan = find_plan(
        replace(
            coarse,
            bands=narrow,
            takes={},
            policy=TuningPolicy(leave=("cable_a", "cable_b", "string")),
        )
    )
    assert plan.kind is PlanKind.UNREACHABLE and plan.flip is not None
    low, high = sorted(plan.flip.leaves)
    assert low < 0 < high and abs(plan.flip.leaves[0]) <= abs(plan.flip.leaves[1])
    assert "finish with the rest, by up to 1/16 in" in say_plan(coarse, plan)
    assert shim_flip(problem) is None


def test_when_nothing_reaches_what_is_inside_is_left_alone_and_it_ends():
    """The cable, then the thin kit, then the thick one; the next plan does nothing: no turning about for
    noise."""
    events = [read("stop_gap", -0.1, 0.005, 2), read("lean", 0.9, 0.04, 2)]

    def planned_now():
        problem = problem_after(learn(SHIMS, events), BANDS, TuningPolicy(), {})
        return problem, find_plan(problem)

    _, first = planned_now()
    assert set(first.best.steps) == {"cable_a"} and first.best.steps["cable_a"] > 0
    assert first.later == ("lean",)
    for step, lean in ((first.best.steps, 0.9), (None, 0.75), (None, 0.5)):
        steps = step or planned_now()[1].best.steps
        assert step or set(steps) == {"shim_top"}
        events += [Turned(steps), read("stop_gap", 0.02, 0.005, 2), read("lean", lean, 0.04, 2)]
    problem, again = planned_now()
    assert problem.spent["shim_top"] == -120
    assert again.kind is PlanKind.UNREACHABLE and again.best.steps == NO_STEPS
    assert any("bent axle" in line for line in say_why(problem, again))


def test_legs_of_the_bottom_yoke_tilt_the_bottom_cam():
    """What the top cam takes up ends in a yoke on the bottom axle (common practice)."""
    spec = book(Family.TWIN, yokes=("cable_a", "cable_b"))
    response, _ = twin_response(build_twin(spec), adjusters_of(spec), ensemble(spec, count=4))
    assert (
        response.per_step("lean", "cable_a.left") == 0 < response.per_step("lean", "cable_b.left")
    )
    assert response.per_step("lean_bottom", "cable_a.left") > 0
    assert response.per_step("lean_bottom", "cable_b.left") == 0


def test_spacers_finish_where_half_twists_are_forbidden():
    """A spacer does a part of a half twist, in the same direction, at most two alike on a cable."""
    problem, _ = planned(SHIMS, -0.05, 0.0, TuningPolicy(half_twists=False))
    sizes = problem.adjuster("cable_a.spacer").positions
    assert [one.words for one in sizes][:3] == [
        "no spacer", "one 1/16 in spacer", "two 1/16 in spacers"]  # fmt: skip
    one = sizes[1].total * problem.response.per_step("stop_gap", "cable_a.spacer")
    assert 0 < one < problem.response.per_step("stop_gap", "cable_a")
    assert problem.steps_of("cable_a.spacer") == [position.total for position in sizes[1:]]
    assert all(n % 2 == 0 for n in problem.steps_of("cable_a"))


def test_where_half_a_twist_would_flip_the_stops_a_spacer_does_it():
    # common practice, no published source: near nought a spacer instead of half a twist
    spec = book(Family.TWIN, spacers_in=(1 / 16, 1 / 8, 3 / 16, 1 / 4))
    prior = prior_belief(
        *twin_response(build_twin(spec), adjusters_of(spec), ensemble(spec, count=8))
    )
    half = prior.response().per_step("stop_gap", "cable_a")
    events = [read("stop_gap", -0.45 * half, 0.005, 2)]
    bands = {"stop_gap": around(0, 1 / 64, "school", "")}
    problem = problem_after(learn(prior, events), bands, TuningPolicy(), {})
    plan = find_plan(problem)
    assert [key for key, _ in plan.best.steps.items()] == ["cable_a.spacer"]
    assert not plan.best.flips_stop
    assert "in spacer" in say_plan(problem, plan)


def test_without_spacers_the_flip_is_told():
    # common practice, no published source: if half a twist flips which stop is first, stop
    spec = book(Family.TWIN)
    prior = prior_belief(
        *twin_response(build_twin(spec), adjusters_of(spec), ensemble(spec, count=8))
    )
    half = prior.response().per_step("stop_gap", "cable_a")
    events = [read("stop_gap", -0.45 * half, 0.005, 2)]
    bands = {"stop_gap": around(0, 1 / 128, "school", "")}
    problem = problem_after(learn(prior, events), bands, TuningPolicy(leave=("string",)), {})
    plan = find_plan(problem)
    assert plan.kind is PlanKind.UNREACHABLE
    assert any("the other stop touches first" in line for line in say_why(problem, plan))


def test_a_cable_with_an_odd_strand_has_no_halves_for_a_spacer():
    odd = [replace(part, strands=23) for part in BINARY.parts]
    keys = {one.key for one in adjusters_of(replace(BINARY, parts=tuple(odd)))}
    assert not any(key.endswith(".spacer") for key in keys)


def test_how_a_spacer_goes_in_is_said_with_the_strands_counted():
    said = how_to_place(BINARY.part("cable_a"))
    half = BINARY.part("cable_a").strands // 2
    assert f"into {half} and {half}" in said[0] and "one twist" in said[1]


def test_one_bolt_alone_is_turned_for_a_tiller_that_is_out():
    response, spread = twin_response(
        build_twin(BINARY), adjusters_of(BINARY), ensemble(BINARY, count=8)
    )
    prior = prior_belief(response, spread)
    events = [read("tiller", 0.12, 0.01), read("stop_gap", 0.0, 0.005)]
    bands = {"tiller": around(0, 1 / 16, "baseline", ""), "stop_gap": BANDS["stop_gap"]}
    open_bolts = {"bolt_top": (-4, 4), "bolt_bottom": (-4, 4)}
    plan = find_plan(problem_after(learn(prior, events), bands, TuningPolicy(), open_bolts))
    assert dict(plan.best.steps) in ({"bolt_top": -2}, {"bolt_bottom": 2}, {"bolt_top": -3},
                                     {"bolt_bottom": 3}, {"bolt_top": -4}, {"bolt_bottom": 4})  # fmt: skip
    assert plan.best.presses == 0


def test_limb_bolts_are_left_where_the_makers_limit_is_not_known():
    problem, _ = planned(SHIMS, -0.05, 0.0)
    assert problem.steps_of("limb_bolts") == []


def test_a_low_nock_is_raised_without_a_press_and_leaves_the_timing():
    spec = book(Family.BINARY, nock_step_in=1 / 16)
    response, spread = twin_response(build_twin(spec), adjusters_of(spec), ensemble(spec, count=6))
    prior = prior_belief(response, spread)
    assert response.per_step("nock_height", "nock_point") == pytest.approx(1 / 16)
    events = [read("nock_height", -0.125, 0.02), read("stop_gap", 0.0, 0.005)]
    bands = {"nock_height": around(0, 1 / 16, "school", ""), "stop_gap": BANDS["stop_gap"]}
    problem = problem_after(learn(prior, events), bands, TuningPolicy(), {})
    plan = find_plan(problem)
    assert plan.best.steps == Steps({"nock_point": 2})
    assert plan.best.presses == 0
    assert say_plan(problem, plan) == "Nock point: 1/8 in up. No press."


def test_one_leg_in_and_one_out_asks_for_lean_tear_and_timing_only():
    """Legs opposite by the same amount are lean alone; together they are a cable (common practice)."""
    takes = tuple(Take(n, name, 1.0) for n, name in enumerate(QUANTITIES, 1))

    def stale(*steps):
        legs = zip(("cable_b.left", "cable_b.right"), steps, strict=True)
        made = tuple(LedgerEntry(99, Change.YOKE_LEG, key, "cable_b", n) for key, n in legs)
        known = Facts(Family.HYBRID, (), takes=takes, changes=made)
        return {name for name in QUANTITIES if not known.current(name).fresh}

    opposite, alike = stale(1, -1), stale(1, 1)
    assert {"lean", "tear_side", "tear_up", "stop_gap"} <= opposite < alike
    assert not {"axle_to_axle", "peak_weight", "brace_height", "draw_length"} & opposite
    assert "axle_to_axle" in stale(2, -1)
