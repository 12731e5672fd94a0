"""The twisted bundle against a numeric arc length, and its limits."""

from math import pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from bowcore.bow.bundle import Bundle, effective_radius_in
from bowcore.errors import BadInput, OutOfRange


def numeric_arc_length(bundle: Bundle) -> float:
    """Length of one helix, integrated without the closed form."""
    turn = 2 * pi * bundle.twists / bundle.length_in
    radius = bundle.effective_radius_in

    def speed(z: float) -> float:
        return float(np.hypot(1.0, radius * turn))

    return float(quad(speed, 0, bundle.length_in)[0])


@given(st.floats(20, 100), st.integers(12, 36), st.floats(0, 1.0))
def test_strand_length_is_the_arc_length_of_its_helix(length, strands, per_inch):
    bundle = Bundle(length, strands, per_inch * length)
    assert bundle.strand_length_in == pytest.approx(numeric_arc_length(bundle), rel=1e-9)


@given(st.floats(20, 100), st.integers(12, 36), st.floats(0.1, 1.0), st.integers(1, 8))
def test_more_twist_is_shorter_and_the_more_there_is_the_more_it_does(
    length, strands, per_inch, half_twists
):
    bundle = Bundle(length, strands, per_inch * length)
    first = bundle.shortening_in(half_twists)
    assert first > 0
    tighter = Bundle(bundle.length_at_in(bundle.twists + 4), strands, bundle.twists + 4)
    assert tighter.shortening_in(half_twists) > first


@pytest.mark.parametrize(
    ("per_inch", "inches"), [(0.3, 0.008), (0.5, 0.013), (0.7, 0.018), (0.9, 0.024)]
)
def test_half_a_twist_in_24_strands(per_inch, inches):
    # figures of an independent calculation in the project's design notes
    bundle = Bundle(36, 24, 36 * per_inch)
    assert bundle.shortening_in(1) == pytest.approx(inches, abs=0.001)


@pytest.mark.parametrize(("strands", "radius"), [(20, 0.033), (24, 0.036), (28, 0.039)])
def test_effective_radius(strands, radius):
    assert effective_radius_in(strands) == pytest.approx(radius, abs=0.0005)


def test_twist_in_and_out_comes_back():
    bundle = Bundle(34.875, 24, 21)
    shorter = Bundle(bundle.length_at_in(23), 24, 23)
    assert shorter.length_at_in(21) == pytest.approx(34.875, abs=1e-12)


@pytest.mark.parametrize(
    "wrong",
    [(0, 24, 0), (float("nan"), 24, 0), (36, 0, 0), (36, 24, -1), (36, 24, 100), (-5, 24, 1)],
)
def test_impossible_bundles_are_refused(wrong):
    with pytest.raises(OutOfRange):
        Bundle(*wrong)


def test_untwisting_past_straight_is_refused():
    with pytest.raises(BadInput):
        Bundle(36, 24, 1).length_at_in(-0.5)
