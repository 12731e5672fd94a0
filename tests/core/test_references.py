"""The same name between other points: converted where the offset is known, never silently compared."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bowcore.accessories.on_the_bow import REST_HOLE_IN, OnTheBow, thing
from bowcore.bow.specification import Family
from bowcore.evidence.facts import Facts, Take
from bowcore.evidence.references import known_places, shift_in
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.stages.hand_over.blockers import blockers

PLACES = known_places(24)
POINTS = st.sampled_from(["near_face", "far_face", "hole_centre", "hole_edge", "nock_groove", ""])
PAIRS = st.tuples(POINTS, POINTS)


@given(PAIRS, PAIRS)
def test_there_and_back_is_nothing(taken, wanted):
    there, back = shift_in(taken, wanted, PLACES), shift_in(wanted, taken, PLACES)
    assert (there is None) == (back is None)
    assert there is None or there + back == pytest.approx(0)


@given(st.sampled_from(sorted(PLACES)), st.sampled_from(sorted(PLACES)), st.floats(-2, 30))
def test_a_reading_is_end_less_start_whichever_points_it_was_taken_between(start, end, true):
    """By its definition: the value is the end's place less the start's."""
    taken = true + PLACES[end] - PLACES[start]
    alike = taken + shift_in((start, end), ("near_face", "near_face"), PLACES)
    assert alike == pytest.approx(true)


def test_the_hole_and_the_string_are_as_thick_as_they_are_known_to_be():
    """Half the rest hole and one string (common practice, no published source)."""
    up = shift_in(("hole_edge", "arrow_centre"), ("hole_centre", "arrow_centre"), PLACES)
    assert up == pytest.approx(-REST_HOLE_IN / 2)
    far = shift_in(("throat", "far_face"), ("throat", "near_face"), PLACES)
    assert -0.12 < far < -0.06


def test_nock_height_is_compared_between_any_two_points_but_the_shelf():
    """Tie to tie is one nock (common practice, no published source); where the shelf is, nobody knows."""
    nock_in = 0.25
    arrow = {
        "name": "own",
        "mass_gr": "412",
        "length_in": "28",
        "shaft_in": ".246",
        "nock_in": "1/4",
    }
    known = known_places(24, OnTheBow({"arrow": thing("arrow").read(arrow)}))
    up = shift_in(("hole_top", "tie_over"), ("hole_top", "tie_under"), known)
    assert up == pytest.approx(nock_in)
    edges = shift_in(("hole_top", "arrow_centre"), ("hole_edge", "arrow_centre"), known)
    assert edges == pytest.approx(REST_HOLE_IN)
    assert shift_in(("shelf", "arrow_centre"), ("hole_edge", "arrow_centre"), known) is None


def test_an_unknown_offset_is_none_and_not_nought():
    assert shift_in(("loop_knot", "peep_centre"), ("nock_groove", "peep_centre"), PLACES) is None
    assert shift_in(("", ""), ("throat", "near_face"), PLACES) == 0


def facts(*takes, places=PLACES):
    return Facts(
        Family.BINARY,
        ("back_to_spec",),
        inspected=True,
        takes=tuple(takes),
        fitted=(),
        places=places,
    )


def brace(seq, value, end, sheet="baseline"):
    return Take(seq, "brace_height", value, sheet, "", "throat", end)


def test_a_reading_from_the_other_face_is_moved_to_the_baselines_points():
    now = facts(brace(1, 6.625, "near_face"), brace(5, 6.70, "far_face", "after")).current(
        "brace_height"
    )
    assert now.fresh and now.summary.value == pytest.approx(6.70 + now.shift_in)
    assert now.shift_in == pytest.approx(-PLACES["far_face"])


def test_what_cannot_be_converted_is_not_fresh_and_says_so():
    early = Take(1, "nock_to_peep", 5.0, "baseline", "", "loop_knot", "peep_centre")
    late = Take(5, "nock_to_peep", 5.2, "after", "", "nock_groove", "peep_centre")
    now = facts(early, late).current("nock_to_peep")
    assert now.apart and not now.fresh and now.summary.value == 5.2


def test_required_readings_between_other_points_stand_between_the_bow_and_its_owner():
    takes = [
        Take(n, key, 6.0, "baseline", "", "throat", "near_face")
        for n, key in enumerate(("axle_to_axle", "brace_height"))
    ]
    for key in ("draw_length", "holding_weight", "peak_weight", "stop_gap"):
        takes += [Take(5, key, 60.0)] * QUANTITIES[key].takes
    strange = brace(9, 6.0, "far_face", "after")
    said = [one.words for one in blockers(facts(*takes, strange, places={}), {})]
    assert "Brace height was read between other points than the baseline." in said
    assert not [one for one in blockers(facts(*takes, strange), {}) if "points" in one.words]


def test_a_gap_pulled_from_elsewhere_is_another_reading():
    """Where the bow is pulled from moves its stops (common practice, no published source)."""
    early = Take(1, "stop_gap", 0.05, "baseline", "", "loop")
    late = Take(5, "stop_gap", 0.02, "after", "", "riser")
    assert facts(early, late).current("stop_gap").apart
    assert facts(early, Take(5, "stop_gap", 0.02, "after", "", "loop")).current("stop_gap").fresh
