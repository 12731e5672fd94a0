"""Repeats, bands and freshness."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from bowcore.evidence.entry_check import outside_limits
from bowcore.learning.takes import believed
from bowcore.measurement.bands import Band, BandSide, around
from bowcore.measurement.freshness import ChangeMade, stale_after, stale_since
from bowcore.measurement.normal import normal_cdf
from bowcore.measurement.repeats import (
    MAD_TO_SIGMA,
    OUTLIER_SIGMAS,
    smaller_than_scatter,
    summarise,
)
from bowcore.quantities.catalogue import QUANTITIES, say_gap
from bowcore.quantities.changes import Change
from bowcore.quantities.entries import keypad_for, read_entry
from bowcore.quantities.inches import parse_inches
from bowcore.quantities.precision import Precision
from bowcore.response.sensitivity import COMPUTED
from tests.core.bows import twin_of

TAKES = st.lists(st.floats(10, 90), min_size=1, max_size=9)

SCALE = Precision(0.35)


@given(TAKES)
def test_outliers_are_those_of_the_modified_z_score(takes):
    # scipy's median_abs_deviation is the outside authority; sigma never below the tool's
    mad = stats.median_abs_deviation(takes, scale=1 / MAD_TO_SIGMA)
    limit = OUTLIER_SIGMAS * max(mad, 0.35)
    middle = float(stats.scoreatpercentile(takes, 50))
    expected = tuple(i for i, take in enumerate(takes) if abs(take - middle) > limit)
    assert summarise(takes, SCALE).outliers == expected


@given(st.lists(st.floats(53, 54), min_size=3, max_size=9))
def test_without_outliers_it_is_scipys_mean(takes):
    summary = summarise(takes, SCALE)
    assert summary.value == pytest.approx(stats.tmean(takes))
    assert summary.sigma == pytest.approx(max(stats.tstd(takes), 0.35) / len(takes) ** 0.5)


def test_an_absurd_take_is_flagged_and_does_not_move_the_value():
    summary = summarise([54.1, 53.9, 61.0], SCALE)
    assert summary.outliers == (2,)
    assert summary.value == pytest.approx(54.0)
    assert summary.takes == 3


@pytest.mark.parametrize("takes", [[], [float("nan")]])
def test_no_takes_is_no_reading(takes):
    with pytest.raises(BadInput):
        summarise(takes, SCALE)


@given(st.floats(-8, 8))
def test_normal_distribution_against_scipy(z):
    """The series' own bound on its error is 1.5e-7 (Abramowitz and Stegun 7.1.26)."""
    assert normal_cdf(z) == pytest.approx(stats.norm.cdf(z), abs=1.5e-7)
    assert normal_cdf(np.array([z, 0.0]))[0] == pytest.approx(normal_cdf(z), rel=1e-12)


def test_verdicts():
    # +-1/8 in on axle to axle: common practice, no published source
    band = around(33, QUANTITIES["axle_to_axle"].tolerance, "book", "")
    assert band.judge(33.125).side is BandSide.INSIDE
    assert band.judge(32.8).side is BandSide.LOW
    assert band.judge(33.25).by == pytest.approx(0.125)
    assert Band(0, 1, 0.5).chance_inside(0.5, 0) == 1.0


def test_every_quantity_can_become_stale_and_every_change_makes_something_stale():
    assert all(one.stale_after for one in QUANTITIES.values())
    assert all(stale_after(change) for change in Change)


def test_what_the_twin_computes_is_what_the_catalogue_says():
    twin = twin_of(Family.BINARY)
    marked = {key for key, one in QUANTITIES.items() if one.computed}
    assert set(COMPUTED) == marked == set(twin.measures())
    assert all(one.model_doubt > 0 for one in QUANTITIES.values() if one.computed)


def test_a_change_smaller_than_its_own_scatter_proves_nothing():
    before, near = summarise([54.0, 54.2, 54.1], SCALE), summarise([54.4, 54.3, 54.2], SCALE)
    far = summarise([56.0, 56.1, 55.9], SCALE)
    assert smaller_than_scatter(before, near)
    assert not smaller_than_scatter(before, far)


