"""Who is behind a tear: Bayes' rule against counting, and the engine against the ladder on hidden cases."""

from collections import Counter
from itertools import permutations

import numpy as np
import pytest
from bench.tune_loop import WAYS, Session, hidden_causes
from scipy.stats import norm

from bowcore.adjusters.rest_move import REST_OUT
from bowcore.errors import BadInput
from bowcore.evidence.shots import Shot, ShotTest, group_of
from bowcore.io.cli import answer_case
from bowcore.simulation.simulated_archer import OTHER_WORLD, World, simulated_archer
from bowcore.stages.shooting_in.minutes_to_done import (
    HIDING_MINUTES,
    SHOOT_TWO_MINUTES,
    after_a_tap,
    after_a_test,
    minutes_to_done,
)
from bowcore.stages.shooting_in.next_act import (
    LOOKED_AT_BEFORE,
    ActKind,
    Tune,
    next_act,
    worst_axis,
)
from bowcore.stages.shooting_in.suspects import (
    BY_KEY,
    SMALL_SUM,
    SMALL_SUM_IN,
    SUSPECTS,
    TWO_AT_ONCE,
    USUAL_TEAR_IN,
    Axis,
    Causes,
    Evidence,
    Mending,
    SuspectStanding,
    mending,
    possible_causes,
    suspects_of,
    suspicions,
)
from bowcore.stages.shooting_in.tear_response import (
    TriedStep,
    tap_lever,
)
from bowcore.stages.shooting_in.two_clusters import lies_in_two


def tears(*places):
    return [Shot(at, ShotTest.PAPER, 3.0, x, y) for at, (x, y) in enumerate(places, 1)]


HIGH = tears((0.0, 0.5), (0.05, 0.45))
LEFT = tears((-0.5, 0.0), (-0.45, 0.05))


def test_chances_are_what_counting_worlds_gives():
    """Causes drawn by their shares, a second one in some, tests by their errors: of the worlds that fit what
    was found, in how many each suspect is behind the tear."""
    rng, known, worlds = np.random.default_rng(2), suspects_of(Axis.UP), 400_000
    shares = np.array([one.prior for one in known]) / sum(one.prior for one in known)
    seen = 0.4
    small, large = (norm.pdf(seen, 0, spread) for spread in (SMALL_SUM_IN, USUAL_TEAR_IN))
    nobody = rng.random(worlds) < SMALL_SUM * small / (SMALL_SUM * small + large)
    first, second = (rng.choice(len(known), worlds, p=shares) for _ in range(2))
    two = rng.random(worlds) < TWO_AT_ONCE
    keep = ~(two & (first == second))  # drawn again where both are the same
    again = rng.random(worlds) < 1 - (shares**2).sum()
    keep &= two | again  # so that two at once stay as frequent
    behind = np.zeros((worlds, len(known)), bool)
    behind[np.arange(worlds), first] = True
    behind[two, second[two]] = True
    behind[nobody], keep = False, np.where(nobody, again, keep)
    for key, found in (("timing", False), ("pinch", True)):
        place = [one.key for one in known].index(key)
        chance = np.where(behind[:, place], BY_KEY[key].test.finds, BY_KEY[key].test.false_alarm)
        keep &= (rng.random(worlds) < chance) == found
    computed = suspicions(
        Axis.UP, [Evidence("timing", False), Evidence("pinch", True)], tear_in=seen
    )
    assert [one.chance for one in computed] == pytest.approx(
        list(behind[keep].mean(axis=0)), abs=0.01
    )


def test_what_was_mended_in_part_leaves_another_suspect_and_not_itself():
    """One of two: the tear went down, what is left has another cause; in vain, it was not behind it."""
    found = [Evidence("lean", True)]
    before = possible_causes(Axis.SIDE, found)
    partly, in_vain, gone = (
        possible_causes(Axis.SIDE, [*found, Evidence("lean", mended=how)])
        for how in (Mending.PARTLY, Mending.IN_VAIN, Mending.GONE)
    )
    assert before.chance("lean") > 0.7
    assert partly.chance("lean") < before.chance("lean") / 2
    assert partly.chance("rest_side") > 1.5 * before.chance("rest_side")
    assert in_vain.chance("lean") < 0.3 and gone.chance("lean") > before.chance("lean")
    assert partly.chances.sum() == pytest.approx(1)


@pytest.mark.parametrize(
    ("was", "now", "became"),
    [
        (0.5, 0.05, Mending.GONE), (0.5, 0.3, Mending.PARTLY), (0.3, -0.4, Mending.PARTLY),
        (0.5, 0.45, Mending.IN_VAIN),
    ],
)  # fmt: skip
def test_a_tear_went_away_or_down_or_stayed(was, now, became):
    assert mending(was, now, 0.05) is became
    assert mending(was, now, 1.0) is Mending.IN_VAIN  # nothing that their scatter would not do


