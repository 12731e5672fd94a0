"""The peep: turned by half twists at the string's ends, its height carried to another bow."""

from math import cos, radians, tan

import numpy as np
import pytest

from bowcore.accessories.at_the_nock import StringAngles
from bowcore.accessories.peep import (
    NEAR_ENOUGH_DEG,
    best_of_each_kind,
    plan_turn,
    share_from_top,
    sight_shift_in,
    transferred,
    turned_deg,
)
from bowcore.adjusters.peep_pair import PeepPair
from bowcore.bow.lay import Lay
from bowcore.bow.specification import Family
from tests.core.bows import book, twin_of


def ribbon(share, bottom_deg, top_deg, links=200):
    """A ribbon of equal torsion springs, its ends held at these angles: where it has turned at a share from
    its top, by solving for all links."""
    stiff = 2 * np.eye(links - 1) - np.eye(links - 1, k=1) - np.eye(links - 1, k=-1)
    held = np.zeros(links - 1)
    held[0], held[-1] = top_deg, bottom_deg
    angles = np.linalg.solve(stiff, held)
    return np.interp(share, np.arange(1, links) / links, angles)


@pytest.mark.parametrize("bottom, top", [(1, 0), (0, 1), (1, -1), (-2, 1), (3, -2)])
@pytest.mark.parametrize("share", [0.35, 0.42, 0.5])
def test_a_twist_turns_the_peep_as_it_turns_a_ribbon(bottom, top, share):
    """Threads like a Z: in is counter-clockwise looking at the end that is turned. Seen from above, the
    bottom end then turns clockwise, the top end counter-clockwise."""
    seen_from_above = ribbon(share, 180 * bottom, -180 * top)
    assert turned_deg(share, bottom, top, Lay.Z) == pytest.approx(seen_from_above, abs=1e-6)
    assert turned_deg(share, bottom, top, Lay.S) == pytest.approx(-seen_from_above, abs=1e-6)


def test_in_at_the_bottom_and_out_at_the_top_is_half_a_turn_wherever_the_peep_sits():
    for share in (0.2, 0.41, 0.7):
        assert turned_deg(share, 1, -1, Lay.Z) == pytest.approx(180)
    assert PeepPair.of(Lay.Z).clockwise_min == 30
    assert PeepPair.of(Lay.S).clockwise_min == -30


@pytest.mark.parametrize("wanted", range(-180, 181, 15))
@pytest.mark.parametrize("share", [0.38, 0.41, 0.44])
def test_every_angle_is_brought_to_the_eye(share, wanted):
    best = plan_turn(share, wanted, Lay.Z)[0]
    assert abs(best.left_deg) <= NEAR_ENOUGH_DEG
    turns = (wanted - best.turned_deg - best.left_deg) / 360
    assert turns == pytest.approx(round(turns))


def test_half_a_turn_takes_a_pair_and_a_quarter_turn_half_a_twist():
    assert (plan_turn(0.41, 180, Lay.Z)[0].bottom, plan_turn(0.41, 180, Lay.Z)[0].top) in [
        (1, -1),
        (-1, 1),
    ]
    quarter = plan_turn(0.41, 75, Lay.Z)[0]
    assert (quarter.bottom, quarter.top, quarter.net) == (1, 0, 1)
    assert plan_turn(0.41, 5, Lay.Z)[0].hands == 0


def test_the_alternatives_change_the_length_by_other_amounts():
    found = best_of_each_kind(plan_turn(0.41, 100, Lay.Z))
    assert len({one.net for one in found}) == len(found) == 3


def test_where_the_peep_sits():
    spec = book(Family.BINARY)
    share = share_from_top(twin_of(Family.BINARY), 5.0)
    assert share == pytest.approx(0.5 - 5.0 / spec.part("string").length_in, abs=1e-3)


def test_a_height_is_carried_to_another_angle_before_the_same_eye():
    """The peep keeps its height above the nock at anchor: checked by placing both in the plane."""
    before, now = StringAngles(radians(48), radians(48)), StringAngles(radians(54), radians(54))
    found = transferred(5.0, before, now, 0.03, angle_sigma_deg=1.0)
    assert found.nock_to_peep_in * cos(now.upper) == pytest.approx(5.0 * cos(before.upper))
    assert found.nock_to_peep_in > 5.0
    moved = found.nock_to_peep_in * (tan(radians(54 + 0.5)) - tan(radians(54 - 0.5)))
    assert found.sigma_in > 0.03 and found.sigma_in < 0.03 * 2 + moved
    same = transferred(5.0, before, before, 0.03)
    assert (same.nock_to_peep_in, same.nearer_in) == (pytest.approx(5.0), pytest.approx(0.0))


def test_a_low_peep_shoots_low():
    """Similar triangles: e (D - R) / R, R from peep to pin; 1/8 in at 20 yd is about 2 7/8 in."""
    assert sight_shift_in(-0.125, 720, 30) == pytest.approx(-2.875)
