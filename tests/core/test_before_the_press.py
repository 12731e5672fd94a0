"""What must be on record first, which press suits, in which order parts go on, what a set is worth.

The rules are common practice of the trade with no published source unless a test says otherwise.
"""

from dataclasses import replace

import pytest

from bowcore.bow.specification import Family, PartSpec
from bowcore.errors import BadInput, Incomplete, Refused
from bowcore.quantities.catalogue import QUANTITIES, TIMING_MARK, shown
from bowcore.quantities.entries import keypad_for, read_entry
from bowcore.stages.back_to_spec.order_rules import reasons_against
from bowcore.stages.inspection.places import PLACES, bad_parts, to_order
from bowcore.stages.replace.gates import BowInPress, gate_points, require_gate
from bowcore.stages.replace.press_plan import (
    LimbKind,
    PressBow,
    PressFit,
    PressKind,
    fit_of,
    press_plan,
    require_press,
)
from bowcore.stages.string_set.arrival import (
    ArrivalVerdict,
    Arrived,
    Contact,
    judge_component,
    judge_contacts,
    set_verdict,
)
from bowcore.work_order.needs import (
    CARRY_OVER,
    NEW_SETUP,
    BowSetup,
    checked_mark,
    marks_needed,
    marks_welcome,
    readings_needed,
    readings_welcome,
    why_missed,
)
from bowcore.work_order.replacement import (
    ReplacementPolicy,
    may_share_press,
    part_steps,
    replacement_order,
)
from tests.core.bows import book

WHOLE = BowSetup(CARRY_OVER, Family.HYBRID, ("peep", "kisser", "loop", "rest", "silencers"))
CABLE = PartSpec("cable_b", "Buss cable", "bottom cam to the yoke", 36.0, 24, 0.6)


def test_a_carry_over_asks_for_all_that_cannot_be_found_again():
    asked = readings_needed(WHOLE)
    assert {"nock_to_peep", "nock_to_kisser", "loop_length", "centre_shot", "tiller"} <= set(asked)
    assert {"routing", "lay_string", "lay_cable_a", "module_top", "rest_cord", "silencers"} <= set(
        marks_needed(WHOLE)
    )


def test_a_new_setup_asks_for_less_but_never_forgets_peep_and_bolts():
    new = BowSetup(NEW_SETUP, Family.HYBRID, WHOLE.fitted)
    assert set(readings_needed(new)) < set(readings_needed(WHOLE))
    assert "nock_to_peep" in readings_needed(new)
    assert marks_needed(new) == ()
    assert marks_welcome(new) == ("bolts_top", "bolts_bottom")


def test_what_is_not_fitted_is_not_asked_for():
    bare = BowSetup(CARRY_OVER, Family.TWIN, ())
    assert not {"nock_to_peep", "nock_to_kisser", "loop_length"} & set(readings_needed(bare))
    assert not {"rest_cord", "silencers"} & set(marks_needed(bare))


def test_a_single_cam_has_a_mark_and_no_second_cam_to_compare_with():
    single = BowSetup(CARRY_OVER, Family.SINGLE)
    assert not any(name.startswith("timing_") for name in readings_welcome(single))
    assert shown("stop_gap", single.one_cam) is TIMING_MARK
    assert not TIMING_MARK.drawn
    assert read_entry(TIMING_MARK, "1/32", "short").value == -QUANTITIES["stop_gap"].tolerance


def test_everything_asked_for_says_why_it_will_be_missed():
    for key in (*readings_needed(WHOLE), *marks_needed(WHOLE), *readings_welcome(WHOLE)):
        ((name, reason),) = why_missed([key], WHOLE)
        assert name and reason.endswith(".")


@pytest.mark.parametrize(
    ("typed", "kept"), [("2", "2"), ("2 1/2", "2.5"), ("1.5", "1.5"), ("0", "0")]
)
def test_bolt_turns_are_counted_as_people_say_them(typed, kept):
    assert checked_mark("bolts_top", typed, 8) == kept


