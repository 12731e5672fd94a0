"""The whole fit against simulated bows with hidden misfits, and its moves against trying them all."""

from dataclasses import replace

import numpy as np
import pytest
from bench.fit_loop import MOST_ACTS, Bench, by_advice, by_rule_of_thumb

from bowcore.adjusters.steps import Steps
from bowcore.learning.one_rate import Rate, ShownStep, learned_rate
from bowcore.measurement.bands import around
from bowcore.mechanics.lay import Lay
from bowcore.mechanics.specification import Family
from bowcore.planning.fit_moves import FitQuestion, plan_moves
from bowcore.workflow.fit_advice import fit_acts, fit_advice

SEEDS = range(6)


@pytest.mark.parametrize("family", Family)
def test_who_follows_the_advice_has_a_fitted_bow(family):
    for seed in SEEDS:
        bench = Bench.with_new_string(family, seed)
        by_advice(bench)
        assert bench.acts < MOST_ACTS
        left = fit_advice(bench.as_fitted()).acts
        assert all(act.leaves for act in left)
        on_purpose = {key for act in left for key in act.sets}
        assert set(bench.truly_outside(hair=1.0)) <= on_purpose


def test_the_advice_takes_fewer_acts_than_a_rule_of_thumb():
    acts = {}
    for way in (by_advice, by_rule_of_thumb):
        benches = [Bench.with_new_string(Family.HYBRID, seed) for seed in SEEDS]
        for one in benches:
            way(one)
        acts[way] = sum(one.acts for one in benches)
    assert acts[by_advice] < acts[by_rule_of_thumb]


def test_every_act_says_why_what_it_does_and_how_sure():
    bench = Bench.with_new_string(Family.TWIN, 8)
    bench.read_what_is_asked()
    advice = fit_advice(bench.as_fitted())
    assert advice.acts
    for act in advice.acts:
        assert act.do and act.why and act.sure and act.expect
        assert bool(act.steps) + (act.change is not None) + act.leaves + bool(act.asks) == 1
    assert {"arrow_level", "nock_gap", "cord_up"} <= set(advice.shown)


def test_nobody_turns_a_peep_before_its_lay_is_known():
    bench = Bench.with_new_string(Family.BINARY, 3)
    bench.read_what_is_asked()
    unknown = replace(bench.as_fitted(), lay=None)
    act = next(a for a in fit_acts(unknown) if a.sets == ("peep_turn",))
    assert act.asks == "lay_string" and not act.steps and not act.leaves


def test_threads_that_run_the_other_way_are_turned_the_other_way():
    bench = Bench.with_new_string(Family.BINARY, 3)
    bench.read_what_is_asked()
    like_z, like_s = (
        next(a for a in fit_acts(replace(bench.as_fitted(), lay=lay)) if a.sets == ("peep_turn",))
        for lay in Lay
    )
    assert like_z.steps == -like_s.steps and like_z.steps


def test_level_and_height_are_set_with_the_fewest_acts():
    rates = {
        "nock_point": {"nock_height": Rate(1 / 32, 0.005), "arrow_level": Rate(1 / 32, 0.005)},
        "rest_up": {"arrow_level": Rate(-1 / 32, 0.003)},
    }
    limits = {"nock_point": (-8, 8), "rest_up": (-12, 12)}
    bands = {
        "nock_height": around(0, 1 / 16, "baseline", ""),
        "arrow_level": around(1 / 16, 1 / 16, "policy", ""),
    }

    def moves(height, level):
        readings = {"nock_height": (height, 0.02), "arrow_level": (level, 0.02)}
        return plan_moves(FitQuestion(readings, bands, rates, limits)).best

    assert moves(0.0, 0.0625).steps == Steps()
    assert set(moves(0.0, 0.25).steps) == {"rest_up"}
    assert set(moves(0.1875, 0.25).steps) == {"nock_point"}
    both = moves(0.25, 0.0)
    assert set(both.steps) == {"nock_point", "rest_up"} and both.inside


def test_a_slot_without_room_is_not_used():
    rates = {"rest_up": {"arrow_level": Rate(-1 / 32, 0.003)}}
    bands = {"arrow_level": around(1 / 16, 1 / 16, "policy", "")}
    question = FitQuestion({"arrow_level": (0.3, 0.02)}, bands, rates, {"rest_up": (0, 2)})
    assert not plan_moves(question).best.inside


def test_a_step_is_learned_from_trials_as_least_squares_would():
    trials = [ShownStep(2, 0.05, 0.02), ShownStep(-3, -0.12, 0.02), ShownStep(1, 0.04, 0.02)]
    found = learned_rate(Rate(1 / 32, 0.01), trials)
    rows = np.array([[1 / 0.01], *[[t.steps / t.sigma] for t in trials]])
    seen = np.array([(1 / 32) / 0.01, *[t.moved / t.sigma for t in trials]])
    mean = np.linalg.lstsq(rows, seen, rcond=None)[0][0]
    assert found.mean == pytest.approx(mean) and found.trials == 3
    assert found.sigma == pytest.approx(np.linalg.inv(rows.T @ rows)[0, 0] ** 0.5)
