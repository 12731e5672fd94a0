"""What finished bows of a model teach the next one, and no other."""

import pytest

from shop.customers.models import Customer
from shop.demo.job_script import JobScript
from shop.engine.models import ModelPrior
from shop.jobs.models import Job
from shop.jobs.state import job_state

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


def test_another_model_learns_nothing_from_it(script):
    finish(script)
    assert next_job(4, "Pilot 33").prior.rests_on == "the book"


def test_what_turned_something_else_is_left_out(script, monkeypatch):
    finish(script)
    monkeypatch.setattr("shop.engine.pooling._taught", lambda pk, spec, prior: None)
    assert next_job(4).prior.rests_on == "the book"
