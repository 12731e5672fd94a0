"""Shims chosen by the tear, and lean before fine timing."""

import pytest

from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.steps import Steps
from bowcore.bow.kits import ShimKit
from bowcore.deciding.problem import Problem
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change
from bowcore.quantities.entries import read_entry
from bowcore.stages.back_to_spec.shims_by_tear import shims_by_tear
from tests.core.bows import book

THIN = ShimKit("thin", ((0.105, 0.145), (0.125, 0.125), (0.145, 0.105)))
THICK = ShimKit("thick", ((0.065, 0.185), (0.185, 0.065)))
BOW = book("binary", shim_kits=(THIN, THICK))
IN = {"shims_top": "0.125/0.125", "shims_bottom": "0.125/0.125"}


def torn(inches, *changes, marks=IN):
    takes = (Take(5, "tear_side", inches),)
    return Facts(BOW.family, (), takes=takes, changes=changes, marks=marks)


def move(facts):
    return shims_by_tear(facts, adjusters_of(BOW))


def moved(key, steps):
    return LedgerEntry(3, Change.SHIM, key, "", steps)


def test_the_top_cam_is_pushed_toward_the_tear_with_the_thin_kit():
    """Common practice, no published source: toward the tear, thick spacer on the far side."""
    found = move(torn(-3 / 8))
    assert found.steps == Steps({"shim_top": 40})
    assert "left 0.105, right 0.145 (thin)" in found.words and "nock left" in found.words
    assert move(torn(3 / 8)).steps == Steps({"shim_top": -40})


def test_then_the_bottom_cam_then_the_thicker_kit():
    once = moved("shim_top", 40)
    assert move(torn(-3 / 8, once)).steps == Steps({"shim_bottom": 40})
    twice = (once, moved("shim_bottom", 40))
    assert move(torn(-3 / 8, *twice)).steps == Steps({"shim_top": 80})
    out = (moved("shim_top", 120), moved("shim_bottom", 120))
    assert move(torn(-3 / 8, *out)) is None


def test_nothing_is_proposed_without_a_tear_or_without_knowing_what_is_in():
    assert move(torn(1 / 16)) is None
    assert move(torn(-3 / 8, marks={})) is None
    assert move(torn(-3 / 8, LedgerEntry(9, Change.REST))) is None  # shot before the rest was moved
    assert move(Facts(BOW.family, (), marks=IN)) is None


def test_a_tear_is_entered_by_where_the_nock_is():
    what = QUANTITIES["tear_side"]
    assert what.say(read_entry(what, "3/8", "left").value) == "nock 3/8 left"
    assert what.say(read_entry(what, "", "clean").value) == "clean hole"


@pytest.mark.parametrize("family", ["hybrid", "twin"])
def test_a_yoke_leg_is_turned_before_a_cable_and_a_spacer_last(family):
    spec = book(family, yokes=("cable_b",), spacers_in=(1 / 8,))
    every = adjusters_of(spec)
    keys = [one.key for one in every]
    steps = Steps(dict.fromkeys(reversed(keys), 1))
    names = [one.kind for one, _ in _problem(every).turned(steps)]
    assert names.index("yoke_leg") < names.index("string_or_cable") < names.index("spacer")


def _problem(every):
    class Bare(Problem):
        def __init__(self):
            self.__dict__["_by"] = {one.key: one for one in every}

        def adjuster(self, key):
            return self.__dict__["_by"][key]

    return Bare()