@pytest.mark.parametrize(
    ("change", "stale", "fresh"),
    [
        # the trade's table of what a change makes stale: common practice, no published source
        ("cable", "stop_gap", "nock_to_peep"),
        ("string", "brace_height", "nock_to_peep"),
        ("limb_bolt", "peak_weight", "nock_to_peep"),
        ("limb_bolt", "stop_gap", "nock_to_kisser"),
        ("limb_bolt", "draw_length", "loop_length"),
        ("limb_bolt", "lean", "nock_to_peep"),
        ("module_or_stop", "holding_weight", "axle_to_axle"),
        ("peep", "nock_to_peep", "brace_height"),
        ("rest", "centre_shot", "peak_weight"),
        ("opposite_legs", "lean", "axle_to_axle"),
        ("opposite_legs", "stop_gap", "peak_weight"),
        ("opposite_legs", "tear_side", "draw_length"),
    ],
)
def test_what_a_change_makes_stale(change, stale, fresh):
    events = [ChangeMade(5, Change(change))]
    assert stale_since(stale, 4, events) == events[0]
    assert stale_since(stale, 6, events) is None
    assert stale_since(fresh, 4, events) is None


@pytest.mark.parametrize(
    ("first", "text", "value"),
    [("top", "3/64", -3 / 64), ("bottom", "1/16", 1 / 16), ("both", "", 0)],
)
def test_the_gap_is_positive_when_the_top_cam_is_late(first, text, value):
    # the bottom stop touches first, so the bottom cam is ahead: common practice
    assert float(read_entry(QUANTITIES["stop_gap"], text, first).value) == value


@pytest.mark.parametrize(("first", "text"), [("", "3/64"), ("both", "1/64"), ("top", "0")])
def test_a_gap_that_contradicts_itself_is_refused(first, text):
    with pytest.raises(BadInput):
        read_entry(QUANTITIES["stop_gap"], text, first)


def test_a_gap_is_said_in_words_never_with_a_bare_sign():
    assert say_gap(3 / 64) == "top 3/64 open"
    assert say_gap(-1 / 32) == "bottom 1/32 open"
    assert say_gap(0.001) == "both together"


def test_a_value_no_bow_shows_is_doubted_not_swallowed():
    assert outside_limits(QUANTITIES["axle_to_axle"], 330.0)
    assert not outside_limits(QUANTITIES["axle_to_axle"], 33.0)


@pytest.mark.parametrize("name", ["axle_to_axle", "peak_weight", "stop_gap", "nock_to_peep"])
def test_every_key_of_a_keypad_can_be_read(name):
    quantity = QUANTITIES[name]
    pad = keypad_for(quantity, 33.0)
    for part in pad.parts:
        if quantity.unit == "in":
            assert parse_inches(part).value % quantity.tool.division == 0
    if pad.wholes:
        assert "33" in pad.wholes


def test_what_the_division_leaves_open_does_not_average_out_where_nothing_scatters():
    """GUM (JCGM 100:2008) 4.2.3, 4.3.7, F.2.2.1, from memory: u = sqrt(s^2 + division^2 / 12) for one
    reading; a case with a rule of 1/64 in and s = 0.012 in, computed by hand."""
    rule = Precision(0.012, (1 / 64) / 12**0.5)
    assert rule.of_mean(1) == pytest.approx(0.012820, abs=1e-6)
    still = Precision(0.0, rule.resolution)
    assert still.of_mean(3) == pytest.approx(still.of_mean(1), rel=0.005)


@pytest.mark.parametrize("scatter", [0.0, 0.1, 0.24, 0.32, 0.5, 0.8])
def test_the_mean_of_readings_in_divisions_is_as_sure_as_said(scatter):
    """Against 100,000 means of three rounded readings, drawn with NumPy; in units of the division."""
    rng = np.random.default_rng(8)
    true = rng.uniform(0, 1, (100_000, 1))
    reads = np.round(true + scatter * rng.standard_normal((100_000, 3)))
    off = (reads.mean(axis=1) - true[:, 0]).std()
    assert Precision(scatter, 1 / 12**0.5).of_mean(3) == pytest.approx(off, rel=0.01)


