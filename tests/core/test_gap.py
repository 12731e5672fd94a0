"""The stop gap far from the middle: plausible bows' curves, and what a bow's own log makes of them."""

from dataclasses import replace

import numpy as np
import pytest

from bowcore.adjusters.steps import Steps
from bowcore.adjusters.string_or_cable import StringOrCable
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import Family
from bowcore.bow.twin import Changes, build_twin
from bowcore.deciding.problem import Plan, PlanKind, TuningPolicy, problem_after
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.deciding.weighing import Weighing, weigh
from bowcore.learning.history import Turned, learn
from bowcore.learning.prior import first_stop_effect_of, prior_belief, prior_of_twins
from bowcore.learning.stored_belief import belief_from_json, belief_to_json
from bowcore.measurement.bands import around
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.response.gap_curve import GapCurves, gap_curves
from bowcore.response.matrix import Response
from tests.core.bows import TWO_CAMS, read, twin_of

TWIN = twin_of(Family.TWIN)
OTHERS = ensemble(TWIN.spec, count=6)
CURVES = gap_curves([TWIN, *OTHERS])
PRIOR = prior_of_twins(TWIN, OTHERS)


def straight(*slopes):
    """Invented bows whose gap follows the cable in a straight line."""
    at = np.linspace(-0.5, 0.5, 11)
    return GapCurves(at, np.array(slopes)[:, None] * at)


def half_twist(inches=0.02, slope=2.0):
    return Response(
        ("stop_gap",), (StringOrCable("cable_a", "Top cable", "cable_a", length_step_in=inches),),
        np.array([[inches * slope]]), np.array([[0.0]]), "the book",
    )  # fmt: skip


@pytest.mark.parametrize("shorter", [-0.2, -0.06, 0.03, 0.15])
def test_the_curve_is_the_twins_own_gap(shorter):
    changed = TWIN.changed(Changes({"cable_a": shorter}))
    assert CURVES.gaps(np.full(len(CURVES.gap_in), shorter))[0] == pytest.approx(
        changed.measures()["stop_gap"], abs=0.02
    )


@pytest.mark.parametrize("family", list(Family))
def test_every_familys_curve_passes_the_middle_and_never_turns_back(family):
    curves = gap_curves([twin_of(family)])
    middle = int(np.abs(curves.shorter_in).argmin())
    assert curves.gap_in[0, middle] == pytest.approx(0, abs=1e-6)
    assert len(set(np.sign(np.diff(curves.gap_in[0])))) == 1


def test_a_twin_cam_answers_less_far_from_the_middle():
    near = CURVES.lengths(0.2)[0] - CURVES.lengths(0.0)[0]
    far = CURVES.lengths(1.4)[0] - CURVES.lengths(1.2)[0]
    assert far > 1.5 * near


def test_lengths_undo_gaps():
    for shorter in (-0.31, 0.0, 0.07, 0.7):
        there = CURVES.gaps(np.full(len(CURVES.gap_in), shorter))
        back = [CURVES.lengths(gap)[i] for i, gap in enumerate(there)]
        assert back == pytest.approx([shorter] * len(back), abs=1e-9)


def belief_of(curves):
    return prior_belief(half_twist(), np.zeros((0, 1, 1)), curves=curves)


def slope_towards(known, aim=0.0):
    return known.belief.gap_slope({"stop_gap": around(aim, 1 / 32, "", "")})


def test_on_straight_bows_the_slope_is_the_mean_of_theirs():
    known = learn(belief_of(straight(2.0, 2.2, 1.8)), [read("stop_gap", 0.3, 0.004)])
    assert slope_towards(known) == pytest.approx(2.0, rel=0.02)
    spread = float(known.belief.bend().spreads(np.array([-0.3]))[0])
    assert spread > 0.07 * 0.3


def test_a_bow_that_answers_half_as_much_is_believed():
    log = [
        read("stop_gap", 0.0, 0.004),
        Turned(Steps({"cable_a": 10})),
        read("stop_gap", 0.2, 0.004),
    ]
    prior = belief_of(straight(2.0, 2.2, 1.8))
    taught, naive = (learn(prior, events).belief.response() for events in (log, log[:1]))
    assert abs(taught.per_step("stop_gap", "cable_a")) == pytest.approx(0.02, rel=0.25)
    assert taught.sigma[0, 0] < naive.sigma[0, 0]


