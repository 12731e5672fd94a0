"""New threads: drawn in before anything is set, and what they still grow is counted on."""

from dataclasses import replace

import pytest

from bowcore.adjusters.steps import Steps
from bowcore.bow.specification import Family
from bowcore.bow.twin import Changes
from bowcore.deciding.problem import TuningPolicy, problem_after
from bowcore.deciding.reasons import say_why
from bowcore.deciding.search import find_plan
from bowcore.deciding.weighing import weigh
from bowcore.evidence.facts import Facts, LedgerEntry, Take
from bowcore.learning.history import Drawn, Replaced, Turned, learn
from bowcore.learning.prior import prior_belief
from bowcore.learning.settling import DRAWS_TO_SETTLE, GROWTH_IN, share_left
from bowcore.measurement.bands import around
from bowcore.quantities.changes import Change
from bowcore.stages.back_to_spec.step import draws_wanted
from bowcore.stages.hand_over.blockers import recheck_shots
from bowcore.stages.replace.take_back import reverse_since
from bowcore.work_order.holds import HOLDS
from tests.core.bows import answered, read, twin_of

PRIOR = prior_belief(*answered(Family.BINARY))
NEW = [Replaced("cable_a")]
ATA = read("axle_to_axle", 33.0, 0.02, 2)
GAP = read("stop_gap", 0.0, 0.006, 2)
BANDS = {"axle_to_axle": around(33, 0.125, "book", ""), "stop_gap": around(0, 1 / 32, "policy", "")}


def to_come(events):
    return problem_after(learn(PRIOR, events), BANDS, TuningPolicy(), {}).to_come


def test_most_of_the_growth_comes_in_the_first_draws():
    # common practice, no published source
    assert share_left(0) == 1
    assert share_left(DRAWS_TO_SETTLE) < 0.06
    assert 1 - share_left(20) > 0.7


def test_a_new_cable_that_still_grows_moves_the_numbers_as_the_twin_says():
    """The twin with a longer cable is the measure of what settling does."""
    twin = twin_of(Family.BINARY)
    grown = twin.changed(Changes({"cable_a": -GROWTH_IN})).measures()
    coming = to_come([*NEW, ATA, GAP])
    for name in ("axle_to_axle", "stop_gap"):
        assert coming[name][0] == pytest.approx(grown[name] - twin.measures()[name], rel=0.15)
        assert coming[name][1] > 0


def test_drawn_in_there_is_little_left_and_old_threads_have_none():
    late = to_come([*NEW, Drawn(60), ATA, GAP])
    assert abs(late["stop_gap"][0]) < 0.02 * abs(to_come([*NEW, ATA, GAP])["stop_gap"][0]) + 1e-4
    assert to_come([ATA, GAP]) == {}


def test_draws_after_a_reading_make_it_stale_and_move_what_is_expected():
    known = learn(PRIOR, [*NEW, ATA, GAP, Drawn(40)])
    assert not known.takes
    before = learn(PRIOR, [*NEW, ATA, GAP]).belief
    assert known.belief.expected("stop_gap")[0] < before.expected("stop_gap")[0] - 0.005
    again = learn(PRIOR, [*NEW, ATA, GAP, Drawn(40), read("stop_gap", -0.02, 0.006, 2)])
    assert again.takes["stop_gap"] == 2


def test_the_plan_aims_ahead_and_says_so():
    """A bow that is even now but whose new cable still grows is set ahead of even."""
    now = problem_after(learn(PRIOR, [*NEW, ATA, GAP]), BANDS, TuningPolicy(), {})
    settled = replace(now, to_come={})
    assert weigh(now, Steps()).chance < weigh(settled, Steps()).chance
    off = [*NEW, ATA, read("stop_gap", -0.05, 0.006, 2)]
    problem = problem_after(learn(PRIOR, off), BANDS, TuningPolicy(), {})
    best = find_plan(problem).best
    later = best.predicted["stop_gap"][0] + problem.to_come["stop_gap"][0]
    assert abs(later) < 1 / 32
    assert any("still grow" in line for line in say_why(problem, find_plan(problem)))


