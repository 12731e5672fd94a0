"""Differences of two readings, and how many takes make a value."""

import pytest
from scipy.stats import norm

from bowcore.bow.specification import Family
from bowcore.errors import BadInput, Unreadable
from bowcore.evidence.facts import Facts, Take
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.entries import keypad_for, read_both

TILLER = QUANTITIES["tiller"]


def test_tiller_is_the_top_less_the_bottom():
    entry = read_both(TILLER, "7 1/8", "7 1/16")
    assert float(entry.value) == 1 / 16 and entry.raw == "top 7 1/8, bottom 7 1/16"
    assert entry.sigma == pytest.approx(TILLER.precision.sigma * 2**0.5)
    assert TILLER.say(entry.value) == "top 1/16 longer"


def test_a_tip_further_from_its_cable_is_the_later_cam():
    """The tip comes nearer to its cable as a cam turns: common practice, no published source."""
    tips = QUANTITIES["timing_tips"]
    assert tips.say(read_both(tips, "1 3/64", "1").value) == "top 3/64 later"


@pytest.mark.parametrize(
    ("top", "bottom", "says"),
    [
        ("7", "", "at the bottom"),
        ("", "7", "at the top"),
        ("7", "70", "At the bottom"),
        ("x", "7", "x"),
    ],
)
def test_one_reading_is_not_two(top, bottom, says):
    with pytest.raises(BadInput, match=says):
        read_both(TILLER, top, bottom)


def test_other_quantities_are_one_reading():
    with pytest.raises(BadInput, match="one reading"):
        read_both(QUANTITIES["brace_height"], "7", "6")
    with pytest.raises(Unreadable):
        read_both(TILLER, "7 9/8", "7")


def test_keys_are_around_the_readings_and_not_their_difference():
    assert "7" in keypad_for(TILLER).wholes and "1/16" in keypad_for(TILLER).parts


def pulled(*pounds, **more):
    takes = tuple(Take(at, "peak_weight", one) for at, one in enumerate(pounds, 1))
    found = Facts(Family.BINARY, (), takes=takes, **more).current("peak_weight")
    assert found is not None
    return found


def test_two_pulls_that_agree_are_enough_and_two_that_differ_are_not():
    assert pulled(60.1, 60.3).enough
    assert not pulled(60.1, 61.2).enough and pulled(60.1, 61.2, 60.5).enough
    assert not pulled(60.1).enough


def test_two_of_one_thing_agree_in_two_cases_of_three():
    """The difference of two normal readings: checked against SciPy's distribution."""
    sigma = QUANTITIES["peak_weight"].precision.sigma
    within = 2 * norm.cdf(2**0.5 * sigma, scale=2**0.5 * sigma) - 1
    assert within == pytest.approx(0.6827, abs=1e-4)
    assert QUANTITIES["peak_weight"].agreed(2, 2**0.5 * sigma - 1e-9)
    assert not QUANTITIES["peak_weight"].agreed(2, 2**0.5 * sigma + 1e-9)


def test_the_shop_says_how_often_and_the_two_faces_of_a_cam_are_always_both_read():
    assert pulled(60.1, takes_wanted={"peak_weight": 1}).enough
    assert not pulled(60.1, 61.2, 60.5, takes_wanted={"peak_weight": 5}).enough
    faces = (Take(1, "lean", 0.1), Take(2, "lean", 0.1))
    one = Facts(Family.BINARY, (), takes=faces[:1], takes_wanted={"lean": 1}).current("lean")
    assert one is not None and not QUANTITIES["lean"].agreed(2, 0.0)