def test_the_log_tells_which_bow_it_is():
    """Two shapes, one log that only the second explains without stretching."""
    at = np.linspace(-0.5, 0.5, 41)
    bends = GapCurves(at, np.stack([2.0 * at, 2.0 * np.tanh(3 * at) / 3]))
    truth = 2 * np.tanh(3 * np.array([0.4, 0.2])) / 3
    log = [read("stop_gap", truth[0], 0.004), Turned(Steps({"cable_a": -10})),
           read("stop_gap", truth[1], 0.004)]  # fmt: skip
    known = learn(belief_of(bends), log)
    assert known.belief.weights[1] > 0.8
    assert slope_towards(known) == pytest.approx(truth[1] / 0.2, rel=0.12)


def test_parts_of_one_bow_share_what_a_weight_shows():
    """A cable whose half twists do more for the weight does more for the timing too."""
    prior = prior_of_twins(twin_of(Family.BINARY), [])
    twice = 1.4 * prior.response().per_step("peak_weight", "cable_a")
    log = [read("peak_weight", 60.0, 0.1), read("stop_gap", 0.0, 0.004),
           Turned(Steps({"cable_a": 6})), read("peak_weight", 60 + 6 * twice, 0.1)]  # fmt: skip
    response = learn(prior, log).belief.response()
    rise = [response.per_step("stop_gap", key) / prior.response().per_step("stop_gap", key)
            for key in ("cable_a", "cable_b")]  # fmt: skip
    assert rise[0] > 1.05
    assert rise[0] > rise[1] > 0.98


def test_a_plan_takes_the_slope_on_its_way():
    """Far out a twin's gap answers less than in the middle: a short way there needs more twists."""
    column = PRIOR.response().column("cable_a")
    row = PRIOR.quantities.index("stop_gap")
    slopes = {}
    for aim in (-1.3, -0.7, 0.0):
        aims = {"stop_gap": around(aim, 1 / 32, "school", "")}
        known = learn(PRIOR, [read("stop_gap", -1.4, 0.006, takes=3)])
        slopes[aim] = problem_after(known, aims, TuningPolicy(), {}).response.mean[row, column]
    assert 0 < slopes[-1.3] < slopes[-0.7] < slopes[0.0]


def test_what_is_expected_after_a_change_follows_the_curve():
    far = [read("stop_gap", -1.4, 0.006, takes=3)]
    known = learn(PRIOR, far)
    straight_on = -1.4 + 8 * known.belief.response().per_step("stop_gap", "cable_a")
    expected = learn(PRIOR, [*far, Turned(Steps({"cable_a": 8}))]).belief.expected("stop_gap")[0]
    problem = problem_after(known, {"stop_gap": around(0, 1 / 32, "", "")}, TuningPolicy(), {})
    planned = weigh(problem, Steps({"cable_a": 8})).predicted["stop_gap"][0]
    assert planned == pytest.approx(expected, abs=0.05)
    assert abs(expected - straight_on) > 0.1


def test_far_out_a_twin_goes_part_of_the_way_first_and_then_the_rest():
    """Straight at 0 through the steep middle lands on the other side (found on simulated bows)."""
    aims = {"stop_gap": around(0, 1 / 32, "", "")}
    first = [read("stop_gap", -1.0, 0.009, takes=2)]
    problem = problem_after(learn(PRIOR, first), aims, TuningPolicy(), {})
    plan = find_plan(problem)
    assert plan.part_way
    assert -0.6 < plan.best.predicted["stop_gap"][0] < -0.1
    assert any("part of the way" in line for line in say_why(problem, plan))
    then = [*first, Turned(plan.best.steps), read("stop_gap", -0.5, 0.009, takes=2)]
    after = find_plan(problem_after(learn(PRIOR, then), aims, TuningPolicy(), {}))
    assert not after.part_way
    near = [read("stop_gap", -0.2, 0.009, takes=2)]
    assert not find_plan(problem_after(learn(PRIOR, near), aims, TuningPolicy(), {})).part_way


def test_curves_survive_being_stored():
    back = belief_from_json(belief_to_json(PRIOR))
    assert back.curves is not None
    assert np.array_equal(back.curves.gap_in, PRIOR.curves.gap_in)
    assert belief_from_json(belief_to_json(replace(PRIOR, curves=None))).curves is None