def facts(*changes, **more):
    fitted = LedgerEntry(5, Change.CABLE, "cable_a", "cable_a", replaced=True)
    return Facts(Family.BINARY, (), changes=(fitted, *changes), draw_in=60, **more)


def shots(seq, count):
    return LedgerEntry(seq, Change.SHOTS, steps=count)


def test_draws_are_counted_and_may_be_passed_over():
    assert draws_wanted(facts()) == 60
    assert draws_wanted(facts(shots(6, 20))) == 40
    assert draws_wanted(facts(shots(6, 20), shots(7, 45))) == 0
    assert draws_wanted(facts(shots(6, 0))) == 0
    newer = LedgerEntry(9, Change.STRING, "string", "string", replaced=True)
    assert draws_wanted(facts(shots(6, 60), newer)) == 60
    assert draws_wanted(Facts(Family.BINARY, (), draw_in=60)) == 0


def test_new_threads_that_were_not_drawn_in_are_looked_at_sooner():
    # common practice, no published source
    assert recheck_shots(facts()) == recheck_shots(facts(shots(6, 0))) == 30
    assert recheck_shots(facts(shots(6, 60))) == 100
    assert recheck_shots(Facts(Family.BINARY, ())) == 100


@pytest.mark.parametrize("hold", [key for key, one in HOLDS.items() if one.danger])
def test_a_bow_that_is_not_to_be_drawn_is_not_drawn_in(hold):
    assert draws_wanted(facts(holds=(hold,))) == 0


def test_draws_leave_what_sits_on_an_old_string_where_it_is():
    peep = Take(1, "nock_to_peep", 5.0)
    gap = Take(2, "stop_gap", 0.0)
    cable = facts(shots(6, 60), takes=(peep, gap))
    assert cable.current("nock_to_peep").fresh and not cable.current("stop_gap").fresh
    string = LedgerEntry(4, Change.STRING, "string", "string", replaced=True)
    both = facts(string, shots(6, 60), takes=(replace(peep, seq=5), gap))
    assert not both.current("nock_to_peep").fresh


def test_nothing_on_the_old_string_is_true_of_a_new_one():
    # common practice, no published source: peep, kisser, loop and nock height are unknown afterwards
    sits = ("nock_to_peep", "nock_to_kisser", "loop_length", "nock_height")
    takes = tuple(Take(n, name, 1.0) for n, name in enumerate((*sits, "tiller"), 1))
    string = LedgerEntry(9, Change.STRING, "string", "string", replaced=True)
    new = Facts(Family.BINARY, (), takes=takes, changes=(string,))
    assert not any(new.current(name).fresh for name in sits)
    assert new.current("tiller").fresh
    twisted = Facts(Family.BINARY, (), takes=takes,
                    changes=(LedgerEntry(9, Change.STRING, "string", "string", 2),))  # fmt: skip
    assert all(twisted.current(name).fresh for name in sits[:3])


def test_taking_back_does_not_count_draws():
    turned = LedgerEntry(7, Change.CABLE, "cable_b", "cable_b", 2)
    assert dict(reverse_since(facts(shots(6, 60), turned).changes, 6)) == {"cable_b": -2}


def test_changes_without_a_reading_in_between_are_one_change():
    """A surprise afterwards belongs to all of them, not to the last one."""
    apart = [GAP, Turned(Steps({"cable_a": 2})), Turned(Steps({"cable_b": -2})),
             read("stop_gap", 0.12, 0.006, 2)]  # fmt: skip
    known = learn(PRIOR, apart)
    assert [dict(one.steps) for one in known.lessons] == [{"cable_a": 2, "cable_b": -2}]
    rise = [known.belief.response().per_step("stop_gap", key) for key in ("cable_a", "cable_b")]
    usual = [PRIOR.response().per_step("stop_gap", key) for key in ("cable_a", "cable_b")]
    assert rise[0] / usual[0] == pytest.approx(rise[1] / usual[1], rel=0.1)
    assert rise[0] > usual[0]
