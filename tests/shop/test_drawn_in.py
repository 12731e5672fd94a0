"""New threads drawn in, and a change that the bow contradicts: on the screens and in the ledger."""

import pytest
from django.urls import reverse

from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from bowcore.learning.mislog import Mislog
from shop.casework.state import job_state
from shop.demo.job_script import CABLE
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.press.models import Adjustment
from shop.stages.back_to_spec.actions.correct_change import correct_change
from shop.stages.replace.actions.draw_in import draw_in
from tests.shop.posting import post
from tests.shop.test_back_to_spec import shown, to_spec

pytestmark = pytest.mark.django_db


def state():
    return job_state(Job.objects.get())


def new_cable(script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.03, judge=False)
    script.judge("cable_a", 0.03)


def test_new_threads_are_drawn_in_before_anything_is_read(page, script):
    new_cable(script)
    assert state().course.next.text == "Draw the new threads in, 60 times"
    body = shown(page, script.job, "step", "back_to_spec")
    assert "Draw the new threads in: 60 times." in body
    assert "arrow" in body or "draw board" in body  # the caution of a first draw
    assert post(page, "draw_in", script.job, draws=25).status_code == 302
    assert state().course.to_draw == 35
    assert post(page, "draw_in", script.job, draws=35).status_code == 302
    assert state().course.next.text.startswith("Read ")
    assert "Drawn in: 25 times" in shown(page, script.job, "log")


def test_a_shop_may_go_on_without_and_the_plan_counts_on_the_growth(page, script):
    new_cable(script)
    assert post(page, "draw_in", script.job, draws=0).status_code == 302
    assert state().course.to_draw == 0
    script.read_asked()
    assert state().advice.problem.to_come["stop_gap"][0] != 0
    Shop.objects.update(draw_in=0)
    assert state().facts.draw_in == 0


@pytest.mark.parametrize("draws", ["", "-1", "501", "many", "1e309"])
def test_a_number_of_draws_that_is_none_is_refused_with_its_text(page, script, draws):
    new_cable(script)
    answer = post(page, "draw_in", script.job, draws=draws)
    assert answer.status_code == 422
    assert not Adjustment.objects.filter(change="shots_on_new_threads").exists()


def test_old_threads_are_not_drawn_in(script, ines, submission):
    script.check_in(["back_to_spec"])
    script.inspect()
    with pytest.raises(Refused, match="no new threads"):
        draw_in(script.job.pk, submission(ines, script.job), 20)


@pytest.fixture
def doubted(script, monkeypatch):
    """A bow that moved as if the cable had gone the other way."""
    to_spec(script, cable_a=-0.07)
    script.follow_plan()
    script.read_asked()
    ((key, count), *_) = state().adjustments[-1:] and [
        (state().adjustments[-1].adjuster, state().adjustments[-1].steps)
    ]
    found = Mislog(Steps({key: count}), Steps({key: -count}), 9.0)
    monkeypatch.setattr("bowcore.learning.history.mislog", lambda *given: found)
    return key, count


def test_a_doubted_change_is_asked_about_and_corrected_at_its_own_moment(page, script, doubted):
    key, count = doubted
    assert "Is the last change logged right?" in shown(page, script.job, "step", "back_to_spec")
    assert post(page, "correct_change", script.job).status_code == 302
    row = Adjustment.objects.latest("pk")
    assert (row.adjuster, row.steps) == (key, -2 * count)
    entry = next(one for one in state().facts.changes if one.steps == -2 * count)
    assert entry.seq == row.corrects.seq
    assert state().facts.net_steps(key) == -count
    assert not state().course.to_read  # nothing on the bow has changed: what was read is still true
    assert "counted wrongly" in shown(page, script.job, "log")


def test_a_change_that_was_as_written_is_not_asked_about_again(page, script, doubted):
    key, count = doubted
    assert post(page, "correct_change", script.job, as_written="on").status_code == 302
    assert state().facts.net_steps(key) == count
    assert state().advice.doubted is None
    assert "found as written" in shown(page, script.job, "log")


def test_nothing_is_corrected_where_nothing_is_doubted(script, ines, submission):
    to_spec(script, cable_a=-0.07)
    with pytest.raises(Refused, match="agree with the last change"):
        correct_change(script.job.pk, submission(ines, script.job), False)


def test_what_stands_between_the_bow_and_its_owner_is_the_best_estimate(page, script, monkeypatch):
    """A single reading a hair outside does not hold up a bow that the plan leaves alone."""
    to_spec(script, cable_a=-0.07)
    script.follow_plan()
    script.read_asked()
    now = state().facts.current("axle_to_axle").summary.value
    monkeypatch.setattr(
        "shop.casework.state.best_estimates", lambda facts, prior: {"axle_to_axle": now + 1.0}
    )
    from shop.casework import state as module

    module._ESTIMATES.clear()
    assert "axle_to_axle" in state().course.outside
    assert (
        "Axle to axle is"
        in page.get(reverse("step", args=[script.job.pk, "hand_over"])).content.decode()
    )
    module._ESTIMATES.clear()


def test_the_hand_over_says_how_sure_it_is_and_when_to_look_again(page, script):
    new_cable(script)
    script.draw_in()
    script.read_asked()
    for _ in range(4):
        if not state().course.outside:
            break
        script.read_until_sure()
        if state().advice.plan.best.steps:
            script.follow_plan()
        script.read_asked()
    body = shown(page, script.job, "step", "hand_over")
    assert "once its new threads have settled" in body
    assert "Recheck after 100 shots" in body


def test_shots_are_logged_at_any_time_on_new_threads(page, script):
    new_cable(script)
    script.draw_in()
    script.read_asked()
    assert "Draws or shots on the new threads" in shown(page, script.job, "log")
    assert post(page, "draw_in", script.job, draws=30).status_code == 302
    assert "stop_gap" in state().course.to_read


def test_skipping_makes_nothing_stale(page, script):
    new_cable(script)
    script.read("stop_gap")
    assert post(page, "draw_in", script.job, draws=0).status_code == 302
    assert state().facts.current("stop_gap").fresh
    assert state().course.to_draw == 0
