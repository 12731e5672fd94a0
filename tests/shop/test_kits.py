"""Shims, spacers, bolts and modules over HTTP: as kits have them, as they stand, within limits."""

import json

import pytest
from django.urls import reverse

from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput, Refused
from shop.book.transfer import as_dict, judged
from shop.casework.readings.actions.take_reading import TypedReading, take_reading
from shop.casework.readings.actions.write_mark import write_mark
from shop.casework.state import job_state
from shop.schema.accounts.models import Shop
from shop.schema.book.models import BookEntry
from shop.schema.jobs.models import Job
from shop.stages.replace.actions import cycle
from shop.stages.replace.ledger import require_possible
from tests.shop.posting import post, turned
from tests.shop.test_back_to_spec import shown, to_spec

pytestmark = pytest.mark.django_db


def state():
    return job_state(Job.objects.get())


def total(key):
    return state().adjuster(key).total(state().facts)


def allowed(key):
    return state().adjuster(key).totals_allowed(state().facts)


def read_lean(script, submission, ines, *takes, name="lean"):
    for size, direction in takes:
        take_reading(
            script.job.pk, submission(ines, script.job), TypedReading(name, size, direction)
        )


def test_which_shims_are_in_is_asked_before_the_press_and_kept_as_a_pair(script, ines, submission):
    script.check_in(["back_to_spec"])
    assert {"shims_top", "shims_bottom"} <= set(state().course.unmarked)
    noted = write_mark(script.job.pk, submission(ines, script.job), "shims_top", ".115 / .135")
    assert noted.value == "0.115/0.135" and total("shim_top") == 20
    with pytest.raises(BadInput, match="left / right"):
        write_mark(script.job.pk, submission(ines, script.job), "shims_bottom", "thin")


def test_pairs_of_the_kits_are_keys_to_be_touched(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    body = page.get(reverse("step", args=[script.job.pk, "baseline"]) + "?at=shims_top")
    assert body.content.decode().count('data-value="0.') == 9


def test_a_lean_is_shimmed_and_the_ledger_says_what_sits_where(page, script, ines, submission):
    to_spec(script)
    read_lean(script, submission, ines, ("1/4", "right"), ("1/4", "right"))
    done = Steps({"shim_top": -20})  # the lean it came with is its aim, so the trial is chosen here
    cycle.open_press_otherwise(script.job.pk, submission(ines, script.job), done, "a trial")
    assert "Take the axle out only" in shown(page, script.job, "step", "back_to_spec")
    cycle.turn(script.job.pk, submission(ines, script.job), done)
    (line,) = state().ledger
    assert line.words == "Shims, top cam: left four-notch 0.135, right two-notch 0.115 (thin)"
    script.let_down()
    assert "left four-notch 0.135, right two-notch 0.115 (thin)" in shown(page, script.job, "log")
    assert not state().facts.current("lean").fresh
    cycle.open_press_otherwise(
        script.job.pk, submission(ines, script.job), Steps({"shim_top": 20}), "back"
    )
    with pytest.raises(Refused, match="kits cannot"):
        cycle.turn(script.job.pk, submission(ines, script.job), Steps({"shim_top": 7}))


def test_shims_that_nobody_wrote_down_are_not_changed(script, ines, submission):
    script.check_in(["back_to_spec"])
    with pytest.raises(Refused, match="write down which are in now first"):
        require_possible(state(), Steps({"shim_top": 20}))
    for mark in ("shims_top", "shims_bottom"):
        write_mark(script.job.pk, submission(ines, script.job), mark, ".125/.125")
    require_possible(state(), Steps({"shim_top": 20}))


def test_each_bolt_is_turned_for_itself_and_counted_for_itself(page, script):
    to_spec(script)  # both stood two out, the maker allows eight
    answer = post(page, "turn_without_press", script.job, **turned(bolt_top="1"))
    assert answer.status_code == 302
    marks = state().marks
    assert (marks["bolts_top"], marks["bolts_bottom"]) == ("2.5", "2")
    assert not state().facts.current("tiller").fresh
    script.read_asked()
    assert "now 2.5 turns out, at most 8" in shown(page, script.job, "step", "back_to_spec")
    answer = post(page, "turn_without_press", script.job, **turned(bolt_bottom="-5"))
    assert answer.status_code == 422 and "bottomed" in answer.content.decode()
    assert allowed("bolt_top") == (-4, 12)
    assert allowed("limb_bolts") == (-4, 11)


def test_a_tiller_that_is_out_is_brought_back_by_one_bolt(script, ines, submission):
    to_spec(script)
    script.bow.turn(Steps({"bolt_top": 4}))
    cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"bolt_top": 4}))
    script.read_asked()
    script.read("tiller")
    steps = dict(state().advice.plan.best.steps)
    assert steps.get("bolt_bottom", 0) - steps.get("bolt_top", 0) > 0, steps


