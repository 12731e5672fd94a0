"""How people pace it at the paper: one look for both ways, readings by sign and size, taps that test."""

from dataclasses import replace

import pytest

from bowcore.accessories.on_the_bow import OnTheBow, thing
from bowcore.bow.specification import Family
from bowcore.evidence.facts import LedgerEntry, Take
from bowcore.evidence.looked_at import LookedAt
from bowcore.measurement.bands import Band, around
from bowcore.quantities.changes import Change
from bowcore.stages.course import course
from bowcore.stages.fit.fit_needs import fit_outside, fit_unread
from bowcore.stages.shooting_in.next_act import ActKind
from bowcore.stages.shooting_in.tuning import paper_act, tune_of
from bowcore.work_order.services import SHOOT_IN
from tests.core.test_tear_levers import on, paper

HIGH_LEFT = ((-0.4, 0.42), (-0.38, 0.4), (-0.42, 0.41))
LEFT, HIGH = ((-0.4, 0.0), (-0.38, 0.02)), ((0.0, 0.4), (0.02, 0.38))
ARROW = thing("arrow").read(
    {"name": "own", "mass_gr": "412", "length_in": "28 1/4", "shaft_in": ".246"}
)
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


def test_who_was_cleared_by_another_archer_stays_cleared_after_a_tap_and_is_not_asked_again():
    """Common practice, no published source."""
    same = paper((-0.4, 0.02), (-0.41, 0.0), at=30, shooter="Ode")
    after = paper((-0.3, 0.0), (-0.28, 0.02), at=50)
    tap = LedgerEntry(40, Change.REST, "rest_out", "", 1)
    known = on(Family.TWIN, [*paper(*LEFT), *same, *after], changes=(tap,))
    assert "hand" in findings(known) and not findings(known)["hand"].found
    assert "hand" in tune_of(known, BANDS).known_by_reading
    another = replace(known, changes=(tap, LedgerEntry(45, Change.ARROW_OR_NOCK)))
    assert "hand" not in findings(another)  # with another arrow everything is open again


def test_a_beginners_tear_that_is_always_one_way_is_not_left_as_spread():
    """Common practice, no published source."""
    wide = [(-0.3 + off, 0.0) for off in (-0.7, -0.25, 0.0, 0.25, 0.7, 0.1, -0.5, 0.45, -0.1) * 2]
    known = on(Family.TWIN, paper(*wide))
    act = paper_act(known, BANDS)
    assert act.kind is ActKind.TEST and act.suspect == "hand" and "scatter" in act.why
    others = paper((-0.3, 0.0), (-0.28, 0.02), at=60, shooter="Ode")
    asked = paper_act(replace(known, shots=(*known.shots, *others)), BANDS)
    assert asked.suspect != "hand" and asked.kind is not ActKind.LEAVE  # it is the bow, then
    around_nothing = on(Family.TWIN, paper(*[(x + 0.15, y) for x, y in wide]))
    assert paper_act(around_nothing, BANDS).kind is ActKind.LEAVE


def test_what_another_archer_showed_is_over_once_it_was_mended():
    clean = paper((0.0, 0.02), (0.02, 0.0), at=30, shooter="Ode")
    after = paper((-0.38, 0.0), (-0.4, 0.02), at=50)
    mended = LookedAt(40, "hand", True, mended=True)
    known = on(Family.TWIN, [*paper(*LEFT), *clean, *after], looked_at=(mended,))
    shown = [one for one in tune_of(known, BANDS).findings if one.suspect == "hand"]
    assert [bool(one.mended) for one in shown] == [False, True]  # found, then mended in vain
    assert paper_act(known, BANDS).suspect != "hand"


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
    vain = [(30, "heel"), (40, "pinch"), (50, "contact_up"), (60, "spine_up")]
    shots = [s for at, _ in vain for s in paper((0.0, 0.4), (0.02, 0.38), at=at - 8)]
    shots += paper((0.0, 0.4), (0.02, 0.38), at=70)
    looked = tuple(LookedAt(at, key, True, mended=True) for at, key in vain)
    known = on(Family.TWIN, shots, looked_at=looked)
    act = paper_act(known, BANDS)
    assert act.kind is ActKind.TAP and set(act.steps) <= {"nock_point", "rest_up"}
    assert "a small sum of things" in act.why
    fixed = replace(known, adjusters=())
    assert paper_act(fixed, BANDS).kind in (ActKind.TAP, ActKind.LEAVE)


def tapped(*more, shots=None):
    """The nock was tapped by the tear, or before anything was shot."""
    tap = LedgerEntry(30, Change.LOOP_OR_TIES, "nock_point", "", -4)
    shots = paper(*HIGH) if shots is None else shots
    return on(
        Family.TWIN, shots, services=("fit", SHOOT_IN), changes=(tap, *more),
        on_bow=OnTheBow({"arrow": ARROW}), takes=(Take(15, "arrow_level", 0.06),),
    )  # fmt: skip


def test_what_the_tear_has_set_is_not_put_back_by_the_fit():
    """Level and height are where shooting in begins, not where it ends (common practice)."""
    low = (Take(15, "arrow_level", 0.06), Take(40, "arrow_level", -0.12))
    by_the_tear, before_it = (replace(tapped(shots=s), takes=low) for s in (paper(*HIGH), ()))
    assert "arrow_level" in fit_outside(before_it, BANDS)
    assert "arrow_level" not in fit_outside(by_the_tear, BANDS)


def test_while_it_is_shot_in_nothing_is_read_again_but_after_a_new_string():
    assert "arrow_level" in fit_unread(tapped())
    assert "arrow_level" not in course(tapped(), BANDS).situation.fit_unread
    new = tapped(LedgerEntry(35, Change.STRING, "string", "string", 0, True))
    assert "arrow_level" in course(new, BANDS).situation.fit_unread
    clean = tapped(shots=[*paper(*HIGH), *paper((0, 0), (0.02, 0), (0, 0.02), at=50)])
    assert "arrow_level" in course(clean, BANDS).situation.fit_unread


def test_what_follows_from_the_facts_is_computed_once_for_the_same_bands():
    known, asked = tapped(), []

    def compute():
        asked.append(1)
        return len(asked)

    same = {"arrow_level": BANDS["arrow_level"]}
    assert known.once("x", BANDS, compute) == known.once("x", BANDS, compute) == 1
    assert known.once("x", same, compute) == 2 and known.once("y", BANDS, compute) == 3
    assert replace(known, holds=()).once("x", BANDS, compute) == 4  # other facts, though equal


def test_a_bow_too_light_for_the_chart_breaks_nothing():
    light = thing("arrow").read(
        {
            "name": "own",
            "mass_gr": "200",
            "length_in": "24",
            "shaft_in": ".2",
            "spine": "900",
            "point_gr": "20",
        }
    )
    known = on(
        Family.TWIN,
        paper(*HIGH),
        on_bow=OnTheBow({"arrow": light}),
        takes=(Take(15, "peak_weight", 10.0),),
    )
    assert not any("by weight and length" in one.words for one in tune_of(known, BANDS).findings)
