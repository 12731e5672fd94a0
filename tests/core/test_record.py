"""Advice from its record is the same advice, to the byte; changes that are not turned in steps."""

import io
import json

import pytest

from bowcore.cli import main
from bowcore.errors import BadInput
from bowcore.measurement.bands import around
from bowcore.measurement.freshness import TABLE
from bowcore.mechanics.specification import Family
from bowcore.planning.history import Changed, Read, Turned, learn
from bowcore.planning.prior import prior_belief
from bowcore.planning.problem import School
from bowcore.planning.reasons import say_why
from bowcore.planning.record import answer_record, option_json, problem_of, problem_record
from bowcore.planning.solver import solve
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.service.facts import Change, Facts, Take
from bowcore.service.gates import gate_points
from bowcore.service.other_changes import OPENING, OTHER_CHANGES, checked_note
from bowcore.service.targets import Wishes, bands, book_bands
from tests.core.bows import TWO_CAMS, answered, book


def learned(family, gap=0.09):
    spec = book(family)
    targets = book_bands(spec)
    reads = [Read(n, b.target, QUANTITIES[n].tool.sigma, 3) for n, b in targets.items()]
    reads[-1] = Read("stop_gap", gap, 0.01, 1)
    return learn(prior_belief(*answered(family)), reads), targets


@pytest.mark.parametrize("family", TWO_CAMS)
@pytest.mark.parametrize("school", [School(), School(half_twists=False, leave=("cable_b",))])
def test_the_same_question_gives_the_same_answer_to_the_byte(family, school):
    known, targets = learned(family)
    problem = known.problem(targets, school, {"limb_bolts": (-2, 4)})
    kept = json.dumps(problem_record(problem))
    again = problem_of(json.loads(kept))
    first, second = solve(problem), solve(again)
    assert json.dumps(problem_record(again)) == kept
    told = io.StringIO()
    assert main(["advice"], io.StringIO(kept), told) == 0
    assert json.loads(told.getvalue()) == answer_record(problem, first)
    for one, two in zip([first.best, *first.alternatives], [second.best, *second.alternatives],
                        strict=True):  # fmt: skip
        assert json.dumps(option_json(problem, one)) == json.dumps(option_json(again, two))


def test_a_record_that_is_not_whole_is_refused():
    known, targets = learned(Family.BINARY)
    record = problem_record(known.problem(targets, School(), {}))
    del record["response"]
    for wrong in (record, record | {"readings": 1}, {}):
        with pytest.raises(BadInput, match="not whole"):
            problem_of(wrong)


def test_every_other_change_has_its_row_in_the_staleness_table():
    assert {kind.key for kind in OTHER_CHANGES} <= set(TABLE)
    assert set(OPENING) <= set(TABLE)


@pytest.mark.parametrize("kind", [kind.key for kind in OTHER_CHANGES])
def test_what_a_change_moves_is_stale_and_the_rest_stays(kind):
    takes = [Take(n, name, 1.0) for n, name in enumerate(QUANTITIES, 1)]
    facts = Facts(Family.BINARY, (), takes=tuple(takes), changes=(Change(99, kind, kind),))
    for name in QUANTITIES:
        assert facts.current(name).fresh == (name not in TABLE[kind]), name


def test_a_change_is_not_logged_without_what_it_was():
    with pytest.raises(BadInput, match="from which letter"):
        checked_note("module_or_stop", "  ")
    with pytest.raises(BadInput, match="What was changed"):
        checked_note("colour", "blue")


def test_after_a_module_the_numbers_are_open_but_the_response_is_still_known():
    known, _ = learned(Family.BINARY)
    opened = learn(prior_belief(*answered(Family.BINARY)), [
        Read("stop_gap", 0.09, 0.01), Turned({"cable_a": 2}), Read("stop_gap", 0.05, 0.01),
        Read("axle_to_axle", 33.0, 0.03), Changed("module_or_stop", TABLE["module_or_stop"]),
    ])  # fmt: skip
    assert "stop_gap" in known.belief.readings() and "stop_gap" not in opened.belief.readings()
    assert opened.belief.readings()["axle_to_axle"][0] == pytest.approx(33.0, abs=0.02)
    assert opened.belief.changes_seen == 1 and not opened.replaced


def test_another_module_takes_the_draw_length_of_the_baseline_away():
    spec = book(Family.BINARY)
    takes = (Take(1, "draw_length", 28.9), Take(2, "holding_weight", 13.0))
    before = bands(spec, Facts(Family.BINARY, (), takes=takes))
    after = Facts(Family.BINARY, (), takes=takes, changes=(Change(3, "module_or_stop", "x"),))
    assert before["draw_length"].source == "baseline" and "draw_length" not in bands(spec, after)
    wished = bands(spec, after, Wishes(draw_length_in=28.5))["draw_length"]
    assert (wished.target, wished.source) == (28.5, "customer")


def test_a_new_cable_comes_without_the_old_ones_spacers_and_leg_twists():
    changes = (
        Change(1, "spacer", "cable_b.spacer", 1), Change(2, "yoke_leg", "cable_b.left", 2),
        Change(3, "limb_bolt", "limb_bolts", 1), Change(4, "cable", "cable_b", replaced=True),
        Change(5, "yoke_leg", "cable_b.left", -1),
    )  # fmt: skip
    facts = Facts(Family.HYBRID, (), changes=changes)
    assert not facts.has_spacers and facts.half_twists("cable_b.left") == -1
    assert facts.half_twists("limb_bolts") == 1
    known, _ = learned(Family.HYBRID)
    known.spent = {"cable_b": 2, "cable_b.left": 2, "limb_bolts": 1}
    known.replace_part("cable_b")
    assert known.spent == {"cable_b": 0, "cable_b.left": 0, "limb_bolts": 1}
    assert any(key.text.startswith("Every spacer") for key in gate_points(Family.HYBRID, True))


def test_draw_that_is_far_off_the_customers_figure_is_a_module():
    """More than a quarter inch of draw is a module or stop (common practice, no published source)."""
    known, targets = learned(Family.BINARY)
    at = known.problem(targets, School(), {}).readings

    def said(wished):
        band = {"draw_length": around(wished, 0.125, "customer", "his figure")}
        problem = learn(prior_belief(*answered(Family.BINARY)), [
            *(Read(n, v, s, 3) for n, (v, s) in at.items()), Read("draw_length", 29.0, 0.03),
        ]).problem(targets | band, School(), {})  # fmt: skip
        return " ".join(say_why(problem, solve(problem)))

    assert "module or a stop" in said(28.0) and "module or a stop" not in said(28.8)
