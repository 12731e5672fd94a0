"""The order of work, holds, gates, targets and hand-over, as the core sees them."""

from dataclasses import replace

import numpy as np
import pytest

from bowcore.bow.specification import Family
from bowcore.deciding.problem import PlanKind, TuningPolicy
from bowcore.errors import BadInput, Refused
from bowcore.evidence.facts import SKIPPED, Facts, LedgerEntry, OpenPress, Take, precision_of
from bowcore.learning.history import learn
from bowcore.learning.prior import first_stop_effect_of
from bowcore.measurement.bands import BandSide
from bowcore.quantities.catalogue import QUANTITIES, REQUIRED
from bowcore.quantities.changes import Change
from bowcore.stages.back_to_spec.advice import advise, history, model_prior
from bowcore.stages.back_to_spec.targets import DRAWN_SHORT, HELD_SHORT_SHARE, Wishes, bands
from bowcore.stages.course import Progress, course
from bowcore.stages.hand_over.blockers import blockers, left_as_they_are, overridable
from bowcore.stages.inspection.places import PLACES, hold_for
from bowcore.stages.replace.gates import BowInPress, gate_points, require_gate
from bowcore.work_order.holds import stopped_by
from bowcore.work_order.needs import CARRY_OVER, BowSetup, marks_needed, readings_needed
from bowcore.work_order.roles import StaffRole, needs_second_eyes, require
from tests.core.bows import twin_of
from tests.core.test_planner import SPEC

GOOD = {"axle_to_axle": 31.25, "brace_height": 6.625, "peak_weight": 55.0, "holding_weight": 11.0,
        "stop_gap": 0.0, "nock_to_peep": 5.0, "draw_length": SPEC.draw_length_in}  # fmt: skip
BASELINE = readings_needed(BowSetup())
MARKED = dict.fromkeys(marks_needed(BowSetup(CARRY_OVER, fitted=("rest", "silencers"))), "2")
CABLE = ("replace_cable_a", "back_to_spec")


def takes(values, start=2, sheet="baseline"):
    """One take per quantity, three of the peak, numbered on."""
    rows = []
    for name, value in values.items():
        for _ in range(QUANTITIES[name].takes):
            rows.append(Take(start + len(rows), name, value, sheet))
    return tuple(rows)


def facts(**more) -> Facts:
    return Facts(Family.BINARY, CABLE, inspected=True, **{"marks": MARKED, **more})


def at(case: Facts) -> str:
    return course(case, bands(SPEC, case)).next.step


def test_the_course_of_a_job():
    fresh = replace(facts(), inspected=False)
    assert at(fresh) == "inspection"
    assert at(facts()) == "baseline"
    read = facts(takes=takes(GOOD))
    assert at(read) == "replace"
    pressed = replace(read, press=OpenPress(30, "replace"))
    assert at(pressed) == "replace"
    swapped = replace(
        read, changes=(LedgerEntry(31, Change.CABLE, "cable_a", "cable_a", replaced=True),)
    )
    assert at(swapped) == "back_to_spec"
    now = {name: GOOD[name] for name in REQUIRED} | {"draw_length": SPEC.draw_length_in}
    again = replace(swapped, takes=read.takes + takes(now, 40, "after"))
    assert at(again) == "hand_over"
    done = replace(again, handed_over=True)
    assert course(done, bands(SPEC, done)).steps_done == len(course(done, bands(SPEC, done)).steps)


def test_exactly_one_step_is_present():
    for case in (facts(), facts(takes=takes(GOOD)), facts(holds=("service",))):
        states = [s.progress for s in course(case, bands(SPEC, case)).steps]
        assert sum(s in (Progress.NOW, Progress.HELD) for s in states) == 1


def test_three_readings_of_the_peak_are_wanted():
    # three readings and a robust mean: common practice, no published source
    one = tuple(t for t in takes(GOOD) if t.quantity != "peak_weight")
    case = facts(takes=(*one, Take(50, "peak_weight", 55.0)))
    assert course(case, bands(SPEC, case)).unread == ("peak_weight",)


@pytest.mark.parametrize("reason", [SKIPPED, "the board is broken"])
def test_takes_that_are_passed_over_after_the_first_are_not_asked_for_again(reason):
    one = tuple(t for t in takes(GOOD) if t.quantity != "peak_weight")
    first, over = Take(50, "peak_weight", 55.0), Take(51, "peak_weight", None, reason=reason)
    begun = facts(takes=(*one, first))
    assert "peak_weight" in course(begun, bands(SPEC, begun)).unread
    passed = facts(takes=(*one, first, over))
    assert "peak_weight" not in course(passed, bands(SPEC, passed)).unread
    assert passed.current("peak_weight").summary.value == 55.0
    again = facts(takes=(*one, first, over, Take(52, "peak_weight", 55.2)))
    assert again.current("peak_weight").summary.takes == 2


