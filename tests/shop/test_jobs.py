"""What every job's screens share: one view of a post, the strip, long lists, tasks, tools."""

import uuid

import pytest
from django.test import RequestFactory
from django.urls import reverse

from bowcore.errors import Refused
from bowcore.stages.course import STEPS
from bowcore.work_order import cautions
from shop.casework.devices.registry import bench_with, draw_board_curve, string_maker, tool_reading
from shop.casework.engine import priors, tasks
from shop.casework.engine.curve_fits import waiting_fit
from shop.casework.engine.models import CurveFitTask, ModelPrior
from shop.casework.readings.actions.keep_curve import curve_from_board
from shop.casework.screens import STEP_SCREENS
from shop.casework.state import job_state
from shop.demo.job_script import CABLE, JobScript
from shop.schema.audit.models import Event
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import DrawCurve, Reading
from shop.simulated.actions import set_tool
from shop.simulated.models import ToolBehaviour
from shop.stages.back_to_spec.actions.fit_to_curve import fit_to_curve
from shop.ui.pages import page_of
from tests.shop.posting import line, post
from tests.shop.posting import set_tool as post_tool
from tests.shop.test_back_to_spec import shown, to_spec

pytestmark = pytest.mark.django_db


def test_every_step_but_check_in_has_a_screen():
    assert {step.key for step in STEPS} == {"check_in", *STEP_SCREENS}


@pytest.mark.parametrize("left_out", ["key", "seen"])
def test_a_post_without_its_identity_writes_nothing(page, script, left_out):
    script.check_in(CABLE)
    data = {"key": uuid.uuid4(), "seen": 1} | line("axle_to_axle", text="31")
    del data[left_out]
    address = reverse("take_readings", args=[script.job.pk, "baseline"])
    assert page.post(address, data).status_code == 422
    assert not Reading.objects.exists()


def test_a_post_is_no_page(page, script):
    script.check_in(CABLE)
    for name in ("turn", "let_down", "accept_plan", "hand_over", "inspect"):
        assert page.get(reverse(name, args=[script.job.pk])).status_code == 405


def test_a_post_to_a_job_that_does_not_exist_is_not_found(page, script):
    script.check_in(CABLE)
    data = {"key": uuid.uuid4(), "seen": 0}
    assert page.post(reverse("bolts_back", args=[script.job.pk + 99]), data).status_code == 404


def test_the_strip_shows_what_came_with_the_bow(page, script):
    script.check_in(CABLE, arrows="six, 380 gr", release="thumb", brought="a hard case",
                    note="Hold feels soft")  # fmt: skip
    body = " ".join(shown(page, script.job, "step", "inspection").split())
    for words in (
        "six, 380 gr, here",
        "Release: thumb, not here",
        "a hard case",
        "Hold feels soft",
    ):
        assert words in body, words


def test_the_sheet_says_what_has_to_go_back_with_the_bow(page, script):
    script.check_in(CABLE, brought="a hard case", note="Hold feels soft", release_here=True)
    sheet = page.get(reverse("sheet", args=[script.job.pk])).content.decode()
    for words in ("a hard case", "Hold feels soft", "Arrow: own arrows", "Release"):
        assert words in sheet, words


def test_the_strip_shows_the_models_own_tolerance(page, script):
    script.check_in(CABLE)
    spec = Job.objects.get().spec
    spec["tolerances"]["axle_to_axle_in"] = 0.25
    Job.objects.update(spec=spec)
    body = shown(page, script.job, "step", "inspection")
    strip = body[body.index("Published axle to axle") :][:600]
    assert 'aria-label=" 1/4"' in strip and 'aria-label=" 1/8"' not in strip


