"""A new part judged by a cam's mark while it is squeezed, and what speaks against the verdict.

Squeezing a part is as if it were shorter: the rule is common practice with no published source, and
it is checked here against the equilibrium of each family's twin.
"""

from dataclasses import replace

import pytest

from bowcore.bow.mark_lever import mark_levers
from bowcore.bow.specification import Family, PartSpec
from bowcore.errors import BadInput
from bowcore.evidence.facts import Facts, LedgerEntry, LengthCheck, Take
from bowcore.measurement.cam_mark import PAINT_LINE_IN, Tug
from bowcore.quantities.changes import Change
from bowcore.simulation.simulated_bow import Faults, SimulatedBow
from bowcore.stages.replace.tug import (
    LengthVerdict,
    OtherSigns,
    before_the_tug,
    contradictions,
    judge_by_mark,
    judged_mark,
)
from bowcore.work_order.replacement import ReplacementPolicy
from tests.core.bows import book, rng_of, twin_of

CABLE = PartSpec("cable_b", "Buss cable", "bottom cam to the yoke", 36.0, 24, 0.6)
STRING = PartSpec("string", "String", "", 58.0, 24, 0.4)
FAMILIES = list(Family)


@pytest.mark.parametrize("family", FAMILIES)
def test_a_mark_moves_by_half_an_inch_to_a_little_over_one_for_an_inch_of_a_part(family):
    """0.5 to 1.1 by family: computed once with a separate planar model of the trade's bows."""
    levers = mark_levers(twin_of(family))
    assert set(levers) == {part.role for part in book(family).parts}
    assert all(0.45 < lever < 1.1 for lever in levers.values())


@pytest.mark.parametrize("family", FAMILIES)
@pytest.mark.parametrize("role", ["cable_b", "string"])
@pytest.mark.parametrize(("short_in", "tug"), [(0.15, Tug.AWAY), (-0.15, Tug.TOWARD)])
def test_squeezing_a_short_part_moves_the_mark_away_and_a_long_one_toward(
    family, role, short_in, tug
):
    bow = SimulatedBow(twin_of(family), Faults({role: short_in}), rng_of(1))
    off, seen = bow.mark(role)
    assert seen == tug
    verdict = judge_by_mark(book(family).part(role), seen, off, mark_levers(twin_of(family))[role])
    assert verdict.short_in == pytest.approx(short_in, abs=0.04)


def test_twists_go_out_of_a_short_part_and_into_a_long_one():
    short = judge_by_mark(CABLE, Tug.AWAY, 0.06, 1.0)
    assert short.length is LengthVerdict.SHORT and short.steps < 0 and not short.wrong_part
    long = judge_by_mark(CABLE, Tug.TOWARD, 0.06, 1.0)
    assert long.length is LengthVerdict.LONG and long.steps > 0


def test_a_part_is_left_a_touch_short_because_threads_settle_longer():
    half = 4.5 * CABLE.bundle().shortening_in(1)
    out = judge_by_mark(CABLE, Tug.AWAY, half, 1.0)
    into = judge_by_mark(CABLE, Tug.TOWARD, half, 1.0)
    assert (out.steps, into.steps) == (-4, 5)


def test_the_lever_is_this_bows_own():
    weak, strong = (judge_by_mark(CABLE, Tug.AWAY, 1 / 16, lever) for lever in (0.5, 1.0))
    assert weak.off_in == pytest.approx(2 * strong.off_in)


def test_more_than_four_twists_is_the_wrong_length_counting_those_already_in():
    assert judge_by_mark(CABLE, Tug.TOWARD, 0.25, 1.0).wrong_part
    assert "Send it back" in judge_by_mark(CABLE, Tug.TOWARD, 0.25, 1.0).words
    assert not judge_by_mark(CABLE, Tug.TOWARD, 0.06, 1.0).wrong_part
    assert judge_by_mark(CABLE, Tug.TOWARD, 0.06, 1.0, turned=6).wrong_part


def test_a_painted_line_shows_no_less_than_a_thirty_second():
    on = judge_by_mark(CABLE, Tug.AWAY, PAINT_LINE_IN, 0.5)
    assert on.length is LengthVerdict.RIGHT and "to 1/16 in" in on.words


