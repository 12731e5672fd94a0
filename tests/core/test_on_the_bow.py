"""What is on a bow: typed, kept, said; what the fit asks because of it."""

import pytest

from bowcore.accessories.on_the_bow import THINGS, OnTheBow, thing
from bowcore.accessories.rest_cord import Clamp, Driver
from bowcore.accessories.ties import TieMethod
from bowcore.bow.specification import Family
from bowcore.errors import BadInput
from bowcore.evidence.entry_check import why_doubted
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.evidence.references import known_places, shift_in
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.units import LengthUnit, lengths_in
from bowcore.stages.fit.fit_advice import fit_advice
from bowcore.stages.fit.fit_bow import FitBow
from bowcore.stages.fit.fit_needs import fit_asks, fit_bands, fit_unread, waits_for_arrow
from bowcore.stages.fit.sight_marks import missing_for_marks, sight_marks
from bowcore.work_order.services import FIT
from tests.core.test_planner import SPEC

ARROW = {"name": "Own 340", "mass_gr": "412", "length_in": "28 1/4", "shaft_in": ".246"}
NEW_STRING = LedgerEntry(9, Change.STRING, "string", "string", replaced=True)


def facts(**more):
    known = {"family": Family.BINARY, "services": ("replace_string",), "inspected": True,
             "path": "carry_over", "fitted": ("peep", "loop", "rest"), "changes": (NEW_STRING,)}  # fmt: skip
    return Facts(**(known | more))


def test_an_arrow_as_it_is_typed_and_said():
    kept = thing("arrow").read(ARROW | {"point_gr": "100", "spine": " 340 "})
    assert kept["length_in"] == 28.25 and kept["spine"] == "340"
    assert thing("arrow").say(kept) == "Own 340, 412 gr, 28 1/4 in long, shaft .246 in, spine 340"
    assert OnTheBow({"arrow": kept}).arrow.mass_gr == 412


@pytest.mark.parametrize("key, changed, match", [
    ("arrow", {"mass_gr": ""}, "mass, complete is missing"),
    ("arrow", {"mass_gr": "heavy"}, "write a number"),
    ("arrow", {"length_in": "4"}, "Length, nock groove to cut of 4"),
    ("rest", {"kind": "magic"}, "choose one"),
])  # fmt: skip
def test_what_cannot_be_used_is_refused_by_name(key, changed, match):
    with pytest.raises(BadInput, match=match) as refused:
        thing(key).read(ARROW | changed)
    assert refused.value.path in changed


def test_a_fixed_rest_has_no_cord():
    kept = thing("rest").read({"kind": "fixed", "driver": "cable_b", "clamp_in": "9"})
    assert kept == {"kind": "fixed"}
    drops = thing("rest").read({"kind": "drop_cable", "driver": "cable_b", "clamp_in": "9"})
    assert OnTheBow({"rest": drops}).clamp == Clamp(Driver.CABLE_B, 9)
    assert OnTheBow({"rest": drops}).features == {"drop_away"}


def test_there_is_a_reason_for_everything_that_is_asked():
    assert all(one.why.endswith(".") and one.details for one in THINGS)
    with pytest.raises(BadInput, match="Nothing on a bow is called"):
        thing("wings")


def test_a_new_string_asks_for_what_was_read_before_it_and_for_the_peep():
    before = tuple(
        Take(at, name, 1.0) for at, name in enumerate(("nock_to_peep", "centre_shot"), 1)
    )
    assert fit_asks(facts(takes=before)) == (
        "nock_to_peep", "nock_height", "arrow_level", "loop_length", "centre_shot", "peep_turn",
        "loop_facing",
    )  # fmt: skip
    ties = OnTheBow({"ties": {"school": TieMethod.BOTH.value}})
    assert "nock_gap" in fit_asks(facts(takes=before, on_bow=ties))
    assert fit_asks(facts(services=("back_to_spec",), changes=())) == ()


def test_the_service_asks_for_all_that_the_bow_has():
    asked = fit_asks(facts(services=(FIT,), changes=(), fitted=("rest",), path="new_setup"))
    assert asked == ("nock_height", "arrow_level", "centre_shot")
    assert {"arrow_level", "centre_shot"} <= set(
        fit_bands(facts(services=(FIT,), path="new_setup"))
    )


def test_a_missing_arrow_holds_what_needs_it_and_nothing_else():
    without = facts(services=(FIT,))
    waiting = [key for key in fit_unread(without) if waits_for_arrow(without, key)]
    assert waiting == ["arrow_level", "centre_shot"]  # height is read with the square, to the tie
    named = facts(services=(FIT,), on_bow=OnTheBow({"arrow": thing("arrow").read(ARROW)}))
    assert not any(waits_for_arrow(named, key) for key in fit_unread(named))