def test_a_bow_that_must_not_be_drawn_is_not_told_to_be_drawn(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(limbs_bottom=("stop", "at the pocket"))
    body = shown(page, script.job, "step", "back_to_spec")
    assert cautions.DO_NOT_DRAW in body and cautions.FIRST_DRAW not in body


def test_before_the_first_reading_it_is_drawn_gently(page, script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0)
    assert cautions.FIRST_DRAW in shown(page, script.job, "step", "back_to_spec")


def test_what_is_drawn_is_drawn_on_the_board_or_with_an_arrow(page, script):
    script.check_in(CABLE)
    script.inspect()
    address = reverse("step", args=[script.job.pk, "baseline"])
    assert cautions.ON_THE_DRAW_BOARD in page.get(address + "?at=peak_weight").content.decode()
    assert cautions.ON_THE_DRAW_BOARD not in page.get(address + "?at=brace_height").content.decode()


@pytest.mark.parametrize(("name", "words"), [("peak_weight", "0.1 lbf"), ("arrow_speed", "1 fps")])
def test_a_tools_division_is_shown_with_its_unit(page, script, name, words):
    script.check_in(CABLE)
    script.inspect()
    address = reverse("step", args=[script.job.pk, "baseline"])
    body = " ".join(page.get(f"{address}?at={name}").content.decode().split())
    assert f"to {words}" in body


def test_the_keys_page_names_every_step(page, script):
    script.check_in(CABLE)
    keys = shown(page, script.job, "step", "inspection").split('id="keys"')[1]
    assert "<kbd>Alt 1</kbd> to <kbd>Alt 9</kbd>" in keys
    steps = [one for one in STEPS if one.key != "work"]  # no job has every step
    assert len(steps) == 9


def test_long_lists_come_a_page_at_a_time():
    request = RequestFactory().get("/", {"page": "2"})
    page = page_of(request, list(range(25)), 10)
    assert list(page) == list(range(10, 20)) and page.has_next
    nonsense = RequestFactory().get("/", {"page": "elephant"})
    assert list(page_of(nonsense, list(range(5)), 10)) == list(range(5))


def test_a_long_log_has_pages(page, script, monkeypatch):
    monkeypatch.setattr("shop.casework.views.EVENTS_ON_A_PAGE", 5)
    to_spec(script)
    first = shown(page, script.job, "log")
    assert "Page 1" in first and first.count("Correct</a>") <= 5
    second = page.get(reverse("log", args=[script.job.pk]) + "?page=2").content.decode()
    assert "Page 2" in second


def test_a_fit_that_was_under_way_at_a_restart_is_begun_again(script, ines, submission):
    to_spec(script)
    curve_from_board(script.job.pk, submission(ines, script.job))
    waiting_fit(DrawCurve.objects.get(), ines)
    assert CurveFitTask.objects.get().state == CurveFitTask.WORKING
    tasks.resume()
    found = CurveFitTask.objects.get()
    assert found.state == CurveFitTask.DONE and found.round >= 1


def test_a_prior_is_computed_in_the_background(script):
    script.check_in(["back_to_spec"])
    ModelPrior.objects.all().delete()
    priors._kept.cache_clear()
    tasks.warm_prior.enqueue(script.job.pk)
    assert ModelPrior.objects.exists()


def test_a_fit_needs_a_skilled_person_and_leaves_an_event(script, ines, pia, submission):
    to_spec(script)
    curve_from_board(script.job.pk, submission(ines, script.job))
    with pytest.raises(Refused, match="manager or technician"):
        fit_to_curve(script.job.pk, submission(pia, script.job))
    fit_to_curve(script.job.pk, submission(ines, script.job))
    assert Event.objects.filter(verb="fit_curve", by=ines).count() == 1
    with pytest.raises(Refused, match="under way or done"):
        fit_to_curve(script.job.pk, submission(ines, script.job))


def test_nobody_has_more_than_two_fits_under_way(floor, ines, tomas, submission, monkeypatch):
    monkeypatch.setattr(
        "shop.stages.back_to_spec.actions.fit_to_curve.begin_fit", lambda fit: None
    )  # none ends
    scripts = []
    for number in range(3):
        one = JobScript(Customer.objects.create(name=f"Customer {number}"), number, 3)
        to_spec(one)
        curve_from_board(one.job.pk, submission(ines, one.job))
        scripts.append(one)
    for one in scripts[:2]:
        fit_to_curve(one.job.pk, submission(ines, one.job))
    with pytest.raises(Refused, match="Two fits of yours"):
        fit_to_curve(scripts[2].job.pk, submission(ines, scripts[2].job))
    fit_to_curve(scripts[2].job.pk, submission(tomas, scripts[2].job))


def test_a_tool_is_set_by_a_skilled_person_and_leaves_an_event(floor, ines, pia, submission):
    with pytest.raises(Refused, match="manager or technician"):
        set_tool("scale", ToolBehaviour.FROZEN, submission(pia))
    set_tool("scale", ToolBehaviour.FROZEN, submission(ines))
    event = Event.objects.get(verb="set_tool")
    assert event.by == ines and "frozen" in event.summary


def test_the_tools_page_lists_what_each_tool_reads(page, floor):
    body = page.get(reverse("tools")).content.decode()
    assert "peak weight" in body and "brace height" in body
    assert post_tool(page, "hammer", "well").status_code == 422


def test_devices_answer_only_where_they_are_plugged_in(script):
    script.check_in(["back_to_spec"])
    state = job_state(script.job)
    assert bench_with(state, "scale") is not None and bench_with(state, "") is None
    assert tool_reading(state, "peak_weight").value == pytest.approx(60, abs=8)
    assert tool_reading(state, "axle_to_axle") is None
    assert len(draw_board_curve(state)) > 20
    script.bench.delete()
    state = job_state(Job.objects.get())
    assert tool_reading(state, "peak_weight") is None and draw_board_curve(state) is None


def test_the_string_maker_answers_the_same_order_alike(floor):
    order = {"order": 7, "bow": "Tidewell Lark 31", "parts": [
        {"role": "string", "label": "String", "length_in": 56.25, "strands": 24}]}  # fmt: skip
    one, other = (string_maker().deliver(order) for _ in range(2))
    assert one == other and abs(one[0].length_in - 56.25) < 0.6
    assert string_maker().deliver(order | {"order": 8}) != one


def test_two_jobs_of_one_bow_are_found_on_its_page(page, script):
    script.check_in(["back_to_spec"])
    bow = script.job.bow
    again = JobScript(Customer.objects.get(), 5, 3)
    again.check_in(["back_to_spec"], bow=bow)
    body = page.get(reverse("bow_history", args=[bow.pk])).content.decode()
    assert f"/jobs/{script.job.pk}/" in body and f"/jobs/{again.job.pk}/" in body


def test_a_turn_is_logged_once_however_often_it_is_posted(page, script):
    to_spec(script)
    key = uuid.uuid4()
    seen = Job.objects.get().version
    data = {"key": key, "seen": seen, "turn-TOTAL_FORMS": 1, "turn-INITIAL_FORMS": 0,
            "turn-0-adjuster": "limb_bolts", "turn-0-steps": 1}  # fmt: skip
    address = reverse("turn_without_press", args=[script.job.pk])
    assert [page.post(address, data).status_code for _ in range(2)] == [302, 302]
    assert job_state(Job.objects.get()).facts.net_steps("limb_bolts") == 1


@pytest.mark.parametrize("address", ["turn", "set_arrived", "inspect", "accept_plan"])
def test_a_row_with_nothing_in_it_is_refused(page, script, address):
    to_spec(script)
    empty = {f"{prefix}-{name}": value for prefix in ("turn", "component", "place")
             for name, value in (("TOTAL_FORMS", 1), ("INITIAL_FORMS", 0))}  # fmt: skip
    assert post(page, address, script.job, **empty).status_code == 422


@pytest.mark.parametrize("address", ["take_readings", "cannot_read", "keep_photo"])
@pytest.mark.parametrize("step", ["nowhere", "log", "rack"])
def test_a_step_without_a_screen_takes_no_post(page, script, address, step):
    script.check_in(CABLE)
    answer = post(page, address, script.job, step, **line("axle_to_axle", text="31"), reason="x")
    assert answer.status_code == 404 and not Reading.objects.exists()


def test_rows_that_do_not_say_how_many_they_are_are_refused(page, script):
    to_spec(script)
    answer = post(page, "turn_without_press", script.job, **{"turn-0-adjuster": "limb_bolts"})
    assert answer.status_code == 422