def test_of_two_causes_that_nobody_moves_both_are_found():
    """Where neither is mended by a tap, which would take the whole tear away."""
    by_hand = [
        pair for pair in hidden_causes(two=True) if not any(BY_KEY[one].moves for one in pair)
    ]
    done = [Session(simulated_archer(pair, seed, World())) for pair in by_hand for seed in range(6)]
    for session in done:
        WAYS["engine"](session)
    assert len(by_hand) >= 9
    assert np.mean([one.named_right for one in done]) > 0.7
    assert np.mean([one.archer.truly_clean for one in done]) > 0.9


def test_the_order_that_is_reckoned_with_is_the_best_of_all_orders():
    """One cause at a time, no tests: by trying every order (Smith's rule, a textbook result)."""
    chances = {"contact_up": 0.2, "timing": 0.3, "pinch": 0.1, "spine_up": 0.4}
    causes = Causes(
        Axis.UP, tuple(frozenset({one}) for one in chances), np.array([*chances.values()])
    )

    def expected(order):
        tests = [0.0 if BY_KEY[one].moves else BY_KEY[one].test.minutes for one in order]
        mends = [BY_KEY[one].mend_minutes + SHOOT_TWO_MINUTES for one in order]
        minutes = np.cumsum(np.add(tests, mends))
        return sum(chances[one] * at for one, at in zip(order, minutes, strict=True))

    best = min(map(expected, permutations(chances)))
    assert minutes_to_done(causes) == pytest.approx(best)


def test_a_test_is_worth_less_where_it_was_made_and_never_makes_it_worse():
    lean, saved = BY_KEY["lean"], []
    for found in ([], [Evidence("lean", False)], [Evidence("lean", False)] * 3):
        causes = possible_causes(Axis.SIDE, found, tear_in=0.5)
        saved.append(minutes_to_done(causes) + lean.test.minutes - after_a_test(causes, lean))
    assert saved[0] > saved[1] > saved[2] > -1e-9


def test_a_tap_that_hides_a_large_tears_cause_costs_a_second_visit():
    causes = possible_causes(Axis.SIDE, [], tear_in=0.5)
    open_, hidden = (after_a_tap(causes, 0.2, 0.0, 0.05, 1.5, hides) for hides in (False, True))
    assert hidden > open_ + 0.7 * HIDING_MINUTES


def test_found_is_proven_only_when_nothing_else_is_as_likely():
    by_key = {one.suspect.key: one for one in suspicions(Axis.UP, [Evidence("rest_height", True)])}
    assert by_key["rest_height"].standing is SuspectStanding.OPEN
    others = [Evidence(one.key, False) for one in suspects_of(Axis.UP) if one.key != "pinch"]
    twice = [Evidence("pinch", True)] * 2
    sure = {s.suspect.key: s for s in suspicions(Axis.UP, [*others, *twice])}
    assert sure["pinch"].standing is SuspectStanding.PROVEN
    assert sure["timing"].standing is SuspectStanding.CLEARED


def test_two_alike_come_before_anything_else():
    assert next_act(Tune([[]])).kind is ActKind.SHOOT
    assert next_act(Tune([HIGH[:1]])).kind is ActKind.SHOOT
    assert next_act(Tune([tears((0, 0.5), (0.5, -0.2))])).kind is ActKind.SHOOT
    assert next_act(Tune([tears((0.02, 0.05), (0.0, 0.02))])).kind is ActKind.DONE
    noise = np.random.default_rng(0).normal(0, 0.5, (12, 2)) - 0.1
    assert next_act(Tune([tears(*noise)])).kind is ActKind.LEAVE


def test_two_clusters_whose_mean_is_clean_are_neither_clean_nor_left():
    """Contact at every other shot (common practice, no published source)."""
    shots = tears((0.4, 0.0), (-0.4, 0.02), (0.42, 0.01), (-0.41, 0.0))
    assert lies_in_two(shots, 0.08)
    assert next_act(Tune([shots])).kind not in (ActKind.DONE, ActKind.LEAVE, ActKind.SHOOT)


def test_every_act_says_why_and_what_else_would_do():
    act = next_act(Tune([HIGH]))
    assert act.kind is ActKind.TEST and act.suspect in {s.key for s in suspects_of(Axis.UP)}
    assert "likely now" in act.why and len(act.others) == 2 and act.minutes > 0


