"""The virtual bow, pulling a twin to it, curves, lean and timing at rest."""

from dataclasses import replace
from math import pi, sqrt

import numpy as np
import pytest
from scipy import stats

from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.steps import Steps
from bowcore.bow.bundle import Bundle, effective_radius_in, spacer_shortening_in
from bowcore.bow.lean import degrees_per_leg_step, degrees_per_shim, lean_from_shaft
from bowcore.bow.plausible import plausible
from bowcore.bow.specification import Family
from bowcore.bow.static_timing import GapEstimate, gap_from_rest, settle
from bowcore.bow.twin import Changes, twins_of
from bowcore.errors import BadInput, Refused
from bowcore.response.measured import bows_like_curve, fit_curve, fit_to_readings
from bowcore.response.sensitivity import COMPUTED as QUANTITIES_OF_A_TWIN
from bowcore.response.sensitivity import answers
from bowcore.simulation.simulated_bow import Faults, SimulatedBow, simulated_bow
from tests.core.bows import KITS, TWO_CAMS, book, twin_of

QUIET = Faults(noise=0.0)


def bench(family=Family.BINARY, faults=QUIET, seed=3):
    return SimulatedBow(twin_of(family), faults, np.random.default_rng(seed))


def test_a_sound_bow_reads_its_book_to_the_tools_division():
    bow = bench()
    assert bow.take("axle_to_axle") == 33
    assert bow.take("stop_gap") == 0
    assert bow.take("peak_weight") == pytest.approx(60, abs=0.1)


def test_a_scale_holds_back_on_the_way_in():
    assert bench().take("holding_weight") < 12


def test_the_same_seed_is_the_same_bow_and_another_is_not():
    reads = [
        simulated_bow(book(Family.BINARY), seed, Faults()).take("peak_weight") for seed in (5, 5, 6)
    ]
    assert reads[0] == reads[1] != reads[2]


def test_scatter_is_that_of_the_tool():
    bow = bench(faults=Faults())
    takes = [bow.take("peak_weight") for _ in range(300)]
    # three hundred draws: SciPy's chi-square interval for the standard deviation
    low, high = (299 * 0.35**2 / stats.chi2.ppf(p, 299) for p in (0.9999, 0.0001))
    assert low < np.var(takes, ddof=1) < high


def test_a_short_cable_shows_and_half_twists_out_take_it_back():
    bow = bench(faults=Faults({"cable_a": 0.0311}, noise=0.0))
    assert bow.true("stop_gap") > 0.03
    bow.turn(Steps({"cable_a": -2}))
    assert abs(bow.true("stop_gap")) < 0.005


def test_new_threads_settle_longer_with_shots_and_then_stay():
    bow = bench(faults=Faults(noise=0.0, settles_in={"string": 0.06}))
    fresh = bow.true("brace_height")
    bow.shoot(20)
    some = bow.true("brace_height")
    bow.shoot(200)
    settled = bow.true("brace_height")
    bow.shoot(200)
    assert fresh > some > settled
    assert bow.true("brace_height") == pytest.approx(settled, abs=1e-5)


def test_uneven_limbs_and_nonsense():
    assert bench(faults=Faults(limb_uneven=0.03, noise=0.0)).true("peak_weight") > 0
    with pytest.raises(BadInput):
        bench().take("colour")
    with pytest.raises(BadInput):
        bench().turn(Steps({"cable_z": 1}))
    with pytest.raises(BadInput):
        bench().shoot(-1)


@pytest.mark.parametrize("family", [Family.BINARY, Family.SINGLE])
def test_a_twin_pulled_to_readings_finds_the_hidden_errors(family):
    hidden = {"cable_b": 0.06, "string": -0.05}
    measures = twin_of(family).changed(Changes(hidden)).measures()
    sigma = {"axle_to_axle": 0.005, "brace_height": 0.005, "draw_length": 0.01, "peak_weight": 0.1,
             "holding_weight": 0.1, "stop_gap": 0.003, "force_early": 0.1, "force_late": 0.1,
             "tiller": 0.01}  # fmt: skip
    pulled = fit_to_readings(twin_of(family), {n: (v, sigma[n]) for n, v in measures.items()})
    for role, short in hidden.items():
        value, doubt = pulled.errors[role]
        assert abs(value - short) < 2.5 * doubt
        assert doubt < 0.03
    assert max(abs(left) / sigma[name] for name, left in pulled.residuals.items()) < 1
    with pytest.raises(BadInput):
        fit_to_readings(twin_of(family), {"colour": (1, 1)})


