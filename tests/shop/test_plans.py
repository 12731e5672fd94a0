"""A plan is accepted by its steps: what is no longer offered is refused, whatever changed meanwhile."""

import pytest
from django.urls import reverse

from bowcore.adjusters.steps import Steps
from bowcore.errors import Refused
from bowcore.work_order.needs import readings_needed
from bowcore.work_order.roles import StaffRole
from shop.casework.state import job_state
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.plans.models import GivenAdvice
from shop.schema.press.models import PressCycle
from shop.stages.back_to_spec.actions.accept_plan import accept_plan
from shop.stages.back_to_spec.screens import plan_context
from tests.shop.posting import post, turned
from tests.shop.test_back_to_spec import shown, to_spec

pytestmark = pytest.mark.django_db


def state():
    return job_state(Job.objects.get())


def test_the_best_option_is_accepted_by_its_steps(page, script):
    to_spec(script, cable_a=-0.07)
    best = state().advice.plan.best.steps
    assert post(page, "accept_plan", script.job, **turned(**best)).status_code == 302
    assert PressCycle.objects.get().planned == best
    assert GivenAdvice.objects.get().answer["best"]["steps"] == dict(best)


def test_an_alternative_is_accepted_as_well(script, ines, submission):
    to_spec(script, cable_a=-0.07)
    offered = [o.steps for o in state().advice.plan.alternatives if o.presses]
    assert offered, "this bow has another way to go"
    accept_plan(script.job.pk, submission(ines, script.job), offered[0])
    assert PressCycle.objects.get().planned == offered[0]


def test_steps_that_nobody_offered_are_refused(page, script):
    to_spec(script, cable_a=-0.07)
    answer = post(page, "accept_plan", script.job, **turned(cable_a=7))
    assert answer.status_code == 422
    assert "The plan has changed since you looked at it" in answer.content.decode()
    assert not PressCycle.objects.exists()


def test_a_policy_changed_in_between_is_noticed(script, ines, submission):
    to_spec(script, cable_a=-0.07)
    seen = state().advice.plan.best.steps
    assert any(count % 2 for count in seen.values())
    Shop.objects.update(half_twists=False)
    with pytest.raises(Refused, match="plan has changed"):
        accept_plan(script.job.pk, submission(ines, script.job), seen)


def test_leaving_everything_as_it_is_opens_no_press(script, ines, submission):
    to_spec(script)
    with pytest.raises(Refused):
        accept_plan(script.job.pk, submission(ines, script.job), Steps())
    assert not PressCycle.objects.exists()


@pytest.mark.parametrize(
    ("short_in", "words"),
    [
        (0.0, "Hand it over"),
        (-0.07, "Open the press for both"),
        (0.9, "Order a new top take-up cable"),
    ],
)
def test_the_plan_has_one_next_act(script, short_in, words):
    to_spec(script, cable_a=short_in)
    script.read_until_sure()
    acts = plan_context(state(), StaffRole.TECHNICIAN)["acts"]
    assert acts[-1].words == words and acts[-1].first
    assert sum(act.first for act in acts) == 1


def test_without_readings_the_plan_says_what_is_missing_and_where_to_go(script):
    script.check_in(["back_to_spec"])
    script.inspect()
    shown = plan_context(state(), StaffRole.TECHNICIAN)
    assert "Read these first" in shown["no_plan"]
    assert [act.words for act in shown["acts"]] == [state().course.next.text]
    assert shown["acts"][-1].step == "baseline"


def test_the_screen_posts_the_steps_that_it_shows(page, script):
    to_spec(script, cable_a=-0.07)
    body = shown(page, script.job, "step", "back_to_spec")
    ((key, count), *_) = state().advice.plan.best.steps.items()
    assert f'name="turn-0-adjuster" value="{key}"' in body
    assert f'name="turn-0-steps" value="{count}"' in body


def test_a_plan_that_is_looked_at_early_leads_to_what_comes_before_it(page, script):
    """The press would refuse while marks of the baseline are missing: it is not offered."""
    script.check_in(["replace_cable_b", "back_to_spec"])
    script.came_in(cable_a=-0.07)
    script.inspect()
    script.read(*readings_needed(script.state().facts.setup))
    step = page.get(reverse("step", args=[script.job.pk, "back_to_spec"])).content.decode()
    first = script.state().course.next
    assert first.step == "baseline"
    (act,) = plan_context(script.state(), StaffRole.TECHNICIAN)["acts"]
    assert (act.words, act.step, act.form) == (first.text, "baseline", "")
    assert "Open the press" not in step