def test_what_a_reading_was_recorded_with_counts():
    """GUM (JCGM 100:2008, from memory) 4.2.3: of n alike, u = s / sqrt n; of one, its own."""
    usual = QUANTITIES["axle_to_axle"].precision.sigma
    for sigma, meant in (
        (None, usual),
        (usual, usual),
        (usual / 5, usual / 5),
        (1.2 * usual, 1.2 * usual),
    ):
        now = facts(takes=(Take(2, "axle_to_axle", 31.0, sigma=sigma),)).current("axle_to_axle")
        assert now.summary.sigma == pytest.approx(meant)
    what = QUANTITIES["axle_to_axle"]
    both = precision_of(what, [Take(2, what.key, 31.0, sigma=3 * usual), Take(3, what.key, 31.0)])
    assert both.sigma == pytest.approx(usual * np.sqrt((9 + 1) / 2))


def test_a_caliper_teaches_more_than_a_tape():
    prior = model_prior(SPEC)
    beliefs = [
        learn(
            prior, history(facts(takes=(Take(2, "brace_height", 7.0, sigma=sigma),)), prior)
        ).belief
        for sigma in (None, 0.005)
    ]
    tape, caliper = (belief.readings()["brace_height"][1] for belief in beliefs)
    assert caliper < tape / 3


def test_what_cannot_be_read_stops_nothing_and_goes_out_with_its_reason():
    known = tuple(t for t in takes(GOOD) if t.quantity != "holding_weight")
    case = facts(takes=(*known, Take(50, "holding_weight", None, reason="board is broken")))
    assert at(case) == "replace"
    assert not any("Holding" in one.words for one in blockers(case, bands(SPEC, case)))
    said = left_as_they_are(case, bands(SPEC, case))
    assert said == ["Holding weight was not read: board is broken."]


def test_after_a_cable_everything_that_hangs_on_it_is_stale_and_the_peep_is_not():
    case = facts(
        takes=takes(GOOD),
        changes=(LedgerEntry(31, Change.CABLE, "cable_a", "cable_a", replaced=True),),
    )
    assert set(course(case, bands(SPEC, case)).to_read) == {*REQUIRED, "draw_length"}
    assert case.current("nock_to_peep").fresh


def test_takes_on_both_sides_of_a_change_do_not_mix():
    case = facts(
        takes=(Take(2, "axle_to_axle", 31.0), Take(40, "axle_to_axle", 31.5, "after")),
        changes=(LedgerEntry(31, Change.CABLE, "cable_a", "cable_a", 1),),
    )
    assert case.current("axle_to_axle").summary.value == 31.5
    assert case.baseline("axle_to_axle").summary.value == 31.0


def test_takes_between_other_points_do_not_mix():
    case = facts(takes=(Take(2, "nock_to_peep", 5.0, start="nock_tie"),
                        Take(3, "nock_to_peep", 4.5, start="loop_knot")))  # fmt: skip
    assert case.current("nock_to_peep").summary.value == 4.5


def test_half_twists_count_from_the_part_that_is_on():
    entries = (
        LedgerEntry(5, Change.CABLE, "cable_a", "cable_a", 3),
        LedgerEntry(6, Change.CABLE, "cable_a", "cable_a", replaced=True),
        LedgerEntry(7, Change.CABLE, "cable_a", "cable_a", -1),
    )
    case = facts(changes=entries)
    assert case.net_steps("cable_a") == -1


@pytest.mark.parametrize(
    ("place", "hold"),
    [("string", "do_not_draw"), ("limbs_top", "service"), ("cam_bottom", "service")],
)
def test_dangerous_findings_hold_the_job(place, hold):
    # a broken strand or a cracked limb: do not draw it (common practice, no published source)
    assert hold_for(place, "stop").key == hold
    assert hold_for(place, "watch") is None
    assert stopped_by((hold,), "draw").key == hold
    assert stopped_by((hold,), "hand_over").key == hold


def test_a_broken_strand_may_be_pressed_a_cracked_limb_may_not():
    assert stopped_by(("do_not_draw",), "press") is None
    assert stopped_by(("service",), "press").key == "service"


def test_unknown_places_and_outcomes_are_refused():
    with pytest.raises(BadInput):
        hold_for("paint", "stop")
    with pytest.raises(BadInput):
        hold_for(PLACES[0].key, "perhaps")


def test_the_gate_names_every_point_that_is_missing():
    points = [p.key for p in gate_points(BowInPress(SPEC))]
    require_gate(BowInPress(SPEC), points)
    with pytest.raises(Refused) as caught:
        require_gate(BowInPress(SPEC), points[2:])
    assert "String lies in its groove" in str(caught.value)
    with pytest.raises(Refused):
        require_gate(BowInPress(replace(SPEC, family=Family.HYBRID)), points)  # yokes too


def test_a_tuned_baseline_outranks_the_book_and_an_untuned_one_does_not():
    # common practice, no published source
    tuned = facts(takes=takes(GOOD | {"axle_to_axle": 31.3125}))
    assert bands(SPEC, tuned)["axle_to_axle"].target == 31.3125
    assert bands(SPEC, tuned)["axle_to_axle"].source == "baseline"
    off = facts(takes=takes(GOOD | {"axle_to_axle": 31.0}))
    assert bands(SPEC, off)["axle_to_axle"].target == 31.25
    assert bands(SPEC, off)["axle_to_axle"].source == "book"