def test_a_measured_curve_is_fitted():
    spec = book(Family.BINARY)
    bow = simulated_bow(spec, 12, QUIET)
    xs, force = bow._sound.curve(25)
    fit = fit_curve(spec, xs[1:], force[1:])
    assert fit.rms_before_lbf > 0.5
    assert fit.rms_after_lbf < 0.25 * fit.rms_before_lbf


@pytest.mark.parametrize("seed", [0, 1, 3])
def test_a_fitted_curve_tells_what_half_a_twist_does_to_the_weight(seed):
    """Insides that a curve shows answer like the bow they came from, the book's do not."""
    spec = book(Family.BINARY)
    cables = [one.trial() for one in adjusters_of(spec)[:2]]
    peak = QUANTITIES_OF_A_TWIN.index("peak_weight")
    other, inside = plausible(spec, np.random.default_rng(seed), 1.5)
    true = twins_of(Family.BINARY, [other], [inside])[0]
    xs, force = true.curve(25)
    like, beside = bows_like_curve(spec, fit_curve(spec, xs[1:], force[1:]), 4)
    truth, by_book, by_curve = (
        answers([twin], cables)[0, peak] for twin in (true, twin_of(Family.BINARY), like)
    )
    assert np.abs(by_curve / truth - 1).max() < 0.08
    assert np.abs(by_curve - truth).max() < np.abs(by_book - truth).max()
    assert len(beside) == 4


@pytest.mark.parametrize(
    "curve",
    [
        ([1, 2, 3], [1, 2, 1]),
        (list(range(8, 18)), [5] * 9 + [float("nan")]),
        (list(range(18, 8, -1)), [1, 2, 3, 4, 5, 6, 5, 4, 3, 2]),
        (list(range(8, 18)), list(range(10))),
    ],
)
def test_a_curve_that_is_none_is_refused(curve):
    with pytest.raises(BadInput):
        fit_curve(book(Family.BINARY), *curve)


def test_lean_from_both_faces_is_averaged_and_their_difference_kept():
    lean = lean_from_shaft([0.5, 0.25], 24)
    assert lean.off_in(24) == pytest.approx(0.375, abs=1e-3)
    assert lean.spread_deg > 0
    for wrong in ([], [1, 2, 3], [30], [float("nan")]):
        with pytest.raises(BadInput):
            lean_from_shaft(wrong)


LEG = Bundle(5, 16, 3)


def test_half_a_twist_in_a_leg_tilts_by_less_than_its_own_shortening_would():
    tilt = degrees_per_leg_step(300, LEG)
    bound = np.degrees(LEG.shortening_in(1) / 1.6)
    assert 0 < tilt < bound
    assert degrees_per_shim(300, 0.03) > 0


def test_both_legs_together_move_timing_opposite_legs_do_not():
    """A leg carries half of its cable's change: common practice, no published source."""
    twin, leg = twin_of(Family.HYBRID), 0.0157
    both = twin.changed(Changes({"cable_b": (leg + leg) / 2})).stop_gap_in
    opposite = twin.changed(Changes({"cable_b": (leg - leg) / 2})).stop_gap_in
    assert abs(both) > 0.02
    assert opposite == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("family", TWO_CAMS)
def test_timing_at_rest_predicts_the_drawn_gap_within_its_doubt(family):
    twin = twin_of(family)
    late = twin.changed(Changes({"cable_a": 0.02}))
    behind = late.rest.alpha[0, 1] - late.rest.alpha[0, 0]
    said = gap_from_rest(twin, "marks", 1.5 * behind, bolts_bottomed=True)
    assert abs(said.gap_in - late.stop_gap_in) < 2 * said.sigma_in