@pytest.mark.parametrize("moved", ["nock", "rest_height", "rest_side"])
def test_nock_and_rest_are_not_moved_before_what_they_would_hide_was_looked_at(moved):
    shots = LEFT if BY_KEY[moved].axis is Axis.SIDE else HIGH
    mine = {s.key for s in suspects_of(BY_KEY[moved].axis)} - {moved, *LOOKED_AT_BEFORE[moved]}
    sure = [Evidence(moved, True)] * 3 + [Evidence(key, False) for key in mine] * 2
    act = next_act(Tune([shots], sure))
    assert not act.steps
    looked = [*sure, *(Evidence(key, False) for key in LOOKED_AT_BEFORE[moved])]
    tapped = next_act(Tune([shots], looked))
    assert tapped.kind is ActKind.TAP and abs(tapped.remains.value) < 0.4


def test_a_rest_that_would_leave_centre_is_not_moved_and_says_so():
    others = [Evidence(s.key, False) for s in suspects_of(Axis.SIDE) if s.key != "rest_side"] * 2
    sure = [*others, Evidence("rest_side", True), Evidence("rest_side", True)]
    free = next_act(Tune([LEFT], sure))
    assert free.kind is ActKind.TAP and free.steps[REST_OUT] > 0
    why = "Centre shot is 7/8; farther it would leave its band."
    levers = [tap_lever(REST_OUT, limits=(-2, 0), blocked=why)]
    blocked = next_act(Tune([LEFT], sure, levers=levers))
    assert blocked.kind is ActKind.MEND and why in blocked.why


def test_nobody_is_accused_before_a_test_has_found_it():
    """Hand, grip and arrows cost people and money; what moves the bow back is tried without."""
    by_hand = {one.key for one in SUSPECTS if not one.moves}
    for shots in (HIGH, LEFT):
        known = [Evidence(one.key, False) for one in SUSPECTS if one.moves]
        act = next_act(Tune([shots], known))
        assert act.suspect in by_hand and act.kind is ActKind.TEST


def test_the_same_reading_is_not_asked_for_twice():
    known = frozenset(s.key for s in SUSPECTS)
    cleared = [Evidence(s.key, False) for s in suspects_of(Axis.UP)]
    act = next_act(Tune([HIGH], cleared, known_by_reading=known))
    assert act.kind is not ActKind.TEST


def test_a_bow_that_answers_the_other_way_is_believed():
    nock = tap_lever("nock_point")
    assert nock.first.mean > 0
    assert tap_lever(REST_OUT, True).first.mean == -tap_lever(REST_OUT).first.mean
    trials = [
        TriedStep("nock_point", 2, 0.5, 0.3, 0.04),
        TriedStep("nock_point", 2, 0.3, 0.1, 0.04),
    ]
    assert nock.rate(trials).mean < 0 and nock.surprised(trials)
    assert nock.count_for(0.4, nock.first) == -3
    assert tap_lever("nock_point", limits=(-1, 4)).count_for(0.4, nock.first) == -1


def played(way, world, seeds):
    done = []
    for cause in SUSPECTS:
        for seed in seeds:
            session = Session(simulated_archer((cause.key,), seed, world))
            WAYS[way](session)
            done.append(session)
    return done


def test_the_engine_names_the_cause_in_half_the_shots_of_the_ladder():
    engine, ladder = (played(way, World(), range(8)) for way in ("engine", "ladder"))
    named = np.mean([one.named_right for one in engine])
    assert named >= 0.8
    assert np.mean([one.archer.truly_clean for one in engine]) >= 0.9
    shots = [np.median([one.shots for one in who]) for who in (engine, ladder)]
    assert shots[0] <= shots[1] / 2
    leaning = [one for one in engine if "lean" in one.archer.causes]
    assert sum(one.archer.hides_its_cause for one in leaning) <= 1


def test_in_another_world_it_takes_no_more_than_a_quarter_more():
    here, there = (played("engine", world, range(8)) for world in (World(), OTHER_WORLD))
    minutes = [np.median([one.minutes for one in who]) for who in (here, there)]
    assert minutes[1] <= 1.25 * minutes[0]
    assert np.mean([one.named_right for one in there]) >= 0.8


def test_a_habit_of_moving_the_rest_hides_causes_that_the_engine_finds():
    counted = Counter()
    for way in ("engine", "rest first"):
        counted[way] = sum(one.archer.hides_its_cause for one in played(way, World(), range(4)))
    assert counted["engine"] < counted["rest first"] / 2


def test_the_larger_tear_comes_first():
    assert worst_axis(group_of(HIGH)) is Axis.UP and worst_axis(group_of(LEFT)) is Axis.SIDE


def test_a_suspect_that_nobody_knows_is_refused_with_those_that_are():
    with pytest.raises(BadInput, match="no suspect 'wings'"):
        answer_case("next", {"evidence": [{"suspect": "wings", "found": True}]})
