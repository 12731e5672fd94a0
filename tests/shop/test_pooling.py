"""What finished bows of a model teach the next one, and no other."""

import pytest

from bowcore.adjusters.rest_move import REST_OUT
from bowcore.adjusters.steps import Steps
from bowcore.evidence.shots import ShotTest
from bowcore.stages.shooting_in.tear_response import DRIFT, drift_lever
from bowcore.work_order.services import SHOOT_IN
from shop.casework.engine.models import ModelPrior
from shop.casework.state import job_state
from shop.demo.job_script import JobScript
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.stages.replace.actions.cycle import turn_without_press

pytestmark = pytest.mark.django_db


def finish(script):
    """A job worked through to its hand-over with at least one change."""
    script.check_in(["back_to_spec"], fitted=["peep"], path="new_setup")
    script.inspect()
    script.came_in(cable_a=-0.08)
    script.baseline()
    for _ in range(12):
        state = script.state()
        if state.course.to_read:
            script.read(*state.course.to_read)
        elif again := state.advice.plan.read_again:
            script.read(again)
        elif state.advice.plan.best.steps:
            script.follow_plan()
        else:
            break
    script.hand_over()


def next_job(number, model="Lark 31"):
    script = JobScript(Customer.objects.create(name=f"Number {number}"), number, 3)
    script.check_in(["back_to_spec"], model=model, fitted=["peep"], path="new_setup")
    return job_state(Job.objects.latest("pk"))


def test_the_next_bow_of_the_model_starts_from_what_the_first_has_shown(script):
    before = next_job(3)
    assert before.prior.rests_on == "the book"
    finish(script)
    after = next_job(4)
    assert after.prior.rests_on == "the book and 1 other bow of the model"
    assert ModelPrior.objects.filter(name__contains="pooled").count() == 1
    row = after.prior.quantities.index("stop_gap")
    column = after.prior.response().column("cable_a")
    known, guessed = (state.prior.response().sigma[row, column] for state in (after, before))
    assert known < guessed
    # a job that was open already keeps the advice it had
    assert job_state(Job.objects.get(pk=before.job.pk)).prior.rests_on == "the book"


def walked_back(script, hand="right"):
    """A job whose rest was tapped once at walk-back: twice as much as geometry says went away."""
    script.check_in([SHOOT_IN], hand=hand)
    script.inspect()
    script.baseline()
    script.back_to_spec()
    side = -1 if hand == "left" else 1
    for slope in (0.2, 0.12):
        for n, yards in enumerate((20, 20, 25, 25, 30, 30, 35, 35, 40, 40)):
            script.shot_at(ShotTest.WALK_BACK, yards, side * slope * yards + (-1) ** n / 16, 0.0)
        if slope == 0.2:
            turn_without_press(script.job.pk, script.submission(), Steps({REST_OUT: 1}))
    script.shot(0.0, 0.0)
    script.shot(0.0, 0.01)
    script.read("centre_shot")
    script.hand_over()


def rates_of(number, hand):
    script = JobScript(Customer.objects.create(name=f"Number {number}"), number, 3)
    script.check_in([SHOOT_IN], hand=hand)
    return dict(job_state(Job.objects.latest("pk")).facts.shooting_policy.rates)


def test_what_a_rest_does_at_walk_back_is_learned_from_bows_of_the_same_hand(script):
    walked_back(script)
    shown = rates_of(4, "right")[DRIFT]
    assert shown.mean < drift_lever().first.mean < 0 and shown.sigma < drift_lever().first.sigma
    assert rates_of(5, "left") == {}


def test_another_model_learns_nothing_from_it(script):
    finish(script)
    assert next_job(4, "Pilot 33").prior.rests_on == "the book"


def test_what_turned_something_else_is_left_out(script, monkeypatch):
    finish(script)
    monkeypatch.setattr("shop.casework.engine.pooling._taught", lambda pk, spec, prior: None)
    assert next_job(4).prior.rests_on == "the book"
