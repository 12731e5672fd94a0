"""What two readings of the fit say together, in words, against geometry done by hand."""

from math import atan, degrees

import pytest

from bowcore.accessories.on_the_bow import OnTheBow, thing
from bowcore.accessories.rest_cord import ANYWHERE, Driver, best_clamp, holds_clamp
from bowcore.accessories.sight import Flight, SightGeometry, pin_place_in
from bowcore.errors import BadInput
from bowcore.evidence.facts import Take
from bowcore.stages.fit.fit_figures import plain_figures
from bowcore.stages.fit.fit_needs import fit_bands
from bowcore.stages.fit.sight_marks import (
    SpeedRead,
    flight_for_tape,
    missing_for_marks,
    say_drag,
    say_moved,
    sight_marks,
)
from bowcore.work_order.needs import NEW_SETUP
from bowcore.work_order.services import FIT
from tests.core.test_fit_loop import Bench, Family
from tests.core.test_on_the_bow import ARROW, facts

SIGHT = {"peep_to_pin_in": "31 1/2", "eye_above_arrow_in": "4 1/4"}


def read(things, *takes, **more):
    rows = tuple(Take(at, *row) for at, row in enumerate(takes, 20))
    return facts(services=(FIT,), takes=rows, on_bow=OnTheBow(things), **more)


def test_the_arrow_at_the_rest_follows_from_its_height_at_the_nock_and_its_level():
    words = plain_figures(read({}, ("nock_height", 1 / 16), ("arrow_level", 1 / 8)))["nock_height"]
    assert "At the rest the arrow is 1/16 below" in words


def test_front_and_back_say_the_arrows_angle_and_how_far_its_rest_is_off():
    words = plain_figures(read({}, ("front_back", 1 / 8)))["front_back"]
    assert f"{degrees(atan((1 / 8) / 10)):.1f} degrees out" in words
    assert "3/32 in too far out" in words  # 7 in from the nock: 7/10 of an eighth, in sixty-fourths


def test_centre_shot_is_converted_between_riser_and_string_plane():
    rest = thing("rest").read({"kind": "fixed", "plane_in": "3/4"})
    known = read(
        {"rest": rest}, ("centre_shot", 0.8125), places={"riser_face": 0.0, "string_plane": 0.75}
    )
    assert "1/16 in out from the string's plane" in plain_figures(known)["centre_shot"]
    by_plane = facts(
        services=(FIT,),
        path=NEW_SETUP,
        takes=(Take(20, "centre_shot", 0.02, start="string_plane"),),
    )
    assert fit_bands(by_plane)["centre_shot"].target == 0.0
    assert fit_bands(by_plane, 0.75)["centre_shot"].target == 0.0  # published from the riser's face


def test_a_published_centre_shot_comes_before_the_usual_one():
    known = facts(services=(FIT,), path=NEW_SETUP)
    band = fit_bands(known, 0.75)["centre_shot"]
    assert (band.target, band.source) == (0.75, "book")
    assert fit_bands(known)["centre_shot"].target == 0.8125


def test_a_peep_that_was_moved_says_where_the_old_pins_hit():
    before = Take(1, "nock_to_peep", 5.0)
    known = facts(
        takes=(before, Take(20, "nock_to_peep", 5.125)),
        on_bow=OnTheBow({"sight": thing("sight").read(SIGHT)}),
    )
    # similar triangles: an eighth at 31 1/2 in from eye to pin, 720 in from the eye
    by_hand = 0.125 * (720 - 31.5) / 31.5
    assert f"{by_hand:.1f} in higher at 20 yd" in plain_figures(known)["nock_to_peep"]


def test_a_nock_that_does_not_click_is_said():
    ties = thing("ties").read({"school": "both", "hold": "falls"})
    assert "falls off at a tap" in plain_figures(read({"ties": ties}))["nock_gap"]
    well = thing("ties").read({"school": "both", "hold": "clicks"})
    assert "nock_gap" not in plain_figures(read({"ties": well}))