@pytest.mark.parametrize("family", TWO_CAMS)
def test_what_is_read_at_the_first_stop_falls_off_to_both_sides(family):
    """Whichever stop is ahead holds the bow short of its valley (common practice, no published
    source); the twin itself is the measure of by how much."""
    twin = twin_of(family)
    for name, slope in first_stop_effect_of(twin).items():
        assert slope > 0
        for inches in (-0.004, 0.004):
            apart = twin.changed(Changes({"cable_a": inches})).measures()
            other = twin.changed(Changes({"cable_a": -inches})).measures()
            level = (apart[name] + other[name]) / 2 + slope * abs(apart["stop_gap"])
            assert level == pytest.approx(twin.measures()[name], abs=0.08), name


def test_a_plan_that_closes_the_gap_brings_holding_weight_up():
    twin = twin_of(Family.BINARY)
    prior = prior_of_twins(twin, [])
    off = twin.changed(Changes({"cable_a": -0.05}))
    seen = off.measures()
    names = ("stop_gap", "holding_weight", "draw_length", "peak_weight")
    known = learn(
        prior, [read(name, seen[name], QUANTITIES[name].precision.sigma) for name in names]
    )
    step = twin.spec.part("cable_a").bundle().shortening_in(1)
    after = off.changed(Changes({"cable_a": 3 * step})).measures()
    bands = {name: around(after[name], 5.0, "", "") for name in names}
    option = weigh(problem_after(known, bands, TuningPolicy(), {}), {"cable_a": 3})
    assert after["holding_weight"] > seen["holding_weight"] + 0.3
    assert option.predicted["holding_weight"][0] == pytest.approx(after["holding_weight"], abs=0.15)
    assert option.predicted["draw_length"][0] == pytest.approx(after["draw_length"], abs=0.02)
    known.turn(Steps({"cable_a": 3}))  # and the estimator expects the same
    value = known.belief.readings()["holding_weight"][0]
    assert value == pytest.approx(after["holding_weight"], abs=0.15)


@pytest.mark.parametrize("seed", range(6))
def test_a_grid_weighs_each_row_as_it_is_weighed_alone(seed):
    """Whole grids as arrays and one change by itself must say the same, kinks and flips included."""
    rng = np.random.default_rng(seed)
    prior = prior_of_twins(twin_of(Family.BINARY), [])
    names = prior.quantities[:6]
    reads = [read(n, float(twin_of(Family.BINARY).measures()[n] + 0.05 * rng.normal()), 0.02)
             for n in names]  # fmt: skip
    bands = {n: around(twin_of(Family.BINARY).measures()[n], 0.08, "", "") for n in names}
    problem = problem_after(learn(prior, reads), bands, TuningPolicy(), {"limb_bolts": (-2, 2)})
    weights = Weighing(problem)
    for keys in (("cable_a",), ("cable_a", "cable_b"), ("cable_b", "limb_bolts", "string")):
        best = weights.best(weights.grid(keys))
        alone = weigh(problem, best.steps)
        assert best.chance == pytest.approx(alone.chance, abs=1e-6)
        assert best.off_middle == pytest.approx(alone.off_middle)
        assert best.outside == pytest.approx(alone.outside, abs=1e-9)
        assert (best.reaches, best.left, best.flips_stop, best.effort) == (
            alone.reaches, alone.left, alone.flips_stop, alone.effort)  # fmt: skip


def test_a_hybrid_is_offered_the_one_part_way_with_its_consequence():
    """The top ahead with the bottom 1/2 in open: the buss cable out, or both its legs together, brings
    the timing home; the weight pays for it (common practice, no published source)."""
    twin = twin_of(Family.HYBRID)
    spec = replace(twin.spec, yokes=("cable_b",))
    prior = prior_of_twins(build_twin(spec), [])
    numbers = twin.measures() | {"stop_gap": -0.5}
    names = ("axle_to_axle", "brace_height", "peak_weight", "stop_gap")
    known = learn(prior, [read(name, numbers[name], 0.01, 3) for name in names])
    bands = {name: around(twin.measures()[name], width, "book", "")
             for name, width in zip(names, (1 / 8, 1 / 8, 1.0, 1 / 32), strict=True)}  # fmt: skip
    lean = {f"cable_b.{side}": (0, 0) for side in ("left", "right")}
    problem = problem_after(known, bands, TuningPolicy(), lean, 24)
    plan = find_plan(problem)
    alone = [one for one in plan.alternatives if dict(one.steps).keys() == {"cable_b"}]
    assert alone and alone[0].steps["cable_b"] < 0
    assert abs(alone[0].predicted["stop_gap"][0]) < 1 / 32
    said = say_why(problem, Plan(PlanKind.CHANGE, alone[0]))
    assert any("both yoke legs by the same amount" in line for line in said)
