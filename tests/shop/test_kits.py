"""Shims, spacers, bolts and modules over HTTP: as kits have them, as they stand, within limits."""

import json

import pytest
from django.urls import reverse

from bowcore.errors import BadInput, Refused
from shop.accounts.models import Shop
from shop.bench.actions import press
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.take_reading import Typed, take_reading
from shop.bench.actions.turned import checked_steps
from shop.book.models import BookEntry
from shop.book.transfer import as_dict, judged
from shop.jobs.models import Job
from shop.ledger.models import Adjustment
from shop.tuning.selectors import view_of
from tests.shop.posting import post
from tests.shop.test_back_to_spec import shown, to_spec

pytestmark = pytest.mark.django_db


def view():
    return view_of(Job.objects.get())


def read_lean(bench, stamp, ines, *takes, name="lean"):
    for size, way in takes:
        take_reading(bench.job.pk, Typed(name, size, way), stamp(ines, bench.job))


def test_which_shims_are_in_is_asked_before_the_press_and_kept_as_a_pair(bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    assert {"shims_top", "shims_bottom"} <= set(view().course.unmarked)
    noted = note_mark(bench.job.pk, "shims_top", ".115 / .135", stamp(ines, bench.job))
    assert noted.value == "0.115/0.135" and view().facts.total("shim_top") == 20
    with pytest.raises(BadInput, match="left / right"):
        note_mark(bench.job.pk, "shims_bottom", "thin", stamp(ines, bench.job))


def test_pairs_of_the_kits_are_keys_to_be_touched(page, bench):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    body = page.get(reverse("step", args=[bench.job.pk, "baseline"]) + "?at=shims_top")
    assert body.content.decode().count('data-value="0.') == 9


def test_a_lean_is_shimmed_and_the_ledger_says_what_sits_where(page, bench, ines, stamp):
    to_spec(bench)
    read_lean(bench, stamp, ines, ("1/4", "right"), ("1/4", "right"))
    done = [("shim_top", -20)]  # the lean it came with is its aim, so the trial is chosen here
    press.open_press_otherwise(bench.job.pk, done, "a trial", stamp(ines, bench.job))
    assert "The axle comes out only" in shown(page, bench.job, "step", "spec")
    press.turn(bench.job.pk, done, stamp(ines, bench.job))
    assert Adjustment.objects.get().said == "Shims, top cam: left 0.135, right 0.115 (thin)"
    bench.let_down()
    assert "left 0.135, right 0.115 (thin)" in shown(page, bench.job, "log")
    assert not view().facts.current("lean").fresh
    press.open_press_otherwise(bench.job.pk, [("shim_top", 20)], "back", stamp(ines, bench.job))
    with pytest.raises(Refused, match="no kit"):
        press.turn(bench.job.pk, [("shim_top", 7)], stamp(ines, bench.job))


def test_shims_that_nobody_wrote_down_are_not_changed(bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    with pytest.raises(Refused, match="write down which are in now first"):
        checked_steps(view(), [("shim_top", 20)])
    for mark in ("shims_top", "shims_bottom"):
        note_mark(bench.job.pk, mark, ".125/.125", stamp(ines, bench.job))
    assert checked_steps(view(), [("shim_top", 20)]) == [("shim_top", 20)]


def test_each_bolt_is_turned_for_itself_and_counted_for_itself(page, bench):
    to_spec(bench)  # both stood two out, the maker allows eight
    answer = post(page, "post_no_press", bench.job, **{"steps-bolt_top": "1"})
    assert answer.status_code == 302
    marks = view().marks
    assert (marks["bolts_top"], marks["bolts_bottom"]) == ("2.5", "2")
    assert not view().facts.current("tiller").fresh
    bench.read_asked()
    assert "now 2.5 turns out, at most 8" in shown(page, bench.job, "step", "spec")
    answer = post(page, "post_no_press", bench.job, **{"steps-bolt_bottom": "-5"})
    assert answer.status_code == 422 and "bottomed" in answer.content.decode()
    assert view().facts.bolt_limits("bolt_top") == (-4, 12)
    assert view().facts.bolt_limits("limb_bolts") == (-4, 11)


def test_a_tiller_that_is_out_is_brought_back_by_one_bolt(bench, ines, stamp):
    to_spec(bench)
    bench.bow.twist("bolt_top", 4)
    press.turn_without_press(bench.job.pk, [("bolt_top", 4)], stamp(ines, bench.job))
    bench.read_asked()
    bench.read("tiller")
    steps = dict(view().advice.plan.best.steps)
    assert steps.get("bolt_top", 0) < 0 or steps.get("bolt_bottom", 0) > 0, steps


def test_a_lean_is_left_as_it_came_or_set_upright_by_school(page, bench, ines, stamp):
    to_spec(bench)
    read_lean(bench, stamp, ines, ("3/8", "right"), ("3/8", "right"))
    assert view().bands["lean"].target == 0.375 and "lean" not in view().course.outside
    body = page.get(reverse("schools", args=[bench.job.pk])).content.decode()
    assert "Cams upright at full draw" in body and "Shims, top cam" in body
    assert "Top stop a little first" not in body  # no hybrid
    post(page, "post_timing", bench.job, name="upright", value="on")
    assert view().bands["lean"].target == 0 and "lean" in view().course.outside
    assert "Shims, top cam" in shown(page, bench.job, "step", "spec")


def test_the_top_stop_leads_on_a_hybrid_by_the_book_or_by_choice(page, bench):
    to_spec(bench, "Pilot 33")
    assert view().bands["stop_gap"].target == 0
    post(page, "post_timing", bench.job, name="top_first", value="on")
    assert view().bands["stop_gap"].target == -1 / 16
    assert "top stop first by 1/16 in" in shown(page, bench.job, "bow_drawn")
    spec = Job.objects.get().spec
    spec["tolerances"]["top_first_in"] = 0.125
    Job.objects.update(spec=spec, school={})
    assert view().bands["stop_gap"].target == -1 / 8
    post(page, "post_timing", bench.job, name="top_first", value="")
    assert view().bands["stop_gap"].target == 0 and Job.objects.get().school == {"top_first": False}


def test_the_plan_names_the_module_that_gives_the_draw(page, bench):
    bench.check_in(["back_to_spec"], wanted_draw_in=27)  # the module on it gives 28 1/2
    bench.look_over()
    bench.baseline()
    assert "module B, 27 in" in shown(page, bench.job, "step", "spec")


def test_why_the_weight_is_off_stands_on_the_plan(page, bench):
    to_spec(bench, cable_a=0.2, cable_b=0.2)
    assert "cable being short" in shown(page, bench.job, "pattern")


def test_the_plans_question_is_given_out_whole(page, bench):
    to_spec(bench, cable_a=-0.07)
    answer = page.get(reverse("question", args=[bench.job.pk]))
    assert answer["Content-Disposition"].startswith("attachment")
    assert json.loads(answer.content)["quantities"][0] == "axle_to_axle"


def test_without_a_plan_there_is_no_question_and_it_says_why(page, bench):
    bench.check_in(["back_to_spec"])
    answer = page.get(reverse("question", args=[bench.job.pk]))
    assert answer.status_code == 409 and "Read these first" in answer.content.decode()


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [
        ("shim_kits", "thin .1/.2", "no kit"),
        ("shim_kits", "thin: .1/.2, .1/.3", "play"),
        ("modules", "A long", "no module"),
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
    data = {"name": "Ours", "press": "limb tip", "spacer_sizes": text,
            "replace_school": "one at a time, let down between"}  # fmt: skip
    assert page.post("/shop/", data).status_code == status
    assert Shop.current().spacer_sizes == (text if status == 302 else "1/16, 1/8, 3/16, 1/4")
