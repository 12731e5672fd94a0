"""Numbers that ask for a second look: typed without the space, of another quantity, of another bow."""

from dataclasses import replace

import pytest

from bowcore.bow.specification import Family
from bowcore.evidence.entry_check import outside_limits, why_doubted
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.measurement.bands import around
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.quantities.changes import Change

BOOK = {
    "axle_to_axle": around(39.25, 0.125, "book", ""),
    "peak_weight": around(60, 1, "book", ""),
    "brace_height": around(6.5, 0.125, "book", ""),
}
NOTHING = Facts(Family.BINARY, ())


def read(*takes, changed=0):
    changes = (LedgerEntry(changed, Change.CABLE, "cable_a", "cable_a", 2),) if changed else ()
    found = tuple(Take(seq, name, value) for seq, (name, value) in enumerate(takes, 1))
    return replace(NOTHING, takes=found, changes=changes)


def doubt(name, value, text="", facts=NOTHING, bands=BOOK):
    return why_doubted(QUANTITIES[name], value, text, facts, bands)


@pytest.mark.parametrize(
    ("name", "value", "text", "facts", "said"),
    [
        ("axle_to_axle", 41.375, "331/8", NOTHING, "Did you mean 33 1/8 in?"),
        ("axle_to_axle", 34.875, "34 7/8", NOTHING, "by the book it is 39 1/4"),
        ("axle_to_axle", 331.0, "331", NOTHING, "is outside 20 to 50"),
        ("peak_weight", 12.0, "12", read(("peak_weight", 59.5)), "the take before it was 59.5"),
        (
            "brace_height",
            8.0,
            "8",
            read(("brace_height", 6.5), changed=2),
            "before the last change",
        ),
    ],
)
def test_what_is_asked_about(name, value, text, facts, said):
    assert said in doubt(name, value, text, facts)


@pytest.mark.parametrize(
    ("name", "value", "facts"),
    [
        ("axle_to_axle", 39.5, NOTHING),
        ("peak_weight", 61.0, read(("peak_weight", 59.5))),  # a scale's repeats differ by a pound
        ("peak_weight", 52.0, read(("peak_weight", 59.5), changed=2)),
        ("stop_gap", -0.5, NOTHING),  # no book says where a worn bow's stops are
        ("axle_to_axle", 34.875, read(("axle_to_axle", 34.8))),  # the bow outranks its book
    ],
)
def test_what_is_taken_as_it_is(name, value, facts):
    assert doubt(name, value, facts=facts) == ""


def test_the_two_faces_of_a_cam_may_differ():
    assert doubt("lean", 0.6, facts=read(("lean", -0.6))) == ""


def test_a_suggestion_needs_a_plausible_number():
    assert "Did you mean" not in doubt("axle_to_axle", 120.0, "960/8")
    assert "Did you mean" not in doubt("axle_to_axle", 107.4, "859/8")  # nobody writes 85 9/8
    assert "Did you mean" not in doubt("axle_to_axle", 120.0, "961/0")
    assert outside_limits(QUANTITIES["peak_weight"], 60.0) == ""
