"""Advice from its record is the same advice, to the byte; changes that are not turned in steps."""

import io
import json

import pytest

from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import Family
from bowcore.deciding.problem import TuningPolicy, problem_after
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.errors import BadInput
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.io.cli import main
from bowcore.io.stored_advice import answer_record, option_answer, problem_from, problem_record
from bowcore.learning.history import OpenedAgain, Turned, learn
from bowcore.learning.prior import prior_belief
from bowcore.measurement.bands import around
from bowcore.measurement.freshness import stale_after
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.response.sensitivity import twin_response
from bowcore.stages.back_to_spec.other_changes import OPENING, OTHER_CHANGES, checked_note
from bowcore.stages.back_to_spec.targets import Wishes, bands, book_bands
from bowcore.stages.replace.gates import BowInPress, gate_points
from tests.core.bows import KITS, TWO_CAMS, answered, book, read, twin_of


def learned(family, gap=0.09):
    spec = book(family)
    targets = book_bands(spec)
    reads = [read(n, b.target, QUANTITIES[n].precision.sigma, 3) for n, b in targets.items()]
    reads[-1] = read("stop_gap", gap, 0.01, 1)
    return learn(prior_belief(*answered(family)), reads), targets


@pytest.mark.parametrize("family", TWO_CAMS)
@pytest.mark.parametrize(
    "school", [TuningPolicy(), TuningPolicy(half_twists=False, leave=("cable_b",))]
)
def test_the_same_question_gives_the_same_answer_to_the_byte(family, school):
    known, targets = learned(family)
    problem = problem_after(known, targets, school, {"limb_bolts": (-2, 4)})
    kept = json.dumps(problem_record(problem))
    again = problem_from(json.loads(kept))
    first, second = find_plan(problem), find_plan(again)
    assert json.dumps(problem_record(again)) == kept
    told = io.StringIO()
    assert main(["advice"], io.StringIO(kept), told) == 0
    assert json.loads(told.getvalue()) == answer_record(problem, first).model_dump(mode="json")
    for one, two in zip([first.best, *first.alternatives], [second.best, *second.alternatives],
                        strict=True):  # fmt: skip
        assert option_answer(problem, one) == option_answer(again, two)


def test_a_record_that_is_not_whole_is_refused():
    known, targets = learned(Family.BINARY)
    record = problem_record(problem_after(known, targets, TuningPolicy(), {}))
    del record["response"]
    for wrong in (record, record | {"readings": 1}, {}):
        with pytest.raises(BadInput, match=r"missing|not whole|expected"):
            problem_from(wrong)


def test_every_change_is_either_turned_in_steps_or_written_down():
    turned = {one.change for one in adjusters_of(book("twin", shim_kits=KITS, spacers_in=(0.125,)))}
    assert {kind.key for kind in OTHER_CHANGES} == set(Change) - turned - {
        Change.YOKE_LEG,
        Change.OPPOSITE_LEGS,
        Change.SHOTS,
        Change.NEW_STRING,
    }
    assert set(OPENING) <= set(Change)


@pytest.mark.parametrize("kind", [kind.key for kind in OTHER_CHANGES])
def test_what_a_change_moves_is_stale_and_the_rest_stays(kind):
    takes = [Take(n, name, 1.0) for n, name in enumerate(QUANTITIES, 1)]
    facts = Facts(Family.BINARY, (), takes=tuple(takes), changes=(LedgerEntry(99, kind),))
    for name in QUANTITIES:
        assert facts.current(name).fresh == (name not in stale_after(kind)), name


def test_a_change_is_not_logged_without_what_it_was():
    with pytest.raises(BadInput, match="from which letter"):
        checked_note(Change.MODULE_OR_STOP, "  ")
    with pytest.raises(BadInput, match="What was changed"):
        checked_note("colour", "blue")


def test_after_a_module_the_numbers_are_open_but_the_response_is_still_known():
    known, _ = learned(Family.BINARY)
    opened = learn(prior_belief(*answered(Family.BINARY)), [
        read("stop_gap", 0.09, 0.01), Turned(Steps({"cable_a": 2})), read("stop_gap", 0.05, 0.01),
        read("axle_to_axle", 33.0, 0.03), OpenedAgain("module", stale_after(Change.MODULE_OR_STOP)),
    ])  # fmt: skip
    assert "stop_gap" in known.belief.readings() and "stop_gap" not in opened.belief.readings()
    assert opened.belief.readings()["axle_to_axle"][0] == pytest.approx(33.0, abs=0.02)
    assert opened.belief.changes_seen == 1 and not opened.replaced


def test_another_module_takes_the_draw_length_of_the_baseline_away():
    spec = book(Family.BINARY)
    takes = (Take(1, "draw_length", 28.9), Take(2, "holding_weight", 13.0))
    before = bands(spec, Facts(Family.BINARY, (), takes=takes))
    after = Facts(Family.BINARY, (), takes=takes, changes=(LedgerEntry(3, Change.MODULE_OR_STOP),))
    assert before["draw_length"].source == "baseline" and "draw_length" not in bands(spec, after)
    wished = bands(spec, after, Wishes(draw_length_in=28.5))["draw_length"]
    assert (wished.target, wished.source) == (28.5, "customer")


def test_a_new_cable_comes_without_the_old_ones_spacers_and_leg_twists():
    changes = (
        LedgerEntry(1, Change.SPACER, "cable_b.spacer", "cable_b", 1),
        LedgerEntry(2, Change.YOKE_LEG, "cable_b.left", "cable_b", 2),
        LedgerEntry(3, Change.LIMB_BOLT, "limb_bolts", steps=1),
        LedgerEntry(4, Change.CABLE, "cable_b", "cable_b", replaced=True),
        LedgerEntry(5, Change.YOKE_LEG, "cable_b.left", "cable_b", -1),
    )  # fmt: skip
    facts = Facts(Family.HYBRID, (), changes=changes)
    assert not facts.in_use(Change.SPACER) and facts.net_steps("cable_b.left") == -1
    assert facts.net_steps("limb_bolts") == 1
    spec = book(Family.HYBRID, yokes=("cable_b",))
    prior = prior_belief(*twin_response(twin_of(Family.HYBRID), adjusters_of(spec)))
    known = learn(prior, [])
    known.spent = {"cable_b": 2, "cable_b.left": 2, "limb_bolts": 1}
    known.replace_part("cable_b")
    assert known.spent == {"cable_b": 0, "cable_b.left": 0, "cable_b.right": 0, "limb_bolts": 1}
    points = gate_points(BowInPress(spec, [Change.SPACER]))
    assert any(point.text.startswith("Every spacer") for point in points)


def test_draw_that_is_far_off_the_customers_figure_is_a_module():
    """More than a quarter inch of draw is a module or stop (common practice, no published source)."""
    known, targets = learned(Family.BINARY)
    at = problem_after(known, targets, TuningPolicy(), {}).readings

    def said(wished, gap=0.0):
        band = {"draw_length": around(wished, 0.125, "customer", "the customer's figure")}
        problem = problem_after(learn(prior_belief(*answered(Family.BINARY)), [
            *(read(n, v, s, 3) for n, (v, s) in at.items() if n != "stop_gap"),
            read("stop_gap", gap, 0.005, 3), read("draw_length", 29.0, 0.03, 3),
        ]), targets | band, TuningPolicy(), {})  # fmt: skip
        return " ".join(say_why(problem, find_plan(problem)))

    assert "module or a stop" in said(27.0) and "module or a stop" not in said(28.8)
    assert "module or a stop" not in said(27.0, gap=0.2)  # the stops come first
