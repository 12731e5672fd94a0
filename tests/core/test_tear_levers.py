"""What moves a tear on a bow: legs, shims, bare shafts as tears; schools; what bows of a model have shown."""

import numpy as np
import pytest

from bowcore.accessories.at_the_nock import nock_start, tear_up_in
from bowcore.adjusters.registry import adjusters_of
from bowcore.adjusters.rest_move import REST_OUT
from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import Family
from bowcore.evidence.facts import LedgerEntry, Take
from bowcore.evidence.looked_at import LookedAt
from bowcore.evidence.shooting_policy import PaperPolicy, ShootingPolicy, SideFirst, UpFirst
from bowcore.evidence.shots import ShaftKind, Shot, ShotTest
from bowcore.measurement.bands import Band, around
from bowcore.quantities.changes import Change
from bowcore.stages.shooting_in.bare_groups import bare_of, bare_rate
from bowcore.stages.shooting_in.bare_shaft import BARE_PER_TEAR, Together
from bowcore.stages.shooting_in.butt import butt_result
from bowcore.stages.shooting_in.next_act import ActKind
from bowcore.stages.shooting_in.shooting_in import paper_is_done, shooting_act
from bowcore.stages.shooting_in.suspects import NOCK_POINT, TIMING_CABLE, Axis, suspects_of
from bowcore.stages.shooting_in.tear_lessons import TearLesson, tear_lesson, together
from bowcore.stages.shooting_in.tear_levers import cable_moves, levers_of
from bowcore.stages.shooting_in.tear_response import (
    SHIM_TEAR_IN,
    TEAR_PER_GAP,
    TriedStep,
    shim_lever,
    tap_lever,
    yoke_lever,
)
from bowcore.stages.shooting_in.tuning import paper_act, tune_of
from tests.core.bows import answered, book, twin_of
from tests.core.test_on_the_bow import facts

SPECS = {
    Family.TWIN: book(Family.TWIN, yokes=("cable_a",)), Family.BINARY: book(Family.BINARY),
}  # fmt: skip
LEFT = ((-0.4, 0.0), (-0.38, 0.03), (-0.42, 0.02))


def paper(*places, at=20, **more):
    return [Shot(at + n, ShotTest.PAPER, 3, x, y, **more) for n, (x, y) in enumerate(places)]


def at_butt(bare, fletched, at=40, yards=20):
    kinds = [*((ShaftKind.BARE, p) for p in bare), *((ShaftKind.FLETCHED, p) for p in fletched)]
    return [
        Shot(at + n, ShotTest.BARE_SHAFT, yards, x, y, kind)
        for n, (kind, (x, y)) in enumerate(kinds)
    ]


def on(family, shots, **more):
    return facts(family=family, shots=tuple(shots), adjusters=adjusters_of(SPECS[family]), **more)


def test_a_nock_that_goes_left_wants_the_left_leg_shorter_and_the_right_longer():
    """Common practice, no published source; one each or a half each, not more at once."""
    lever = next(one for one in levers_of(on(Family.TWIN, paper(*LEFT)), {}) if "yoke" in one.key)
    steps = lever.steps(lever.count_for(-0.2, lever.first))
    left, right = sorted(lever.unit)
    assert steps[left] > 0 > steps[right] and steps[left] == -steps[right] and steps[left] <= 2
    assert lever.units_in(steps) == steps[left] and lever.units_in(Steps({left: 1})) == 0


def test_legs_that_were_turned_far_are_not_turned_farther():
    made = tuple(
        LedgerEntry(9, Change.YOKE_LEG, key, "cable_a", n)
        for key, n in (("cable_a.left", 4), ("cable_a.right", -4))
    )
    levers = levers_of(on(Family.TWIN, (), changes=made), {})
    top = next(one for one in levers if "cable_a.left" in one.unit)
    assert max(top.counts) <= 0


def test_shims_push_the_cam_toward_the_tear_by_the_nearest_pair():
    """Common practice: nock left, the cam goes left, which is more spacer on the right."""
    lever = shim_lever("shim_top", "shim_top", (-40, -20, 20, 40))
    assert lever.count_for(-20 * SHIM_TEAR_IN * 1.1, lever.first) == 20
    assert lever.count_for(0.01, lever.first) == 0


def cleared_but(*keys):
    """Every other suspect to the side was looked at three times and not found."""
    return tuple(
        LookedAt(30 + n, one.key, False)
        for n, one in enumerate([s for s in suspects_of(Axis.SIDE) if s.key not in keys] * 3)
    )


