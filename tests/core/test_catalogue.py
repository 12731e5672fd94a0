"""The catalogue: every quantity is whole, and its place in it is its place in the order of work."""

import pytest

from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from bowcore.measurement.freshness import ChangeMade, stale_since
from bowcore.quantities import catalogue
from bowcore.quantities.changes import Change
from bowcore.quantities.quantity import Asked, Role
from bowcore.quantities.tools import DEVICES, TOOLS
from bowcore.work_order.needs import NEW_SETUP, PATHS, BowSetup, readings_needed, readings_welcome
from tests.core.bows import twin_of

QUANTITIES = catalogue.QUANTITIES


@pytest.mark.parametrize("key", QUANTITIES)
def test_a_quantity_is_whole(key):
    one = QUANTITIES[key]
    low, high = one.limits
    assert one.key == key and one.name and one.unit in ("in", "lbf", "fps", "min")
    assert low < high and one.tolerance > 0 and one.takes >= 1
    assert one.tool.key in TOOLS
    assert one.device == "" or one.device in DEVICES
    assert one.picture, "it needs a small drawing"
    assert one.how or one.starts, "it needs two points or words"


@pytest.mark.parametrize("key", QUANTITIES)
def test_directions_cover_both_signs_and_the_middle(key):
    one = QUANTITIES[key]
    if one.directions:
        assert {d.sign for d in one.directions} == {-1, 0, 1}
        assert len({d.hotkey for d in one.directions}) == 3
        assert one.which.endswith("?")
        low, high = one.limits
        assert low < 0 < high


@pytest.mark.parametrize("key", QUANTITIES)
def test_a_value_is_said_with_its_direction_or_its_size(key):
    one = QUANTITIES[key]
    middle = sum(one.limits) / 2
    said = one.say(one.limits[1] / 2 if one.directions else middle)
    assert said and "{" not in said
    if one.directions:
        before, after = one.direction(one.limits[1]).around
        assert before or after


def test_the_twin_computes_exactly_what_the_catalogue_says():
    computed = {key for key, one in QUANTITIES.items() if one.computed}
    assert computed == set(twin_of(Family.BINARY).measures())


def test_a_single_cam_has_its_mark_in_the_place_of_the_stops():
    mark = catalogue.shown("stop_gap", True)
    assert mark.key == "stop_gap" and mark is not catalogue.shown("stop_gap", False)
    assert {d.key for d in mark.directions} == {"past", "short", "on"}


def test_an_unknown_quantity_is_refused_with_those_that_there_are():
    with pytest.raises(BadInput) as caught:
        catalogue.quantity("wingspan")
    assert "axle_to_axle" in caught.value.allowed


def test_the_order_of_work_is_the_order_of_the_catalogue():
    order = list(QUANTITIES)
    for path in PATHS:
        for family in Family:
            setup = BowSetup(path, family, ("rest", "sight", "peep", "kisser", "loop"))
            needed = readings_needed(setup)
            if path == NEW_SETUP:  # the archer's draw comes before everything else
                assert needed[0] == "draw_length"
                needed = needed[1:]
            assert list(needed) == sorted(needed, key=order.index)
            assert not set(needed) & set(readings_welcome(setup))


def test_a_bow_put_back_as_it_was_is_asked_more_than_a_new_setup():
    carried = readings_needed(BowSetup("carry_over", Family.BINARY, ("peep", "loop")))
    fresh = readings_needed(BowSetup(NEW_SETUP, Family.BINARY, ("peep", "loop")))
    assert set(fresh) < set(carried)


def test_leans_and_timing_at_rest_are_found_by_their_role():
    leans = {key for key, one in QUANTITIES.items() if one.role is Role.LEAN}
    assert leans == set(catalogue.LEANS) == {"lean", "lean_bottom"}
    at_rest = {key for key, one in QUANTITIES.items() if one.role is Role.TIMING_AT_REST}
    assert at_rest == set(catalogue.TIMED_AT_REST)


def test_what_goes_back_only_inside_its_band_is_asked_on_every_job():
    for key, one in QUANTITIES.items():
        if one.required:
            assert one.asked is Asked.ALWAYS, key


@pytest.mark.parametrize(
    ("change", "stale"),
    [(Change.STRING, True), (Change.CABLE, True), (Change.LIMB_BOLT, True), (Change.REST, False)],
)
def test_the_string_stops_gap_moves_with_the_string_and_not_with_the_rest(change, stale):
    # common practice, no published source: what moves the string at rest moves its gap
    found = stale_since("string_stop_gap", 4, [ChangeMade(5, change)])
    assert (found is not None) is stale


def test_the_string_stops_gap_is_worth_having_and_put_back():
    one = QUANTITIES["string_stop_gap"]
    assert one.asked is Asked.WELCOME and one.put_back and one.limits[0] == 0
    assert "string_stop_gap" in readings_welcome(BowSetup(NEW_SETUP, Family.TWIN, ()))