@pytest.mark.parametrize(
    ("key", "value"), [("bolts_top", "9"), ("lay_string", "up"), ("routing", " "), ("x", "1")]
)
def test_marks_that_cannot_be_are_refused(key, value):
    with pytest.raises(BadInput):
        checked_mark(key, value, 8)


@pytest.mark.parametrize("key", [q.key for q in QUANTITIES.values() if q.directions])
def test_every_direction_reads_back_as_it_was_said(key):
    quantity = QUANTITIES[key]
    size, said = ("1/16", "1/16") if quantity.unit == "in" else ("7", f"7 {quantity.unit}")
    for way in quantity.directions:
        entry = read_entry(quantity, size if way.sign else "", way.key)
        assert entry.value * way.sign == abs(entry.value)
        assert quantity.say(entry.value) == way.says.format(said)
    with pytest.raises(Incomplete, match=quantity.which[1:]):
        read_entry(quantity, size)
    assert keypad_for(quantity).parts[1]


def test_beyond_parallel_limbs_need_a_tip_press():
    assert fit_of(PressKind.LIMB_TIP, LimbKind.BEYOND, False)[0] is PressFit.YES
    assert fit_of(PressKind.LINEAR, LimbKind.BEYOND, True)[0] is PressFit.NO
    assert fit_of(PressKind.PORTABLE, LimbKind.BEYOND, True)[0] is PressFit.TWO_STAGE
    assert fit_of(PressKind.PORTABLE, LimbKind.BEYOND, False)[0] is PressFit.NO


def test_a_press_that_does_not_suit_is_refused_with_the_reason():
    plan = press_plan(PressKind.LINEAR, PressBow(LimbKind.BEYOND, False, (0, 0), 8))
    assert not plan.steps
    with pytest.raises(Refused, match="slip out"):
        require_press(plan)


def test_five_out_already_means_one_more():
    plan = press_plan(PressKind.LINEAR, PressBow(LimbKind.ORDINARY, False, (5, 4.5), 8))
    assert [move.out for move in plan.bolts] == [1, 1.5]
    assert "5 out already, 1 more" in plan.bolts[0].words
    assert "1 turns back in, to 5 out" in plan.back_on[0]


def test_bolts_never_go_past_the_makers_limit():
    for stands in (0, 2, 3.75, 4, 7):
        bow = PressBow(LimbKind.PARALLEL, False, (stands, 0), 4, back_off=True)
        plan = press_plan(PressKind.LIMB_TIP, bow)
        assert plan.bolts[0].out >= 0
        assert plan.bolts[0].out == 0 or stands + plan.bolts[0].out <= 4


def test_two_stages_have_steps_of_their_own():
    bow = PressBow(LimbKind.BEYOND, True, (0, 0), 8)
    two, one = press_plan(PressKind.PORTABLE, bow), press_plan(PressKind.LIMB_TIP, bow)
    first, second = (
        i for i, s in enumerate(two.steps) if "First press" in s or "Second press" in s
    )
    assert "the string and one cable" in two.steps[first] and first < second
    assert [move.out for move in two.bolts] == [8, 8]  # the weight right down
    assert "same way back" in two.back_on[0]
    assert not any("Second press" in step for step in one.steps)


@pytest.mark.parametrize(
    ("press", "asked", "out"),
    [
        (PressKind.LIMB_TIP, False, False),
        (PressKind.LIMB_TIP, True, True),
        (PressKind.LINEAR, False, True),
        (PressKind.PORTABLE, False, True),
    ],
)
def test_bolts_are_backed_off_where_the_press_or_the_maker_wants_it(press, asked, out):
    plan = press_plan(press, PressBow(LimbKind.ORDINARY, False, (2, 2), 8, back_off=asked))
    assert bool(plan.bolts) is out
    assert any("turns back in" in step for step in plan.back_on) is out


def texts(spec, **more):
    return [point.text for point in gate_points(BowInPress(spec, **more))]