def test_a_lean_that_no_reading_shows_is_tried_by_the_yoke_and_learned():
    looked = (*cleared_but("lean"), LookedAt(55, "lean", False))
    at_its_end = {"centre_shot": around(0.8125, 1 / 16, "book", "")}
    known = on(Family.TWIN, paper(*LEFT), looked_at=looked, takes=(Take(15, "centre_shot", 0.875),))
    act = paper_act(known, at_its_end)
    assert act.kind is ActKind.TAP and act.suspect == "lean"
    assert any(key.endswith(".left") and n > 0 for key, n in act.steps.items())
    made = tuple(LedgerEntry(50, Change.YOKE_LEG, key, "", n) for key, n in act.steps.items())
    after = on(
        Family.TWIN,
        paper(*LEFT) + paper((-0.1, 0.0), (-0.12, 0.02), at=60),
        looked_at=cleared_but("lean"),
        changes=made,
    )
    trial = tune_of(after, {}).trials[-1]
    assert trial.lever.startswith("yoke") and trial.after > trial.before
    assert trial.count == max(act.steps.values())


def test_a_lean_that_was_found_is_put_back_by_the_plan_first():
    looked = (*cleared_but("lean"), LookedAt(55, "lean", True))
    act = paper_act(on(Family.TWIN, paper(*LEFT), looked_at=looked), {})
    assert act.kind is ActKind.MEND and act.suspect == "lean"


def test_before_the_rest_takes_a_lean_away_what_was_found_once_is_mended():
    looked = (
        *cleared_but("rest_side"), LookedAt(56, "rest_side", True), LookedAt(57, "rest_side", True),
        LookedAt(58, "lean", True), LookedAt(59, "lean", False), LookedAt(60, "lean", False),
    )  # fmt: skip
    act = paper_act(on(Family.BINARY, paper(*LEFT), looked_at=looked), {})
    assert act.suspect == "lean" and REST_OUT not in act.steps


def test_bare_shafts_to_the_right_are_a_nock_to_the_left():
    """Common practice, no published source; what to do about it comes from the same suspects."""
    shots = at_butt(((5.0, 0.2), (5.4, -0.1), (5.2, 0.0)), ((0.1, 0.0), (-0.2, 0.1), (0.0, 0.2)))
    looked = (*cleared_but("lean"), LookedAt(55, "lean", False))
    at_its_end = {"centre_shot": around(0.8125, 1 / 16, "book", "")}
    known = on(Family.TWIN, shots, looked_at=looked, takes=(Take(15, "centre_shot", 0.875),))
    result = butt_result(ShotTest.BARE_SHAFT, known, at_its_end)
    assert bare_of(shots).off.verdict is Together.APART and not result.done
    assert (
        result.act is not None and result.act.suspect == "lean" and result.steps == result.act.steps
    )
    assert any(key.endswith(".left") and n > 0 for key, n in result.steps.items())


def test_what_bare_shafts_say_of_a_tear_is_learned_where_both_were_shot():
    """The slope through the origin is that of NumPy's least squares once there is much to see."""
    ratio, shots, changes = -20.0, [], []
    for n, tear in enumerate((-0.5, 0.4, 0.6, -0.7, 0.8, -0.9)):
        start = 100 * (n + 1)
        shots += paper(*((tear, 0.0),) * 4, at=start)
        shots += at_butt(((ratio * tear, 0.0),) * 4, ((0.0, 0.0),) * 4, at=start + 20)
        changes.append(LedgerEntry(start + 60, Change.REST, "rest_back", "", 1))
    rate = bare_rate(facts(shots=tuple(shots), changes=tuple(changes)))
    assert rate.sigma < BARE_PER_TEAR.sigma and ratio <= rate.mean < BARE_PER_TEAR.mean
    assert abs(rate.mean - ratio) < 3 * rate.sigma


@pytest.mark.parametrize(
    ("school", "shots", "done", "at_butt"),
    [
        (ShootingPolicy(PaperPolicy.NEVER), (), False, ShotTest.BARE_SHAFT),
        (ShootingPolicy(PaperPolicy.FIRST_LOOK), paper(*LEFT), False, ShotTest.BARE_SHAFT),
        (ShootingPolicy(PaperPolicy.FIRST_LOOK, ShotTest.FRENCH), paper((0.0, 0.0)), False, None),
        (ShootingPolicy(), paper((0.02, 0.0), (0.0, 0.03)), True, None),
        (ShootingPolicy(last_test=ShotTest.WALK_BACK), paper((0.02, 0.0), (0.0, 0.03)), False,
         ShotTest.WALK_BACK),
    ],
)  # fmt: skip
def test_each_school_ends_where_it_wants(school, shots, done, at_butt):
    act = shooting_act(facts(shots=tuple(shots), shooting_policy=school), {})
    assert (act.done, act.at_butt) == (done, at_butt)


