"""Sets of five pieces, bows without a cable guard, parts that want the axle out."""

from dataclasses import replace

import pytest

from bowcore.bow.specification import PartSpec, length_of, yokes_of
from bowcore.errors import Refused
from bowcore.evidence.facts import Facts, LedgerEntry, LengthCheck
from bowcore.quantities.changes import Change
from bowcore.stages.inspection.places import PLACES, parts_at, places_on
from bowcore.stages.replace.gates import BowInPress, gate_points, require_gate
from bowcore.work_order.replacement import (
    AXLE_OUT,
    ReplacementPolicy,
    part_steps,
    replacement_order,
)
from bowcore.work_order.services import asked_for, parts_to_replace
from bowcore.work_order.supply import require_here
from tests.core.bows import book

HARNESS = {
    role: PartSpec(role, f"{at} yoke harness", "connector to axle", 9.5, 20, 0.5)
    for role, at in (("harness_a", "Bottom"), ("harness_b", "Top"))
}
FIVE = book("twin", yokes=yokes_of("twin"), harnesses=tuple(HARNESS.values()))
ONE_BY_ONE = ReplacementPolicy.ONE_BY_ONE


def on(seq, role, change=Change.CABLE):
    return LedgerEntry(seq, change, role, role, replaced=True)


def test_a_whole_set_of_five_is_asked_for_with_one_tap():
    services = asked_for(["whole_set"], FIVE.replaceable)
    assert set(parts_to_replace(services)) == {"string", "cable_a", "cable_b", *HARNESS}
    assert set(parts_to_replace(asked_for(["whole_set"], book("twin").replaceable))) == {
        "string", "cable_a", "cable_b",
    }  # fmt: skip


def test_a_harness_goes_on_before_the_cable_that_hangs_on_it():
    """Common practice, no published source: the cable's loop sits in the harness's connector."""
    assert replacement_order(FIVE, FIVE.replaceable) == [
        "harness_a", "cable_a", "harness_b", "cable_b", "string",
    ]  # fmt: skip
    (step,) = part_steps(FIVE, ["harness_b"], ONE_BY_ONE)
    assert "before its cable" in step.how[0]


def test_a_new_harness_makes_its_cables_length_unknown_and_is_judged_by_its_mark():
    facts = Facts(
        FIVE.family, ("replace_harness_b",), changes=(on(3, "harness_b"),), replacement=ONE_BY_ONE
    )
    assert facts.unchecked == ("cable_b",) and "cable_b" not in facts.untouched
    assert "cable_a" in facts.untouched and facts.fitted_at("cable_b") == 3
    wrong = replace(facts, checks=(LengthCheck(4, "cable_b", wrong=True),))
    assert wrong.still_to_replace == ("harness_b",)


@pytest.mark.parametrize(
    ("harnessed", "new", "left"),
    [(("cable_b",), "harness_b", 0), (("cable_b",), "cable_b", 2), ((), "cable_b", 0)],
)
def test_legs_are_as_old_as_the_part_that_they_are_of(harnessed, new, left):
    leg = LedgerEntry(2, Change.YOKE_LEG, "cable_b.left", "cable_b", 2)
    facts = Facts(FIVE.family, (), changes=(leg, on(3, new)), harnessed=harnessed)
    assert facts.net_steps("cable_b.left") == left


def test_twists_in_a_cable_stay_when_its_harness_is_new():
    twist = LedgerEntry(2, Change.CABLE, "cable_b", "cable_b", 3)
    facts = Facts(FIVE.family, (), changes=(twist, on(3, "harness_b")), harnessed=("cable_b",))
    assert facts.net_steps("cable_b") == 3
    assert length_of("harness_b") == "cable_b" and length_of("string") == "string"


def test_the_gate_looks_at_connectors_axles_and_guardless_cables():
    assert "harness_closed" in {p.key for p in gate_points(BowInPress(FIVE))}
    out = replace(book("binary").part("cable_a"), axle_out=True)
    spec = replace(
        book("binary"),
        parts=tuple(out if p.role == "cable_a" else p for p in book("binary").parts),
        guardless=True,
    )
    points = gate_points(BowInPress(spec, replaced=("cable_a",)))
    assert "axle_in" in {p.key for p in points}
    assert "axle_in" not in {p.key for p in gate_points(BowInPress(spec))}
    (guard,) = (p.text for p in points if p.key == "guard_side")
    assert "own side" in guard
    with pytest.raises(Refused, match="axle is in and centred"):
        require_gate(BowInPress(spec, replaced=("cable_a",)), [])
    assert part_steps(spec, ["cable_a"], ONE_BY_ONE)[0].how[0] == AXLE_OUT


def test_a_guardless_bow_has_no_guard_to_inspect():
    assert len(places_on(replace(book("binary"), guardless=True))) == len(PLACES) - 1
    assert len(places_on(book("binary"))) == len(PLACES)
    assert "harness_b" in parts_at("cables", FIVE.replaceable)


def test_no_press_for_what_nobody_has():
    supply = {"harness_a": "from the shelf", "cable_a": "order it"}
    require_here(FIVE, ["harness_a"], supply, ())
    require_here(FIVE, ["cable_a"], supply, ("cable_a",))
    with pytest.raises(Refused, match="cable"):
        require_here(FIVE, ["harness_a", "cable_a"], supply, ())