def test_a_lean_is_left_as_it_came_or_set_upright_by_school(page, script, ines, submission):
    to_spec(script)
    read_lean(script, submission, ines, ("3/8", "right"), ("3/8", "right"))
    assert state().bands["lean"].target == 0.375 and "lean" not in state().course.outside
    body = page.get(reverse("policies", args=[script.job.pk])).content.decode()
    assert "Cams upright at full draw" in body and "Shims, top cam" in body
    assert "Top stop a little first" not in body  # no hybrid
    post(page, "choose_policy", script.job, name="upright", value="on")
    assert state().bands["lean"].target == 0 and "lean" in state().course.outside
    assert "Shims, top cam" in shown(page, script.job, "step", "back_to_spec")


def test_the_top_stop_leads_on_a_hybrid_by_the_book_or_by_choice(page, script):
    to_spec(script, "Pilot 33")
    assert state().bands["stop_gap"].target == 0
    post(page, "choose_policy", script.job, name="top_first", value="on")
    assert (state().bands["stop_gap"].low, state().bands["stop_gap"].high) == (-1 / 8, -1 / 16)
    assert "top stop first: bottom 1/16 open to" in shown(page, script.job, "bow_drawn")
    spec = Job.objects.get().spec
    spec["tolerances"]["top_first_in"] = 0.125
    Job.objects.update(spec=spec, policy={})
    assert state().bands["stop_gap"].target == -1 / 8
    post(page, "choose_policy", script.job, name="top_first", value="")
    assert state().bands["stop_gap"].target == 0 and Job.objects.get().policy == {
        "top_first": False
    }


def test_the_plan_names_the_module_that_gives_the_draw(page, script):
    script.check_in(["back_to_spec"], wanted_draw_in=27)  # the module on it gives 28 1/2
    script.inspect()
    script.baseline()
    script.read_until_sure()
    assert "Module 2, 27 in: put it on both cams." in shown(
        page, script.job, "step", "back_to_spec"
    )


def test_why_the_weight_is_off_stands_on_the_plan(page, script):
    to_spec(script, cable_a=0.2, cable_b=0.2)
    assert "cable being short" in shown(page, script.job, "pattern")


def test_the_plans_question_is_given_out_whole(page, script):
    to_spec(script, cable_a=-0.07)
    answer = page.get(reverse("question", args=[script.job.pk]))
    assert answer["Content-Disposition"].startswith("attachment")
    assert json.loads(answer.content)["quantities"][0] == "axle_to_axle"


def test_without_a_plan_there_is_no_question_and_it_says_why(page, script):
    script.check_in(["back_to_spec"])
    answer = page.get(reverse("question", args=[script.job.pk]))
    assert answer.status_code == 409 and "Read these first" in answer.content.decode()


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [
        ("shim_kits", "thin .1/.2", "not a kit"),
        ("shim_kits", "thin: .1/.2, .1/.3", "play"),
        ("modules", "A long", "not a module"),
    ],
)
def test_a_kit_or_module_that_is_none_is_refused_with_its_reason(floor, field, text, said):
    data = as_dict(BookEntry.objects.get(model="Lark 31")) | {field: text}
    assert any(said in problem for problem in judged(1, data).problems)


def test_the_book_shows_its_kits(page, floor):
    entry = BookEntry.objects.get(model="Lark 31")
    body = page.get(reverse("entry", args=[entry.pk])).content.decode()
    assert "thick: .065/.185" in body


@pytest.mark.parametrize(("text", "status"), [("1/16, 1/8", 302), ("", 302), ("thick", 422)])
def test_the_drawers_spacers_are_a_list_of_sizes(page, floor, text, status):
    data = {"name": "Ours", "press": "limb tip", "spacer_sizes": text, "draw_in": "60", "lengths": "inches",
            "tears": "nock", "paper": "always", "replacement": "one at a time, let down between"}  # fmt: skip
    assert page.post("/shop/", data).status_code == status
    assert Shop.current().spacer_sizes == (text if status == 302 else "1/16, 1/8, 3/16, 1/4")


def test_shims_are_exchanged_at_one_cam_at_a_time(page, script):
    """An exchange takes the axle out: one cam, look, then the other (common practice)."""
    script.check_in(["back_to_spec"])
    script.inspect()
    script.came_in(lean=0.3, lean_bottom=0.3)
    script.baseline()
    script.read("lean", "lean_bottom")
    post(page, "choose_policy", script.job, name="upright", value="on")
    script.read_until_sure()
    advice = state().advice
    assert "lean" in advice.problem.planned and "lean_bottom" not in advice.problem.planned
    assert "shim_bottom" not in advice.plan.best.steps
    assert any("One cam at a time" in line for line in advice.why)
    assert "lean_bottom" in state().course.outside  # it is not forgotten
    assert "No twist moves that" not in shown(page, script.job, "step", "back_to_spec")
