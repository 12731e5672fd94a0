"""Taking back, and which way to turn."""

from math import cos, pi, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bowcore.errors import Refused
from bowcore.planning.problem import Option
from bowcore.planning.reasons import _say_legs
from bowcore.planning.words import say_adjuster, say_steps, say_turning
from bowcore.service.facts import Change
from bowcore.service.take_back import can_take_back, take_back

KEYS = st.sampled_from(["cable_a", "cable_b.left", "limb_bolts", "shim_top"])
CHANGES = st.lists(st.builds(Change, st.integers(1, 9), st.just("cable"), KEYS,
                             st.integers(-4, 4).filter(bool)), max_size=8)  # fmt: skip


@given(CHANGES, st.integers(1, 9))
def test_what_is_taken_back_cancels_what_was_done_since(changes, since):
    if not can_take_back(changes, since):
        with pytest.raises(Refused):
            take_back(changes, since)
        return
    undone = take_back(changes, since)
    for key in {change.part for change in changes}:
        done = sum(c.half_twists for c in changes if c.part == key and c.seq >= since)
        assert done + undone.get(key, 0) == 0
    assert all(undone.values())


def test_an_old_part_is_not_brought_back_by_twisting():
    changes = [Change(2, "cable", "cable_a", replaced=True), Change(4, "cable", "cable_a", 2)]
    with pytest.raises(Refused, match="replaced"):
        take_back(changes, 1)
    assert take_back(changes, 3) == {"cable_a": -2}


def helix(turns_per_in, twist_rad=0.0):
    """A strand at the near end, z towards the looker, an inch of it; `twist_rad` turns that end."""
    return [
        (cos(t), sin(t)) for t in (2 * pi * turns_per_in * z + twist_rad * z for z in (0.0, 1.0))
    ]


@pytest.mark.parametrize(("lay", "hand"), [("right", 1), ("left", -1)])
def test_in_is_the_way_that_winds_the_threads_tighter(lay, hand):
    """By geometry: right-handed threads run like a Z seen from the side, and a counter-clockwise turn
    of the near end, seen from there, adds to their angle per inch; left-handed ones mirror that."""
    counter_clockwise = "counter" in say_turning(lay)
    turn = 0.3 if counter_clockwise else -0.3

    def wound(twist):
        (x0, y0), (x1, y1) = helix(0.1 * hand, twist)
        return abs(x0 * y1 - y0 * x1)  # sine of the angle that an inch of thread goes round

    assert wound(turn) > wound(0.0) > wound(-turn)
    front = 2 * pi * 0.1 * hand  # slope of the thread on the side that faces a looker from the side
    assert ("Z" in say_turning(lay)) == (front > 0)


def test_nobody_is_told_which_way_when_the_lay_is_not_known():
    assert say_turning("") == ""


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
    labels = {"cable_a": "Control cable", "cable_b": "Buss cable"}
    assert (say_adjuster(key, labels), say_steps(key, steps)) == (name, said)


@pytest.mark.parametrize(
    ("left", "right", "word"), [(1, -1, "lean alone"), (2, 2, "the lean stays"), (1, 0, "together")]
)
def test_what_the_legs_of_a_yoke_do_is_said(left, right, word):
    """Both legs are a cable, opposite legs lean, one leg both (common practice, no published source)."""
    steps = [("cable_b.left", left), ("cable_b.right", right)]
    option = Option(tuple(s for s in steps if s[1]), {}, 1.0, True, 0.0)
    (said,) = _say_legs(option)
    assert word in said
    assert _say_legs(Option((("cable_b", 1),), {}, 1.0, True, 0.0)) == []