def test_the_gate_asks_for_what_this_bow_has_and_for_what_is_out_of_it():
    plain = texts(book(Family.BINARY))
    assert plain[-1] == "The small-parts tray is empty"
    assert not any("yoke" in text or "pockets" in text for text in plain)
    yoked = replace(book(Family.HYBRID), yokes=("cable_b",))
    assert any("yoke" in text for text in texts(yoked))
    assert any("pockets" in text for text in texts(book(Family.BINARY), bolts_out=True))
    out = texts(book(Family.BINARY), tray=("limb pads", "axle clip"))
    assert out[-3:-1] == ["Back on the bow: limb pads", "Back on the bow: axle clip"]


def test_the_gate_stays_shut_while_a_small_part_is_out():
    bow = BowInPress(book(Family.BINARY), tray=("axle clip",))
    seen = [point.key for point in gate_points(bow)]
    require_gate(bow, seen)
    with pytest.raises(Refused, match="Back on the bow: axle clip"):
        require_gate(bow, [key for key in seen if not key.startswith("back")])


def test_cables_go_before_the_string():
    for family in Family:
        roles = [part.role for part in book(family).parts]
        assert replacement_order(book(family), roles)[-1] == "string"
        assert len(replacement_order(book(family), roles)) == len(roles)


def test_only_one_at_a_time_reads_between():
    spec = book(Family.HYBRID)
    between = {s: part_steps(spec, ["cable_a"], s)[0].reads_after for s in ReplacementPolicy}
    assert between[ReplacementPolicy.ONE_BY_ONE] and not between[ReplacementPolicy.STRIP]
    assert may_share_press(ReplacementPolicy.STRIP) and not may_share_press(
        ReplacementPolicy.ONE_BY_ONE
    )


@pytest.mark.parametrize(
    ("length", "strands", "word"),
    [(36.0, 24, ArrivalVerdict.GOOD), (36.05, 24, ArrivalVerdict.GOOD), (36.1, 24, ArrivalVerdict.WATCH),
     (35.5, 24, ArrivalVerdict.BACK),
     (36.0, 28, ArrivalVerdict.WATCH)],
)  # fmt: skip
def test_what_a_component_is_worth(length, strands, word):
    assert judge_component(CABLE, Arrived("cable_b", length, strands)).verdict is word


def test_the_old_part_outranks_the_book():
    came = Arrived("cable_b", 36.12, 24)
    assert judge_component(CABLE, came).verdict is ArrivalVerdict.WATCH
    assert judge_component(CABLE, came, old_in=36.125).verdict is ArrivalVerdict.GOOD


def test_a_set_is_worth_its_worst_part():
    good, bad = (
        judge_component(CABLE, Arrived("cable_b", 36, 24)),
        judge_component(CABLE, Arrived("cable_b", 30, 24)),
    )
    assert set_verdict([good, bad]) is ArrivalVerdict.BACK
    assert set_verdict([]) is ArrivalVerdict.GOOD


def test_a_clamp_beyond_the_serving_is_foreseen():
    clamp = Contact("The rest cord's clamp", "cable_b", 9.0)
    assert judge_contacts(Arrived("cable_b", 36, 24, (8.5, 10)), [clamp])
    assert not judge_contacts(Arrived("cable_b", 36, 24, (9.5, 10)), [clamp])
    assert not judge_contacts(Arrived("cable_a", 36, 24, (1, 1)), [clamp])


def test_a_replace_finding_asks_for_the_parts_this_bow_has():
    roles = ("string", "cable_b")
    assert bad_parts("cables", "replace", (), roles) == ("cable_b",)
    assert bad_parts("cables", "watch", (), roles) == ()
    assert to_order([("peep", "replace"), ("loop", "watch"), ("peep", "replace")]) == ["peep"]


def test_the_walk_stays_on_the_drawing():
    for place in PLACES:
        assert all(0 < x < 1 and 0 < y < 1 for x, y in place.at)


def test_the_old_hand_says_what_comes_first():
    assert "turns the loop" in reasons_against({}, "loop_tied")[0]
    assert reasons_against({"peep_in": True}, "loop_tied") == []
