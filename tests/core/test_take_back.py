"""Taking back, and which way to turn."""

import json
from math import cos, pi, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bowcore.adjusters.registry import (
    KINDS,
    adjuster_from_json,
    adjuster_in,
    adjuster_to_json,
    adjusters_of,
)
from bowcore.adjusters.steps import NO_STEPS, Steps
from bowcore.adjusters.yoke_leg import YokeLeg
from bowcore.bow.lay import NOT_LOOKED_AT, Lay, lay_of, mixed, say_turning
from bowcore.bow.specification import BowSpec, Family, PartSpec
from bowcore.errors import BadInput, Refused
from bowcore.evidence.facts import LedgerEntry
from bowcore.quantities.changes import Change
from bowcore.stages.replace.take_back import possible_reverse, reverse_since
from tests.core.bows import KITS

PARTS = (
    PartSpec("cable_a", "Control cable", "", 36, 24, 0.6),
    PartSpec("cable_b", "Buss cable", "", 36, 24, 0.6),
    PartSpec("string", "String", "", 58, 24, 0.4),
)
SPEC = BowSpec(
    "x",
    Family.HYBRID,
    33,
    6.5,
    29,
    60,
    0.8,
    PARTS,
    yokes=("cable_b",),
    shim_kits=KITS,
    spacers_in=(1 / 8,),
    nock_step_in=1 / 16,
)
KEYS = st.sampled_from(["cable_a", "cable_b.left", "limb_bolts", "shim_top"])
CHANGES = st.lists(st.builds(LedgerEntry, st.integers(1, 9), st.just(Change.CABLE), KEYS,
                             st.just(""), st.integers(-4, 4).filter(bool)), max_size=8)  # fmt: skip


@given(CHANGES, st.integers(1, 9))
def test_what_is_taken_back_cancels_what_was_done_since(changes, since):
    if not possible_reverse(changes, since):
        with pytest.raises(Refused):
            reverse_since(changes, since)
        return
    undone = reverse_since(changes, since)
    for key in {change.adjuster for change in changes}:
        done = sum(c.steps for c in changes if c.adjuster == key and c.seq >= since)
        assert done + undone.get(key, 0) == 0
    assert all(undone.values())


def test_an_old_part_is_not_brought_back_by_twisting():
    changes = [
        LedgerEntry(2, Change.CABLE, "cable_a", "cable_a", replaced=True),
        LedgerEntry(4, Change.CABLE, "cable_a", "cable_a", 2),
    ]
    with pytest.raises(Refused, match="replaced"):
        reverse_since(changes, 1)
    assert reverse_since(changes, 3) == Steps({"cable_a": -2})


def helix(turns_per_in, twist_rad=0.0):
    """A strand at the near end, z towards the looker, an inch of it; `twist_rad` turns that end."""
    return [
        (cos(t), sin(t)) for t in (2 * pi * turns_per_in * z + twist_rad * z for z in (0.0, 1.0))
    ]


@pytest.mark.parametrize(("lay", "hand"), [(Lay.Z, 1), (Lay.S, -1)])
def test_in_is_the_way_that_winds_the_threads_tighter(lay, hand):
    """By geometry: right-handed threads run like a Z seen from the side, and a counter-clockwise turn
    of the near end, seen from there, adds to their angle per inch; left-handed ones mirror that."""
    counter_clockwise = "counter" in say_turning({"top cable": lay})
    turn = 0.3 if counter_clockwise else -0.3

    def wound(twist):
        (x0, y0), (x1, y1) = helix(0.1 * hand, twist)
        return abs(x0 * y1 - y0 * x1)  # sine of the angle that an inch of thread goes round

    assert wound(turn) > wound(0.0) > wound(-turn)
    front = 2 * pi * 0.1 * hand  # slope of the thread on the side that faces a looker from the side
    assert ("Z" in say_turning({"top cable": lay})) == (front > 0)


def test_where_nobody_has_looked_at_the_threads_both_ways_are_said():
    assert say_turning({"top cable": Lay.Z, "string": None}) == NOT_LOOKED_AT
    assert say_turning({}) == ""


def test_parts_that_run_differently_are_each_named():
    words = say_turning({"top cable": Lay.Z, "string": Lay.S})
    assert "top cable counter-clockwise" in words and "string clockwise" in words
    assert "mixes lays" in mixed({"Top cable": Lay.Z, "String": Lay.S})
    assert mixed({"Top cable": Lay.Z, "String": None, "Bottom cable": Lay.Z}) == ""


def test_only_the_two_lays_are_understood():
    assert lay_of("z") is Lay.Z and lay_of("unknown") is None and lay_of("") is None


@pytest.mark.parametrize(
    ("key", "steps", "name", "said"),
    [
        ("cable_a", 3, "Control cable", "one and a half twists in"),
        ("cable_b.left", -1, "Buss cable, left leg", "half a twist out"),
        ("cable_b.spacer", 39, "Buss cable, spacer", "0.0039 in shorter"),
        ("shim_top", -20, "Shims, top cam", "cam 0.01 in further right"),
        ("bolt_bottom", 3, "Bottom limb bolt", "one and a half turns out"),
        ("limb_bolts", 3, "Both limb bolts", "one and a half turns out"),
        ("limb_bolts", -1, "Both limb bolts", "half a turn in"),
    ],
)
def test_every_adjuster_is_said_as_people_say_it(key, steps, name, said):
    adjuster = adjuster_in(adjusters_of(SPEC), key)
    assert (adjuster.label, adjuster.say(steps)) == (name, said)


@pytest.mark.parametrize(
    ("left", "right", "words"),
    [(1, -1, "only the lean"), (2, 2, "the lean stays"), (1, 0, "lean and timing")],
)
def test_what_the_legs_of_a_yoke_do_is_said(left, right, words):
    """Both legs are a cable, opposite legs lean, one leg both (common practice, no published source)."""
    legs = [adjuster_in(adjusters_of(SPEC), f"cable_b.{side}") for side in ("left", "right")]
    (said,) = YokeLeg.remarks([(leg, n) for leg, n in zip(legs, (left, right), strict=True) if n])
    assert words in said


KINDS_HERE = {one.kind: one for one in adjusters_of(SPEC)}


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_adjuster_is_whole(kind):
    """What the rest of the program asks of an adjuster has an answer for each kind."""
    one = KINDS_HERE[kind]
    assert one.change in Change and one.step_word and one.minutes > 0
    assert one.say(2) != one.say(-2)
    assert one.trial().per_step
    low, high = one.usual_totals(8)
    assert low <= 0 <= high
    steps = one.possible_steps(0, (-2, 2) if kind == "limb_bolt" else None, 8)
    assert steps and 0 not in steps and len(set(steps)) == len(steps)
    assert adjuster_from_json(json.loads(json.dumps(adjuster_to_json(one)))) == one
    with pytest.raises(BadInput):
        adjuster_from_json({"kind": "hammer"})


def test_steps_drop_zeros_add_up_and_turn_round():
    steps = Steps({"a": 2, "b": 0}) + Steps([("a", -2), ("c", 1)])
    assert steps == Steps({"c": 1}) and -steps == Steps({"c": -1}) and not NO_STEPS
    assert hash(Steps({"a": 1, "b": 2})) == hash(Steps({"b": 2, "a": 1}))
    with pytest.raises(BadInput):
        Steps({"a": 1.5})