def test_bare_that_meets_fletched_ends_it_where_paper_is_not_shot():
    near = ((0.1, 0.0), (-0.1, 0.1), (0.0, 0.05))
    known = facts(
        shots=tuple(at_butt(near, near)), shooting_policy=ShootingPolicy(PaperPolicy.NEVER)
    )
    assert paper_is_done(known, {}) and shooting_act(known, {}).done


def test_what_the_shop_looks_at_first_comes_first_and_never_the_rest_before_the_nearer_cause():
    up = paper((0.0, 0.4), (0.02, 0.42))
    for first in (UpFirst.TIMING, UpFirst.NOCK):
        act = paper_act(facts(shots=tuple(up), shooting_policy=ShootingPolicy(up_first=first)), {})
        assert act.suspect == first.value
    by_rest = paper_act(
        facts(shots=tuple(paper(*LEFT)), shooting_policy=ShootingPolicy(side_first=SideFirst.REST)),
        {},
    )
    assert by_rest.kind is ActKind.TEST and not by_rest.steps


def test_a_job_teaches_what_was_behind_its_tear_and_what_a_unit_did():
    made = (LedgerEntry(30, Change.LOOP_OR_TIES, "nock_point", "", -2),)
    shots = paper((0.0, 0.4), (0.02, 0.42)) + paper((0.0, 0.05), (0.02, 0.03), at=40)
    lesson = tear_lesson(facts(shots=tuple(shots), changes=made), {})
    assert lesson.mended == "nock" and [one.lever for one in lesson.trials] == ["nock_point"]
    by_hand = (LookedAt(30, "contact_up", False, mended=True),)
    assert tear_lesson(facts(shots=tuple(shots), looked_at=by_hand), {}).mended == "contact_up"
    torn = paper((0.0, 0.4), (0.02, 0.42)) + paper((0.0, 0.4), (0.02, 0.43), at=40)
    assert tear_lesson(facts(shots=tuple(torn), changes=made), {}).mended == ""


def test_the_models_bows_move_the_rate_and_leave_some_doubt():
    """Ten bows with hidden rates about .25: the pooled rate is near their mean, with half our doubt."""
    rng, lever = np.random.default_rng(2), tap_lever("nock_point")
    truth = 0.25 + 0.03 * rng.standard_normal(10)
    lessons = [
        TearLesson(
            "nock", tuple(TriedStep("nock_point", 2, 0.5, 0.5 + 2 * t, 0.03) for _ in range(2))
        )
        for t in truth
    ]
    shown = together(lessons, [lever, yoke_lever("yoke_top", "a", "b", (1,))])
    rate = shown.rates["nock_point"]
    assert abs(rate.mean - truth.mean()) < 0.02 and rate.sigma == pytest.approx(
        lever.first.sigma / 2
    )
    assert shown.shares == {"nock": 10} and "yoke_top" not in shown.rates


def test_shares_of_the_model_move_the_ladder():
    high = tuple(paper((0.0, 0.4), (0.02, 0.42)))
    plain = paper_act(facts(shots=high), {})
    often = paper_act(facts(shots=high, shooting_policy=ShootingPolicy(shares={"pinch": 30})), {})
    assert plain.suspect != "spine_up" and often.suspect == "pinch"


GAP_BAND = Band(-1 / 32, 1 / 32, 0.0, "book", "the book")


@pytest.mark.parametrize("family", list(Family))
def test_what_timing_does_to_a_tear_is_what_the_nocks_path_in_the_twin_does(family):
    """A late top cam throws the nock high (common practice, no published source); one cam has none."""
    twin, spec = twin_of(family), book(family)
    cable = next(one for one in adjusters_of(spec) if one.change is Change.CABLE)
    turned = twin.changed(cable.trial().changes)
    rise = nock_start(twin).above_rest_in - nock_start(turned).above_rest_in
    ratio = tear_up_in(rise, 0.0) / (turned.stop_gap_in - twin.stop_gap_in)
    if family is Family.SINGLE:
        assert abs(ratio) < 0.1
    else:
        assert ratio == pytest.approx(TEAR_PER_GAP, rel=0.2)