@pytest.mark.parametrize("off", [-0.1, 3, float("nan")])
def test_a_tug_with_no_distance_is_asked_again(off):
    with pytest.raises(BadInput):
        judge_by_mark(CABLE, Tug.TOWARD, off, 1.0)


def test_on_the_mark_and_off_it_contradict_each_other():
    with pytest.raises(BadInput, match="which of the two"):
        judge_by_mark(CABLE, Tug.STILL, 0.2, 1.0)


ATA = OtherSigns(0.25, {"axle_to_axle": -0.06}, {"axle_to_axle": -0.23})


@pytest.mark.parametrize(
    ("signs", "said"),
    [
        (ATA, []),
        (replace(ATA, measured_short_in=None), []),
        (replace(ATA, measured_short_in=-0.1), ["Measured on the bench"]),
        (replace(ATA, moved={"axle_to_axle": 0.2}), ["Axle to axle has gone up by"]),
        (OtherSigns(-0.2, {"axle_to_axle": 0.2}, ATA.per_inch), ["Measured", "Axle to axle"]),
    ],
)
def test_what_else_was_read_may_contradict_a_verdict(signs, said):
    verdict = judge_by_mark(CABLE, Tug.AWAY, 0.25, 1.0)
    found = contradictions(CABLE, verdict, signs)
    assert [words in line for words, line in zip(said, found, strict=True)] == [True] * len(said)


def test_a_leaning_cam_is_balanced_before_its_mark_is_judged():
    assert any("yoke first" in line for line in before_the_tug(on_a_yoke=True, may_be_drawn=True))
    assert not any("yoke" in line for line in before_the_tug(on_a_yoke=False, may_be_drawn=True))
    assert not before_the_tug(on_a_yoke=False, may_be_drawn=False)


def test_each_part_names_the_mark_that_it_is_judged_by():
    assert "bottom cam" in judged_mark(CABLE, Family.HYBRID)
    assert judged_mark(CABLE, Family.SINGLE) == "The cam's mark"
    assert "either cam" in judged_mark(STRING, Family.TWIN)


def one_by_one(*checks, turned=()):
    changes = [LedgerEntry(5, Change.CABLE, "cable_b", "cable_b", replaced=True)]
    changes += [
        LedgerEntry(seq, Change.CABLE, "cable_b", "cable_b", steps) for seq, steps in turned
    ]
    return Facts(Family.BINARY, ("replace_cable_b", "replace_string"), changes=tuple(changes),
                 checks=checks, replacement=ReplacementPolicy.ONE_BY_ONE)  # fmt: skip


def test_a_part_that_is_off_is_brought_home_and_then_looked_at_again():
    found = LengthCheck(6, "cable_b", steps=-2)
    assert one_by_one().unchecked == ("cable_b",)
    assert one_by_one(found).to_bring_home == found and not one_by_one(found).unchecked
    turned = one_by_one(found, turned=[(7, -2)])
    assert turned.unchecked == ("cable_b",) and turned.to_bring_home is None
    home = one_by_one(found, LengthCheck(8, "cable_b"), turned=[(7, -2)])
    assert not home.unchecked and home.to_bring_home is None


def test_what_the_plan_turns_later_does_not_ask_for_the_mark_again():
    home = one_by_one(LengthCheck(6, "cable_b"), turned=[(9, 3)])
    assert not home.unchecked and home.to_bring_home is None


def test_after_a_wrong_part_it_is_compared_with_the_old_one_again():
    twice = (
        LedgerEntry(5, Change.CABLE, "cable_b", "cable_b", replaced=True),
        LedgerEntry(9, Change.CABLE, "cable_b", "cable_b", replaced=True),
    )
    facts = replace(one_by_one(), changes=twice)
    assert (facts.first_fitted_at("cable_b"), facts.fitted_at("cable_b")) == (5, 9)


def test_a_reading_from_before_a_part_went_on_is_found_whatever_came_after():
    takes = (Take(2, "axle_to_axle", 33.0), Take(6, "axle_to_axle", 32.9))
    facts = replace(one_by_one(), takes=takes)
    before = facts.read_before("axle_to_axle", 5)
    assert before is not None and before.summary is not None and before.summary.value == 33.0