def test_the_cord_stays_good_while_the_arm_still_comes_up_in_its_band():
    rest = OnTheBow({"rest": {"kind": "drop_cable", "driver": "cable_b", "clamp_in": 9.0}})
    twisted = LedgerEntry(20, Change.CABLE, "cable_b", "cable_b", 1)
    known = {"takes": (Take(15, "cord_up", 1.5),), "changes": (NEW_STRING, twisted), "on_bow": rest}
    assert "cord_up" in fit_unread(facts(**known))
    assert "cord_up" not in fit_unread(facts(**known, estimates={"cord_up": 1.25}))
    assert "cord_up" in fit_unread(facts(**known, estimates={"cord_up": 0.5}))


def test_nock_height_between_other_points_is_converted_once_arrow_and_hole_are_known():
    bow = OnTheBow(
        {"arrow": thing("arrow").read(ARROW), "rest": {"kind": "fixed", "hole_in": 0.3125}}
    )
    places = known_places(24, bow)
    centre, edge = ("hole_centre", "arrow_centre"), ("hole_edge", "arrow_under")
    # underside on the lower edge reads 0 there; centre to centre it is half the shaft less half the hole
    assert shift_in(edge, centre, places) == pytest.approx(0.246 / 2 - 0.3125 / 2)
    assert shift_in(edge, centre, known_places(24)) is None


def test_the_peeps_height_is_converted_between_knot_tie_and_groove_once_they_are_measured():
    arrow = thing("arrow").read(ARROW | {"nock_in": "1/4"})
    ties = thing("ties").read({"school": "both", "height_in": ".084"})
    places = known_places(
        24, OnTheBow({"arrow": arrow, "ties": ties, "peep": {"height_in": 0.375}})
    )
    top_of_peep_from_knot = shift_in(
        ("loop_knot", "peep_top"), ("nock_groove", "peep_centre"), places
    )
    # the knot lies half a nock and a tie above the groove, the peep's top half a peep above its centre
    assert top_of_peep_from_knot == pytest.approx(0.125 + 0.084 - 0.1875)
    without_ties = known_places(24, OnTheBow({"arrow": arrow, "ties": {"school": "none"}}))
    assert without_ties["loop_knot"] == pytest.approx(0.125)
    assert (
        shift_in(("nock_tie", "peep_centre"), ("nock_groove", "peep_centre"), without_ties) is None
    )


def test_a_fixed_blade_is_chosen_by_the_arrow():
    fixed = OnTheBow({"rest": {"kind": "fixed"}, "arrow": thing("arrow").read(ARROW)})
    bow = FitBow(SPEC, facts(on_bow=fixed), {})
    assert fit_advice(bow).shown["centre_shot"].startswith("A blade of .012 in suits 412 grains")


def test_a_peep_that_was_turned_is_not_doubted_for_having_turned():
    turned = LedgerEntry(20, Change.PEEP, "peep_pair", "string", 1)
    known = facts(takes=(Take(15, "peep_turn", 29.0),), changes=(NEW_STRING, turned))
    assert why_doubted(QUANTITIES["peep_turn"], -2.0, "2", known, {}) == ""
    assert "The limit is 30 min" in why_doubted(QUANTITIES["peep_turn"], 45.0, "45", known, {})


def test_in_a_metric_shop_a_detail_reads_back_as_it_is_shown():
    kept = thing("arrow").read(ARROW)
    with lengths_in(LengthUnit.MILLIMETRES):
        shown = {
            one.key: one.as_typed(kept[one.key])
            for one in thing("arrow").details
            if one.key in kept
        }
        again = thing("arrow").read(shown)
        assert "shaft 6.25 mm" in thing("arrow").say(kept)
    assert again["shaft_in"] == pytest.approx(kept["shaft_in"], abs=0.001)
    assert again["length_in"] == pytest.approx(kept["length_in"], abs=0.02)


@pytest.mark.parametrize("broken", [
    {}, {"mass_gr": 412}, None, [], {**ARROW},
    {"name": "x", "mass_gr": 1e9, "length_in": 28, "shaft_in": 0.2},
])  # fmt: skip
def test_details_on_file_that_nobody_could_have_typed_are_not_used(broken):
    assert not thing("arrow").usable(broken)


def test_a_speed_that_no_bow_shoots_says_what_is_missing():
    sight = OnTheBow({"sight": {"peep_to_pin_in": 31.0, "eye_above_arrow_in": 4.0}})
    wild = facts(takes=(Take(1, "arrow_speed", 9999.0), Take(12, "arrow_speed", 0.0)), on_bow=sight)
    assert len(missing_for_marks(wild)) == 2 and sight_marks(wild) is None
    slow = facts(takes=(Take(1, "arrow_speed", 90.0), Take(12, "arrow_speed", 81.0)), on_bow=sight)
    assert sight_marks(slow) is None or sight_marks(slow).marks