def timed(shots, gap=0.0, family=Family.BINARY, **more):
    """A bow whose timing was read, with what its twin says of half a twist."""
    takes = (Take(10, "stop_gap", gap), Take(10, "stop_gap", gap))
    moves = cable_moves(answered(family)[0])
    return on(family, shots, takes=takes, cable_moves=moves, **more)


HIGH = ((0.0, 0.16), (0.02, 0.17))


def timing_of(known, bands):
    return next(one for one in levers_of(known, bands) if one.key == TIMING_CABLE)


def test_half_twists_end_where_timing_would_leave_its_band():
    free = timing_of(timed(paper(*HIGH)), {"stop_gap": GAP_BAND})
    assert set(free.counts) <= {-2, -1, 1, 2} and {-1, 1} <= set(free.counts)
    at_edge = timing_of(timed(paper(*HIGH), gap=1 / 32), {"stop_gap": GAP_BAND})
    (cable,) = at_edge.unit
    later = [
        n for n in free.counts if n * cable_moves(answered(Family.BINARY)[0])[cable]["stop_gap"] > 0
    ]
    assert not set(later) & set(at_edge.counts) and "leave its band" in at_edge.blocked
    unread = timing_of(timed(paper(*HIGH)), {})
    assert not unread.counts and "has to be read" in unread.blocked


def test_a_single_cam_has_no_timing_to_move_a_tear_by():
    known = facts(family=Family.SINGLE, adjusters=adjusters_of(book(Family.SINGLE)),
                  cable_moves=cable_moves(answered(Family.SINGLE)[0]))  # fmt: skip
    assert TIMING_CABLE not in {one.key for one in levers_of(known, {})}


def only(key, axis=Axis.UP):
    """Every other suspect was looked at three times and not found, this one was found twice."""
    others = [one for one in suspects_of(axis) if one.key != key]
    cleared = tuple(LookedAt(31 + n, one.key, False) for n, one in enumerate(others * 3))
    return (*cleared, LookedAt(58, key, True), LookedAt(59, key, True))


def test_a_shop_that_times_first_turns_half_a_twist_before_the_nock_and_learns_from_it():
    school, bands = ShootingPolicy(up_first=UpFirst.TIMING), {"stop_gap": GAP_BAND}
    looked = only("nock")
    first = paper_act(timed(paper(*HIGH), 0.02, looked_at=looked, shooting_policy=school), bands)
    assert first.kind is ActKind.TAP and len(first.steps) == 1
    ((cable, count),) = first.steps.items()
    assert cable.startswith("cable") and "nock kept level" in first.do
    per_step = cable_moves(answered(Family.BINARY)[0])[cable]["stop_gap"]
    assert count * per_step < 0  # the tear is high: the top cam comes forward
    plain = paper_act(timed(paper(*HIGH), 0.02, looked_at=looked), bands)
    assert NOCK_POINT in plain.steps or "rest_up" in plain.steps
    made = (LedgerEntry(60, Change.CABLE, cable, cable, count),)
    after = paper((0.0, 0.17), (0.01, 0.16), at=70)
    known = timed(
        paper(*HIGH) + after, 0.02, looked_at=looked, shooting_policy=school, changes=made
    )
    trial = tune_of(known, bands).trials[-1]
    assert trial.lever == TIMING_CABLE and trial.count == count
    again = paper_act(known, bands)
    assert cable not in again.steps  # timing is stale now, and half a twist did nothing


def test_low_bare_shafts_ask_for_half_a_twist_before_the_rest():
    """Common practice, no published source."""
    low = ((0.0, -1.9), (0.1, -2.1), (0.0, -2.0))
    shots = at_butt(low, ((0.1, 0.0), (-0.1, 0.1), (0.0, 0.0)))
    known = timed(shots, 0.02, looked_at=only("rest_height"))
    act = butt_result(ShotTest.BARE_SHAFT, known, {"stop_gap": GAP_BAND}).act
    assert act is not None and [key for key in act.steps if key.startswith("cable")]


def test_units_that_were_turned_are_counted_though_no_more_may_be():
    """Its room is used up; what it did is a trial all the same."""
    lever = tap_lever(REST_OUT, limits=(0, 0))
    assert not lever.counts and lever.units_in(Steps({REST_OUT: -2})) == -2
    assert lever.units_in(Steps({REST_OUT: 1, NOCK_POINT: 1})) == 0