def test_the_drawn_reading_wins_and_loose_bolts_are_refused():
    twin = twin_of(Family.BINARY)
    rest = gap_from_rest(twin, "tip", 1 / 32, bolts_bottomed=True)
    drawn = GapEstimate(0.0, 0.005, "drawn")
    assert settle(drawn, rest) is drawn
    assert settle(None, rest) is rest
    with pytest.raises(BadInput):
        settle(None, None)
    with pytest.raises(Refused, match="Bottom both limb bolts"):
        gap_from_rest(twin, "tip", 1 / 32, bolts_bottomed=False)
    with pytest.raises(Refused, match="single cam"):
        gap_from_rest(twin_of(Family.SINGLE), "tip", 1 / 32, bolts_bottomed=True)
    with pytest.raises(BadInput):
        gap_from_rest(twin, "guess", 0.1, bolts_bottomed=True)


@pytest.mark.parametrize(("diameter", "inches"), [(1 / 16, 0.001), (1 / 8, 0.004), (1 / 4, 0.016)])
def test_a_spacer_shortens_by_a_fraction_of_a_half_twist(diameter, inches):
    # right triangles over one inch of split, worked by hand
    assert spacer_shortening_in(diameter, 1.0) == pytest.approx(inches, abs=5e-4)
    with pytest.raises(BadInput):
        spacer_shortening_in(0.9, 1.0)


def test_both_formulas_of_the_bundle_agree_on_what_half_a_twist_does():
    """Effective-radius helix against the textbook's mean contraction, (1 + sec a) / 2 with a the outer
    strands' angle. Source: Hearle, Grosberg and Backer, 1969 (from memory)."""
    bundle = Bundle(36, 24, 21.6)

    def mean_contraction(twists):
        length = bundle.strand_length_in
        for _ in range(50):
            slope = 2 * pi * sqrt(2) * effective_radius_in(24) * twists / length
            length = bundle.strand_length_in * 2 / (1 + sqrt(1 + slope**2))
        return length

    textbook = mean_contraction(21.6) - mean_contraction(22.1)
    assert bundle.shortening_in(1) == pytest.approx(textbook, rel=0.03)


def test_a_harder_limb_is_heavier():
    soft = twin_of(Family.BINARY)
    machine = replace(soft.machine, stiffness=soft.machine.stiffness * 1.02)
    assert replace(soft, machine=machine).peak_weight_lbf > soft.peak_weight_lbf


def legged(family=Family.HYBRID, faults=QUIET):
    spec = book(family, yokes=("cable_b",), shim_kits=KITS)
    return SimulatedBow(replace(twin_of(family), spec=spec), faults, np.random.default_rng(3))


def test_a_hidden_lean_answers_to_legs():
    bow = legged(faults=Faults(leans_in=0.5, noise=0.0))
    assert bow.take("lean") == 0.5
    gap = bow.true("stop_gap")
    bow.turn(Steps({"cable_b.right": 1, "cable_b.left": -1}))
    assert bow.true("lean") < 0.5
    assert bow.true("stop_gap") == pytest.approx(gap, abs=3e-3)
    bow.turn(Steps({"cable_b.right": 2}))
    assert bow.true("stop_gap") < gap - 0.01


def test_a_cam_moved_to_the_left_is_pulled_over_to_the_left_and_its_shaft_runs_right():
    """Both pulls of the ropes and a shorter left leg bear on the left end of the axle, so both send
    the shaft to the right: each is the cure of the same tear (common practice, no published source)."""
    bow = legged()
    bow.turn(Steps({"shim_top": 20}))
    left = bow.true("lean")
    assert left > 0 and bow.true("lean_bottom") == 0
    bow.turn(Steps({"shim_top": -20, "cable_b.left": 1}))
    assert bow.true("lean") > 0
    bow.turn(Steps({"shim_bottom": -10}))
    assert bow.true("lean_bottom") == pytest.approx(-left / 2)


def test_a_bolt_turned_alone_shows_in_the_tiller():
    """A weaker top limb stands further from the string (common practice, no published source)."""
    bow = bench(Family.BINARY, Faults(noise=0.0))
    before = bow.true("tiller")
    bow.turn(Steps({"bolt_top": 2}))
    assert bow.true("tiller") > before + 1 / 32
    bow.turn(Steps({"bolt_bottom": 2}))
    assert bow.true("tiller") == pytest.approx(before, abs=2e-3)