def test_what_was_read_with_the_stops_apart_is_aimed_at_as_if_they_had_been_together():
    """The first stop ends the draw early and holds the bow short of its valley (common practice, no
    published source; the size is the twins')."""
    read = GOOD | {"holding_weight": 11.0, "draw_length": 28.5}
    tuned, apart = facts(takes=takes(read)), facts(takes=takes(read | {"stop_gap": 0.1}))
    for name, more in (("draw_length", 0.1), ("holding_weight", 0.1 * 0.1 * SPEC.peak_weight_lbf)):
        was, now = bands(SPEC, tuned)[name], bands(SPEC, apart)[name]
        assert was.source == now.source == "baseline"
        assert now.target == pytest.approx(was.target + more)
        assert "with its stops together" in now.because
    twin = twin_of(Family.BINARY)
    slopes = first_stop_effect_of(twin)
    assert slopes["draw_length"] == pytest.approx(DRAWN_SHORT, abs=0.1)
    assert slopes["holding_weight"] / twin.spec.peak_weight_lbf == pytest.approx(
        HELD_SHORT_SHARE, abs=0.03
    )


def test_the_customers_figure_decides_the_weight():
    band = bands(SPEC, facts(takes=takes(GOOD)), Wishes(52))["peak_weight"]
    assert (band.low, band.high, band.source) == (51, 53, "customer")


def test_what_keeps_a_bow_from_its_owner():
    clean = replace(facts(takes=takes(GOOD)), services=("back_to_spec",))
    assert blockers(clean, bands(SPEC, clean)) == []
    wide = replace(clean, takes=takes(GOOD | {"stop_gap": 0.0625}))
    [found] = blockers(wide, bands(SPEC, wide))
    assert (found.words, found.step) == ("Cam timing is 1/32 in too wide.", "back_to_spec")
    pressed = replace(clean, press=OpenPress(40, "adjust"))
    assert "The press is open." in [one.words for one in blockers(pressed, bands(SPEC, pressed))]
    assert not overridable(pressed)
    held = replace(clean, holds=("do_not_draw",))
    assert not overridable(held)
    assert overridable(wide)


def test_advice_from_facts():
    case = facts(takes=takes(GOOD | {"stop_gap": -0.0625}))
    advice = advise(SPEC, case, bands(SPEC, case), TuningPolicy(), model_prior(SPEC))
    assert advice.plan.kind is PlanKind.CHANGE
    assert advice.sentence.endswith("One press.")
    assert "top stop touches first" in advice.why[0]
    aim = bands(SPEC, case)["stop_gap"]
    assert aim.judge(advice.plan.best.predicted["stop_gap"][0]).side is BandSide.INSIDE


def test_what_was_never_read_gives_no_advice():
    read = {name: value for name, value in GOOD.items() if name != "stop_gap"}
    case = facts(takes=takes(read))
    with pytest.raises(BadInput, match="Read these first: cam timing"):
        advise(SPEC, case, bands(SPEC, case), TuningPolicy(), model_prior(SPEC))


def test_roles():
    require(StaffRole.APPRENTICE, "read")
    with pytest.raises(Refused, match="manager"):
        require(StaffRole.TECHNICIAN, "override")
    assert needs_second_eyes(StaffRole.APPRENTICE, True)
    assert not needs_second_eyes(StaffRole.APPRENTICE, False)
    assert not needs_second_eyes(StaffRole.TECHNICIAN, True)


def test_every_baseline_quantity_says_why_it_would_be_missed():
    assert all(QUANTITIES[name].missed_later for name in BASELINE)


def test_advice_by_the_twin_learns_from_the_jobs_own_changes():
    prior = model_prior(SPEC)
    case = facts(takes=takes(GOOD | {"stop_gap": -0.0625}))
    first = advise(SPEC, case, bands(SPEC, case), TuningPolicy(), prior)
    assert first.plan.kind is PlanKind.CHANGE
    assert first.problem.response.rests_on == "the book"
    (part, count), *_ = first.plan.best.steps.items()
    turned = replace(
        case,
        changes=(LedgerEntry(31, Change.CABLE, part, part, count),),
        takes=case.takes + takes({name: GOOD[name] for name in REQUIRED}, 40, "after"),
    )
    after = advise(SPEC, turned, bands(SPEC, turned), TuningPolicy(), prior)
    assert "one change of this bow" in after.problem.response.rests_on
    assert after.learned.startswith("The last change:")
    assert after.problem.spent[part] == count


def test_repeats_and_replaced_parts_reach_the_estimator_in_order():
    case = facts(
        takes=takes({name: GOOD[name] for name in ("peak_weight", "stop_gap")})
        + takes({"stop_gap": 0.0}, 50, "after"),
        changes=(
            LedgerEntry(31, Change.CABLE, "cable_a", "cable_a", replaced=True),
            LedgerEntry(40, Change.CABLE, "cable_a", "cable_a", 2),
        ),
    )
    events = history(case, model_prior(SPEC))
    assert [type(event).__name__ for event in events] == [
        "Read",
        "Read",
        "Replaced",
        "Turned",
        "Read",
    ]
    assert len(events[0].takes) == 3
