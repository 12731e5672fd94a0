"""Nock, ties, loop, centre shot and arrow: checked by other ways of computing the same, and by facts of the
trade."""

from math import atan2, cos, degrees, radians, sin, tan

import numpy as np
import pytest

from bowcore.accessories.arrow import Arrow, least_mass_gr, too_light
from bowcore.accessories.at_the_nock import gap_needed_in, nock_start, string_angles
from bowcore.accessories.centre_shot import (
    ArrowLine,
    angle_of_offset_deg,
    blade_in,
    offset_of_angle_in,
    points_back_at,
)
from bowcore.accessories.ties import TieMethod, cord_cut, tie_plan
from bowcore.bow.outline import outline
from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from tests.core.bows import TWO_CAMS, twin_of


@pytest.mark.parametrize("family", Family)
def test_the_strings_angles_are_those_of_the_drawn_lines(family):
    twin = twin_of(family)
    ropes = outline(twin, twin.full_draw)["ropes"]
    lines = [np.subtract(end, start) for start, end in [ropes["string_u"][0], ropes["string_l"][0]]]
    found = string_angles(twin)
    assert found.upper == pytest.approx(atan2(lines[0][0], -lines[0][1]), abs=1e-6)
    assert found.lower == pytest.approx(atan2(lines[1][0], lines[1][1]), abs=1e-6)
    assert 60 < found.included_deg < 110


def test_a_sharper_string_wants_more_play_and_a_thinner_tie_less():
    angles = string_angles(twin_of(Family.BINARY))
    usual = gap_needed_in(angles, 0.11, 0.014)
    assert usual > gap_needed_in(angles, 0.11, 0.008)
    assert 1 / 64 < usual < 3 / 32  # common practice, no published source: about 1/32, at most 1/16
    edge = 0.062 * (1 - cos(angles.upper)) / sin(angles.upper)  # the tie's corner, by half angles
    assert usual == pytest.approx(2 * edge, rel=1e-6)


@pytest.mark.parametrize("family", TWO_CAMS)
def test_a_bow_alike_top_and_bottom_carries_its_nock_level(family):
    start = nock_start(twin_of(family))
    like = abs(start.above_rest_in) < 1e-6
    assert like == (family is not Family.HYBRID)


def test_the_nock_starts_so_that_half_of_its_path_is_above_the_rest():
    twin = twin_of(Family.HYBRID)
    xs = np.linspace(twin.brace_height_in, float(twin.full_draw.nock_x[0]), 400)
    heights = twin.at(xs).q[:, 5]
    start = nock_start(twin)
    assert start.above_rest_in == pytest.approx(heights[0] - heights.mean(), abs=2e-4)
    assert start.travel_in == pytest.approx(np.ptp(heights), abs=1e-4)


def test_the_lightest_arrow():
    """5 grains for each pound: rule of thumb of the trade and federations, from memory."""
    assert least_mass_gr(70) == 350  # the rating standard's arrow, from memory: 350 gr at 70 lbf
    assert too_light(350, 70) == ""
    assert "350 grains; at 70.1 lbf the least is 351" in too_light(350, 70.1)
    assert least_mass_gr(60, makers_gr_per_lbf=6) == 360


def test_forward_of_centre():
    """100 (B - L/2) / L from the nock's groove: the trade's standard, from memory."""
    assert Arrow(412, 28, 0.246, balance_in=17.36).forward_of_centre == pytest.approx(0.12)
    assert Arrow(412, 28, 0.246).forward_of_centre is None
    with pytest.raises(BadInput, match="mass of 20 grains"):
        Arrow(20, 28, 0.246)


def test_front_and_back_give_the_arrows_angle():
    arrow = ArrowLine(front=0.875, back=0.75, apart=10)
    assert arrow.angle_deg == pytest.approx(degrees(np.arctan(0.0125)))
    assert arrow.at(5) == pytest.approx(0.8125)
    with pytest.raises(BadInput, match="at least 4 in apart"):
        ArrowLine(0.8, 0.8, 2)


@pytest.mark.parametrize("angle", [-2.0, -0.1, 0.0, 0.7, 3.0])
def test_an_angle_and_an_offset_are_the_same_thing(angle):
    assert offset_of_angle_in(angle, 7) == pytest.approx(7 * tan(radians(angle)))
    assert angle_of_offset_deg(offset_of_angle_in(angle, 7), 7) == pytest.approx(angle)


def test_a_rest_far_off_centre_points_back_at_what_leans_most():
    leans = [("Lean, top", 0.05, 0.125), ("Lean, bottom", -0.4, 0.125)]
    assert points_back_at(0.1, leans) == []
    found = points_back_at(-0.25, leans)
    assert [one.name for one in found] == ["Lean, bottom"]
    assert "1/4 in farther in than it should be" in found[0].why and "13/32" in found[0].why
    assert "Read the lean" in points_back_at(0.25, [])[0].why


def test_blades_by_mass():
    """.008 to 300 grains, .010 to 400, .012 above: common practice, no published source."""
    assert [blade_in(mass) for mass in (300, 400, 450)] == [0.008, 0.010, 0.012]


def test_ties_by_school():
    assert tie_plan(TieMethod.NONE) == ()
    assert [tie.above for tie in tie_plan(TieMethod.BELOW)] == [False]
    below, above = tie_plan(TieMethod.BOTH)
    assert above.thread_in < below.thread_in  # common practice: thinner above keeps the nock level
    assert "above the nock, .014 in thread" in above.words


def test_a_loops_cord_is_learned():
    for finished in (
        0.5,
        0.625,
    ):  # six to seven inches of cord: common practice, no published source
        assert 6 <= cord_cut(finished).length_in <= 7
    tied = [(5.5, 0.5), (5.6, 0.53), (5.4, 0.5)]
    found = cord_cut(0.5625, tied)
    weights = np.array([1 / 0.5**2, *[1 / 0.15**2] * 3])
    more = np.average([5.25, 4.5, 4.54, 4.4], weights=weights)
    assert found.length_in == pytest.approx(2 * 0.5625 + more)
    assert found.sigma_in < cord_cut(0.5625).sigma_in and found.learned_from == 3