def test_the_clamp_goes_where_the_serving_holds_it():
    twin = Bench.with_new_string(Family.BINARY, 1).as_fitted().twin
    free = best_clamp(twin, Driver.CABLE_B).place_in
    served = OnTheBow({"rest": {"kind": "drop_cable", "served_to_in": free - 1.0}}).served
    assert holds_clamp(free, ANYWHERE) and not holds_clamp(free, served)
    moved = best_clamp(twin, Driver.CABLE_B, served=served).place_in
    assert moved <= free - 1.0 - 0.25
    both = OnTheBow({"rest": {"kind": "drop_cable", "served_to_in": 5.0, "served_from_in": 12.0}})
    assert holds_clamp(3.0, both.served) and not holds_clamp(8.0, both.served)
    assert holds_clamp(13.0, both.served)


DRAG = 0.00025


def shot(drag, yards):
    geometry = SightGeometry(31.5, 4.25)
    return [round(pin_place_in(Flight(288.0, drag), geometry, one), 3) for one in yards]


def with_marks(yards=(20, 60), drag=DRAG):
    typed = SIGHT | {
        "marks": " ".join(map(str, yards)), "places": " ".join(map(str, shot(drag, yards))),
    }  # fmt: skip
    return OnTheBow({"sight": thing("sight").read(typed)})


def speeds(on_bow, before=288.0, now=284.0):
    takes = (Take(1, "arrow_speed", before), Take(20, "arrow_speed", now))
    return facts(takes=takes, on_bow=on_bow)


def test_the_archers_own_marks_show_the_drag_that_the_new_marks_are_computed_with():
    found = sight_marks(speeds(with_marks((20, 30, 40, 50, 60))))
    assert found.flown.flight.drag_per_ft == pytest.approx(DRAG, rel=0.3)
    assert "By 5 of the archer's own marks" in say_drag(found.flown)
    plain = sight_marks(
        speeds(OnTheBow({"sight": thing("sight").read(SIGHT | {"marks": "20 60"})}))
    )
    assert plain.flown.marks == 0 and "a usual arrow's drag" in say_drag(plain.flown)
    assert found.flown.sigma_of(far_below) < 0.9 * plain.flown.sigma_of(far_below)
    now = flight_for_tape(speeds(with_marks((20, 30, 40, 50, 60))))
    assert now.flight.drag_per_ft == found.flown.flight.drag_per_ft
    assert now.flight.speed_fps == pytest.approx(found.flown.flight.speed_fps - 4)


def far_below(flight, sight):
    return pin_place_in(flight, sight, 60) - pin_place_in(flight, sight, 20)


def test_marks_that_no_drag_explains_are_said_and_not_used():
    upside_down = with_marks()
    places = list(reversed(upside_down.details["sight"]["places"]))
    wrong = OnTheBow({"sight": {**upside_down.details["sight"], "places": places}})
    found = sight_marks(speeds(wrong))
    assert found.flown.marks == 0 and "Look at the speed" in say_drag(found.flown)
    assert sight_marks(speeds(upside_down)).flown.marks == 2


def test_the_speed_of_the_last_visit_stands_in_where_nobody_shot_before_the_work():
    only_now = facts(takes=(Take(20, "arrow_speed", 284.0),), on_bow=with_marks())
    assert "as it came in" in " ".join(missing_for_marks(only_now))
    last = SpeedRead(288.0, 1.0, "at its last visit")
    assert missing_for_marks(only_now, last) == []
    assert "at its last visit" in say_moved(sight_marks(only_now, last))


def test_each_distance_needs_its_place_and_balance_is_said_with_the_arrow():
    with pytest.raises(BadInput, match="one place for each"):
        thing("sight").read(SIGHT | {"marks": "20 40 60", "places": "0 1"})
    arrow = thing("arrow").read(ARROW | {"balance_in": "16"})
    ahead = (16 - 28.25 / 2) / 28.25
    assert f"FOC {ahead:.1%}" in thing("arrow").say(arrow)
