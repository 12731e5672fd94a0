"""The cam by caliper: what three radii say of the timing, and what they do for a plan."""

from dataclasses import replace

import numpy as np
import pytest

from bowcore.bow.cam_radii import CamRadii
from bowcore.bow.plausible import ensemble
from bowcore.bow.specification import Family
from bowcore.bow.twin import Changes, build_twin
from bowcore.errors import BadInput
from bowcore.learning.prior import prior_of_twins
from bowcore.quantities.units import LengthUnit, lengths_in
from bowcore.simulation.simulated_bow import Faults, simulated_bow
from bowcore.stages.back_to_spec.by_caliper import unlikely_radii
from tests.core.bows import book, rng_of, twin_of

TRACKED = (Family.BINARY, Family.HYBRID)
WIDE = 1.5
SHORT_IN = 0.02


def gap_per_inch(twin):
    """How far a shorter bottom cable moves the gap. [in/in]"""
    both = [twin.changed(Changes({"cable_b": way * SHORT_IN})).stop_gap_in for way in (-1, 1)]
    return (both[1] - both[0]) / (2 * SHORT_IN)


def hidden(family, seed):
    """A bow unlike its book, and the twin of what is really there."""
    bow = simulated_bow(book(family), seed, Faults(), WIDE)
    return bow, bow._sound  # the hidden bow itself


@pytest.mark.parametrize("seed", range(4))
def test_a_binary_cam_turns_by_the_cable_over_both_radii(seed):
    """Rigid cams on one crossing cable: the other cam turns by its length over the sum of both radii, and
    the peg moves by that angle times its own radius (plane geometry; limbs give way by a few per cent)."""
    bow, twin = hidden(Family.BINARY, seed)
    radii = bow.cam_radii()
    by_hand = radii.peg_in / (radii.take_up_in + radii.let_out_in)
    assert abs(gap_per_inch(twin)) == pytest.approx(by_hand, rel=0.08)


@pytest.mark.parametrize("family", TRACKED)
def test_with_its_radii_the_book_answers_as_the_bow_does(family):
    """Hidden bows: with three radii the book is off by a tenth at most."""
    off = []
    for seed in range(6):
        bow, twin = hidden(family, seed)
        true = gap_per_inch(twin)
        specs = (book(family), bow.cam_radii().on(book(family)))
        off.append([abs(gap_per_inch(build_twin(spec)) / true - 1) for spec in specs])
    by_book, by_caliper = np.array(off).T
    assert by_caliper.max() < 0.1
    assert np.median(by_book) > 2 * np.median(by_caliper)


@pytest.mark.parametrize("family", TRACKED)
def test_what_a_measured_cam_does_to_the_gap_is_believed_more_firmly(family):
    def doubt(spec):
        response = prior_of_twins(build_twin(spec), ensemble(spec, count=8)).response()
        part = [one.key for one in response.adjusters].index("cable_b")
        at = response.quantities.index("stop_gap"), part
        return response.sigma[at] / abs(response.mean[at])

    usual = book(family)
    assert doubt(CamRadii.in_book(usual).on(usual)) < 0.8 * doubt(usual)


@pytest.mark.parametrize("family", [Family.TWIN, Family.SINGLE])
def test_where_no_cable_runs_from_cam_to_cam_there_is_nothing_to_measure(family):
    assert twin_of(family).cam_radii() is None
    usual = book(family)
    assert not CamRadii.in_book(usual).on(usual).cam_measured


def test_a_caliper_reads_each_radius_by_itself_within_its_doubt():
    bow, _ = hidden(Family.HYBRID, 1)
    true = bow.cam_radii()
    read = [bow.by_caliper(rng_of(seed)) for seed in range(200)]
    shares = np.array([[r.peg_in / true.peg_in, r.take_up_in / true.take_up_in] for r in read])
    assert shares.std(axis=0) == pytest.approx([0.02, 0.02], rel=0.25)
    assert abs(np.corrcoef(shares.T)[0, 1]) < 0.25


def test_what_is_twice_the_usual_is_asked_about():
    spec = book(Family.BINARY)
    usual = CamRadii.in_book(spec)
    assert unlikely_radii(replace(usual, peg_in=1.9 * usual.peg_in), spec) == ""
    said = unlikely_radii(replace(usual, let_out_in=0.2), spec)
    assert said == "Let-out arm: 0.200, usual is 0.550. From the axle's centre?"


@pytest.mark.parametrize(
    "wrong", [{"peg_in": 0.1}, {"take_up_in": float("nan")}, {"let_out_in": 30.0}]
)
def test_no_cam_has_such_a_radius(wrong):
    with pytest.raises(BadInput):
        replace(CamRadii(1.5, 0.66, 0.55), **wrong)


def test_the_radii_are_said_in_the_unit_in_use():
    radii = CamRadii(1.46, 0.64, 0.53)
    assert radii.say() == "stop peg 1.460, take-up arm 0.640, let-out arm 0.530 in"
    with lengths_in(LengthUnit.MILLIMETRES):
        assert radii.say() == "stop peg 37.08, take-up arm 16.26, let-out arm 13.46 mm"
