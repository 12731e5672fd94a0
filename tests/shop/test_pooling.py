"""What finished bows of a model teach the next one, and no other."""

import pytest

from shop.customers.models import Customer
from shop.demo.living import Bench
from shop.jobs.models import Job
from shop.tuning.models import ModelPrior
from shop.tuning.selectors import view_of

pytestmark = pytest.mark.django_db


def finish(bench):
    """A job lived through to its hand-over with at least one change."""
    bench.check_in(["back_to_spec"], fitted=["peep"], path="new_setup")
    bench.look_over()
    bench.off(cable_a=-0.08)
    bench.baseline()
    for _ in range(12):
        view = bench.view()
        if view.course.to_read:
            bench.read(*view.course.to_read)
        elif again := view.advice.plan.read_again:
            bench.read(again)
        elif view.advice.plan.best.steps:
            bench.follow()
        else:
            break
    bench.hand_over()


def next_job(number, model="Lark 31"):
    bench = Bench(Customer.objects.create(name=f"Number {number}"), number, 3)
    bench.check_in(["back_to_spec"], model=model, fitted=["peep"], path="new_setup")
    return view_of(Job.objects.latest("pk"))


def test_the_next_bow_of_the_model_starts_from_what_the_first_has_shown(bench):
    before = next_job(3)
    assert before.prior.rests_on == "the book"
    finish(bench)
    after = next_job(4)
    assert after.prior.rests_on == "the book and 1 other bow of the model"
    assert ModelPrior.objects.filter(name__contains="pooled").count() == 1
    row = after.prior.quantities.index("stop_gap")
    column = after.prior.response().column("cable_a")
    known, guessed = (view.prior.response().sigma[row, column] for view in (after, before))
    assert known < guessed
    # a job that was open already keeps the advice it had
    assert view_of(Job.objects.get(pk=before.job.pk)).prior.rests_on == "the book"


def test_another_model_learns_nothing_from_it(bench):
    finish(bench)
    assert next_job(4, "Pilot 33").prior.rests_on == "the book"


def test_what_turned_something_else_is_left_out(bench, monkeypatch):
    finish(bench)
    monkeypatch.setattr("shop.tuning.pooling._taught", lambda pk, spec, prior: None)
    assert next_job(4).prior.rests_on == "the book"