def test_scatter_is_pooled_over_the_moments_of_a_job():
    """GUM 4.2.4: pooled variance, by SciPy's own standard deviations; a blunder shows no scatter."""
    usual = Precision(0.012)
    groups = [(0.03, 0.05), (-0.02, 0.0, 0.01), (0.04, 0.045)]
    squares = sum(np.var(group, ddof=1) * (len(group) - 1) for group in groups)
    freedom = sum(len(group) - 1 for group in groups)
    expected = ((6 * 0.012**2 + squares) / (6 + freedom)) ** 0.5
    assert usual.learned(groups).scatter == pytest.approx(expected)
    assert usual.learned([(0.03, 0.05), (0.5, 0.0)]).scatter == pytest.approx(
        usual.learned([(0.03, 0.05)]).scatter
    )
    assert usual.learned([]).scatter == pytest.approx(0.012)


@pytest.mark.parametrize(
    ("takes", "expected", "kept", "odd"),
    [
        ((33.0,), 33.05, (33.0,), ()),
        ((34.0,), 33.0, (), (34.0,)),
        ((34.0, 34.02), 33.0, (34.0, 34.02), ()),
        ((34.0, 33.02), 33.0, (33.02,), (34.0,)),
        ((34.0, 35.0), 33.0, (), (34.0, 35.0)),
        ((34.0, 35.0, 33.5), 33.0, (34.0, 33.5), (35.0,)),
    ],
)
def test_which_takes_are_believed(takes, expected, kept, odd):
    """One far off waits for a second; two that agree are a fact; after three the bench has spoken."""
    found = believed(takes, Precision(0.02), expected, 0.05)
    assert set(found.takes) == set(kept) and set(found.odd) == set(odd)


@pytest.mark.parametrize(
    ("takes", "usual", "kept"),
    [
        ((34.0, 33.75), 1, ()),
        ((34.0, 33.75), 2, ()),
        ((34.0, 33.75, 33.98), 1, (34.0, 33.98)),
        ((34.0, 33.75, 33.5), 3, ()),
        ((34.0, 33.99, 33.5), 3, (34.0, 33.99)),
        ((34.0, 33.75, 33.5, 33.52, 33.1), 3, (33.5, 33.52)),
    ],
)
def test_where_little_is_expected_another_take_decides(takes, usual, kept):
    """Two that disagree are a coin's toss where nothing says which is near: neither is believed yet."""
    found = believed(takes, Precision(0.02), 33.6, 0.5, usual=usual)
    assert set(found.takes) == set(kept)


def test_two_slips_alike_are_not_believed_against_what_was_expected():
    """Three takes of a weight, two off by four pounds the same way: a fourth is asked for; it decides."""
    takes = (64.1, 60.0, 64.3)
    assert believed(takes, Precision(0.35), 60.0, 1.0, usual=3).takes == ()
    fourth = believed((*takes, 60.2), Precision(0.35), 60.0, 1.0, usual=3)
    assert fourth.takes == (60.0, 60.2) and set(fourth.odd) == {64.1, 64.3}


GUM_4_4_3 = [
    96.90, 98.18, 98.25, 98.61, 99.03, 99.49, 99.56, 99.74, 99.89, 100.07,
    100.33, 100.42, 100.68, 100.95, 101.11, 101.20, 101.57, 101.84, 102.36, 102.72,
]  # fmt: skip
"""Twenty temperatures, table 1 of JCGM 100:2008 (from memory; their mean and deviation are printed
there as 100.145 and 1.489)."""


def test_repeats_of_the_gums_own_example():
    """Its worked example 4.4.3: mean 100.14, experimental standard uncertainty of the mean 0.333."""
    summary = summarise(GUM_4_4_3, Precision(0.01))
    assert summary.value == pytest.approx(100.145)
    assert summary.sigma == pytest.approx(0.333, abs=5e-4)
    assert not summary.outliers
