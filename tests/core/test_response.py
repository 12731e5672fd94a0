"""Signs of the closed-form response: facts of the trade (common practice, no published source)."""

import pytest

from bowcore.bow.specification import BowSpec, Family
from bowcore.bow.twin import Changes, build_twin
from bowcore.errors import BadInput, NoModel, OutOfRange
from tests.core.closed_form import closed_form_response, gap_per_inch
from tests.core.test_planner import PARTS, SPEC

R = closed_form_response(SPEC)


@pytest.mark.parametrize("cable", ["cable_a", "cable_b"])
def test_a_shorter_cable_is_heavier_and_the_bow_shorter(cable):
    assert R.per_step("peak_weight", cable) > 0
    assert R.per_step("axle_to_axle", cable) < 0


def test_a_shorter_string_raises_the_brace_and_shortens_the_draw():
    assert R.per_step("brace_height", "string") > 0
    assert R.per_step("draw_length", "string") < 0
    assert R.per_step("axle_to_axle", "string") < 0


def test_the_two_cables_move_the_gap_oppositely_and_the_string_not_at_all():
    assert R.per_step("stop_gap", "cable_a") == pytest.approx(-R.per_step("stop_gap", "cable_b"))
    assert R.per_step("stop_gap", "cable_a") > 0  # its cam becomes later: the top stop stays open
    assert R.per_step("stop_gap", "string") == 0


def test_a_full_twist_moves_the_gap_by_an_amount_seen_in_shops():
    # from 1/32 in to 1/3 in for a full twist have been seen (common practice, no published source)
    assert 1 / 32 <= 2 * R.per_step("stop_gap", "cable_a") <= 1 / 3


def test_the_gap_of_the_two_radii_is_that_of_the_mechanical_model():
    # against the equilibrium of the same book, which knows nothing of the closed form
    twin = build_twin(SPEC)
    for cable, sign in (("cable_a", 1), ("cable_b", -1)):
        shorter = twin.changed(Changes({cable: 0.01})).measures()["stop_gap"]
        moved = shorter - twin.measures()["stop_gap"]
        assert sign * 0.01 * gap_per_inch(SPEC) == pytest.approx(moved, rel=0.3)


def test_other_families_and_bows_without_parts_are_refused():
    single = BowSpec("Invented 35", Family.SINGLE, 35.5, 7.1, 29, 50, 0.75, PARTS)
    with pytest.raises(NoModel):
        closed_form_response(single)
    bare = BowSpec("Invented 31", Family.BINARY, 31.25, 6.6, 28.5, 55, 0.8)
    with pytest.raises(NoModel):
        closed_form_response(bare)


@pytest.mark.parametrize(
    "wrong", [{"axle_to_axle_in": float("nan")}, {"let_off": 0.99}, {"peak_weight_lbf": -1}]
)
def test_numbers_that_make_no_bow_are_refused(wrong):
    values = {"axle_to_axle_in": 31.25, "brace_height_in": 6.6, "draw_length_in": 28.5, "peak_weight_lbf": 55,
                  "let_off": 0.8}  # fmt: skip
    with pytest.raises(OutOfRange):
        BowSpec("x", Family.BINARY, **(values | wrong))


def test_a_brace_height_above_the_draw_is_refused():
    with pytest.raises(BadInput):
        BowSpec("x", Family.BINARY, 31, 9.5, 19, 55, 0.8)
