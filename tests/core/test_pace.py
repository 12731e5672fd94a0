"""How people pace it at the paper: one look for both ways, readings by sign and size, taps that test."""

from dataclasses import replace

import pytest

from bowcore.bow.specification import Family
from bowcore.evidence.facts import Take
from bowcore.evidence.looked_at import LookedAt
from bowcore.measurement.bands import Band, around
from bowcore.stages.shooting_in.next_act import ActKind
from bowcore.stages.shooting_in.tuning import paper_act, tune_of
from tests.core.test_tear_levers import on, paper

HIGH_LEFT = ((-0.4, 0.42), (-0.38, 0.4), (-0.42, 0.41))
LEFT, HIGH = ((-0.4, 0.0), (-0.38, 0.02)), ((0.0, 0.4), (0.02, 0.38))
BANDS = {
    "centre_shot": around(0.8125, 1 / 16, "book", ""), "arrow_level": Band(0, 1 / 8, 1 / 16, "policy", ""),
}  # fmt: skip


def findings(known, bands=BANDS):
    return {one.suspect: one for one in tune_of(known, bands).findings}


def test_a_look_at_contact_speaks_for_both_ways():
    """Common practice, no published source."""
    known = on(Family.TWIN, paper(*HIGH_LEFT), looked_at=(LookedAt(30, "contact_side", False),))
    found = findings(known)
    assert {"contact_up", "contact_side"} <= set(found) and not found["contact_up"].found


def test_another_archer_speaks_for_both_ways_where_it_tears_both_ways():
    others = paper((0.02, 0.03), (0.0, 0.05), at=30, shooter="Ode")
    found = findings(on(Family.TWIN, [*paper(*HIGH_LEFT), *others]))
    assert found["hand"].found and found["heel"].found
    sideways = findings(on(Family.TWIN, [*paper(*LEFT), *others]))
    assert "hand" in sideways and "heel" not in sideways  # nothing tears up or down


@pytest.mark.parametrize(
    ("shots", "key", "value", "suspect", "accuses"),
    [
        (HIGH, "arrow_level", 0.3, "nock", True),  # a high nock tears high
        (HIGH, "arrow_level", -0.1, "nock", False),  # a low one does not
        (HIGH, "arrow_level", 0.13, "nock", True),
        (LEFT, "centre_shot", 0.70, "rest_side", True),  # too far in: the nock goes left
        (LEFT, "centre_shot", 0.95, "rest_side", False),
        (((-3.0, 0.0), (-3.05, 0.02)), "centre_shot", 0.74, "rest_side", False),  # far too little
    ],
)
def test_a_reading_accuses_only_of_a_tear_that_it_could_make(shots, key, value, suspect, accuses):
    known = on(Family.TWIN, paper(*shots), takes=(Take(15, key, value),))
    found = findings(known)[suspect]
    assert found.found == accuses
    assert accuses or "outside, not this tear" in found.words


def test_what_nobody_is_to_blame_for_is_tapped_before_it_is_left():
    vain = [(30, "heel"), (40, "pinch"), (50, "contact_up")]
    shots = [s for at, _ in vain for s in paper((0.0, 0.4), (0.02, 0.38), at=at - 8)]
    shots += paper((0.0, 0.4), (0.02, 0.38), at=60)
    looked = tuple(LookedAt(at, key, True, mended=True) for at, key in vain)
    known = on(Family.TWIN, shots, looked_at=looked)
    act = paper_act(known, BANDS)
    assert act.kind is ActKind.TAP and set(act.steps) <= {"nock_point", "rest_up"}
    assert "a small sum of things" in act.why
    fixed = replace(known, adjusters=())
    assert paper_act(fixed, BANDS).kind in (ActKind.TAP, ActKind.LEAVE)
