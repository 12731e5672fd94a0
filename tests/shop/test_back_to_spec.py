"""Back to spec over HTTP: every adjuster, the cycle or none, policies, taking back, the bow drawn."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from bowcore.adjusters.steps import Steps
from bowcore.errors import BadInput, Refused
from bowcore.stages.replace.gates import gate_points
from shop.casework.engine import curve_fits
from shop.casework.engine.models import CurveFitTask
from shop.casework.readings.actions.write_mark import write_mark
from shop.casework.state import JobState, job_state
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import DrawCurve
from shop.schema.plans.models import GivenAdvice
from shop.schema.press.models import Adjustment, PressCycle
from shop.stages.back_to_spec.actions.choose_policy import choose_policy
from shop.stages.replace.actions import cycle
from shop.stages.replace.actions.take_back import take_back
from tests.shop.posting import line, post, set_tool, turned

pytestmark = pytest.mark.django_db


def spacer(state, role, words):
    """Steps that put spacers into a cable, by how they are said."""
    key = f"{role}.spacer"
    adjuster = state.adjuster(key)
    totals = {position.words: position.total for position in adjuster.positions}
    return key, totals[words] - adjuster.total(state.facts)


def to_spec(script, model="Lark 31", **off):
    script.check_in(["back_to_spec"], model=model)
    script.inspect()
    script.came_in(**off)
    script.baseline()


def shown(page, job, name="step", *more):
    return page.get(reverse(name, args=[job.pk, *more])).content.decode()


def test_limb_bolts_are_turned_without_the_press_and_make_what_depends_on_them_stale(page, script):
    to_spec(script)
    answer = post(page, "turn_without_press", script.job, **turned(limb_bolts="-2"))
    assert answer.status_code == 302
    row = Adjustment.objects.get()
    assert (row.press, row.change, row.steps) == (None, "limb_bolt", -2)
    assert "Both limb bolts: one turn in" in shown(page, script.job, "log")
    state = job_state(Job.objects.get())
    stale = ("peak_weight", "stop_gap", "draw_length", "tiller")
    assert not any(state.facts.current(name).fresh for name in stale)
    assert state.facts.current("nock_to_peep").fresh
    assert not PressCycle.objects.exists()


@pytest.mark.parametrize("half_turns", ["-6", "14"])
def test_limb_bolts_stay_between_bottomed_and_the_makers_limit(page, script, half_turns):
    to_spec(script)  # both stood two out, the maker allows eight
    answer = post(page, "turn_without_press", script.job, **turned(limb_bolts=half_turns))
    assert answer.status_code == 422 and "maker" in answer.content.decode()
    assert not Adjustment.objects.exists()


def test_bolts_that_nobody_counted_are_not_turned(script, ines, submission):
    script.check_in(["back_to_spec"])
    script.inspect()
    with pytest.raises(Refused, match="Write down"):
        cycle.turn_without_press(
            script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 1})
        )


def test_what_needs_the_press_is_not_logged_without_it(script, ines, submission):
    to_spec(script)
    with pytest.raises(Refused, match="needs the press"):
        cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"cable_a": 1}))
    with pytest.raises(Refused, match="without the press"):
        cycle.open_press_otherwise(
            script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 1}), ""
        )
    with pytest.raises(BadInput, match="has no"):
        cycle.open_press_otherwise(
            script.job.pk, submission(ines, script.job), Steps({"cable_z": 1}), ""
        )


def test_bolts_count_on_from_where_they_stand_at_the_next_press(script, ines, submission):
    Shop.objects.update(back_off=True)
    to_spec(script)
    cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 2}))
    assert [move.now for move in job_state(Job.objects.get()).press_plan.bolts] == [3, 3]


def test_a_spacer_that_is_in_is_asked_for_at_the_next_gate(page, script, ines, submission):
    to_spec(script)
    one = spacer(job_state(Job.objects.get()), "cable_a", "one 1/8 in spacer")
    cycle.open_press_otherwise(script.job.pk, submission(ines, script.job), Steps([one]), "")
    assert "Part its" in shown(
        page, script.job, "step", "back_to_spec"
    )  # how it goes in, strands counted
    cycle.turn(script.job.pk, submission(ines, script.job), Steps([one]))
    assert "Every spacer" in shown(page, script.job, "step", "back_to_spec")
    points = [p.key for p in gate_points(script.state().in_press) if "spacer" not in p.key]
    with pytest.raises(Refused, match="Every spacer"):
        cycle.let_down(script.job.pk, submission(ines, script.job), cycle.Gate(points))


def test_yoke_legs_stay_alone_until_the_lean_is_read(script):
    to_spec(script, "Pilot 33", cable_b=-0.05)
    assert "lean" not in job_state(Job.objects.get()).advice.problem.planned
    legs = [k for k, (low, high) in job_state(Job.objects.get()).advice.problem.limits.items()
            if k.startswith("cable_b.") and (low, high) == (0, 0)]  # fmt: skip
    assert {"cable_b.left", "cable_b.right"} <= set(legs)


def test_lean_that_was_read_is_planned_together_with_timing(script):
    script.check_in(["back_to_spec"], model="Pilot 33")
    script.inspect()
    script.came_in(cable_b=-0.05)
    script.read("lean")
    script.baseline()
    problem = job_state(Job.objects.get()).advice.problem
    assert {"lean", "stop_gap"} <= set(problem.planned)
    assert problem.steps_of("cable_b.left") and problem.steps_of("cable_b.right")


def test_another_school_shows_its_plan_and_holds_for_this_job_only(page, script):
    to_spec(script, cable_a=-0.07)
    fragment = shown(page, script.job, "policies")
    assert "Whole twists only" in fragment and "One press." in fragment
    post(page, "choose_policy", script.job, name="half_twists", value="")
    state = job_state(Job.objects.get())
    assert state.job.policy == {"half_twists": False} and not state.policy.half_twists
    assert Shop.current().half_twists
    best = state.advice.plan.best.steps
    assert all(count % 2 == 0 for key, count in best.items() if key in ("cable_a", "cable_b"))
    post(page, "choose_policy", script.job, name="half_twists", value="on")
    assert Job.objects.get().policy == {}


def test_a_school_that_does_not_exist_is_refused(script, ines, submission):
    to_spec(script)
    with pytest.raises(BadInput, match="no policy"):
        choose_policy(script.job.pk, submission(ines, script.job), {"upside_down": True})


def test_a_step_is_taken_back_through_press_and_gate(page, script, ines, submission):
    to_spec(script, cable_a=-0.07)
    script.follow_plan()
    first = Adjustment.objects.order_by("seq").first()
    log = shown(page, script.job, "log")
    assert "Take back to before this" in log and "Open the press for it" in log
    assert post(page, "take_back", script.job, since=first.seq).status_code == 302
    press = PressCycle.objects.latest("seq")
    done = Steps((row.adjuster, -row.steps) for row in Adjustment.objects.order_by("pk"))
    assert press.planned == done and "taken back" in press.summary
    cycle.turn(script.job.pk, submission(ines, script.job), press.planned)
    script.let_down()
    assert job_state(Job.objects.get()).facts.net_steps(first.adjuster) == 0
    answer = post(page, "take_back", script.job, since=first.seq)
    assert answer.status_code == 422 and "Nothing is left" in answer.content.decode()


def test_bolts_are_taken_back_without_the_press(script, ines, submission):
    to_spec(script)
    row = cycle.turn_without_press(
        script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 3})
    )[0]
    take_back(script.job.pk, submission(ines, script.job), row.seq)
    assert job_state(Job.objects.get()).facts.net_steps("limb_bolts") == 0
    assert not PressCycle.objects.exists()


def test_the_bow_is_drawn_from_what_was_read_and_kept(page, script, monkeypatch):
    to_spec(script, cable_a=-0.12)
    fragment = shown(page, script.job, "bow_drawn")
    assert fragment.count('data-frame="24"') == 3  # the bow, the curve, the numbers
    assert "take-up cable: about" in fragment and "give or take" in fragment
    monkeypatch.setattr(
        "shop.stages.back_to_spec.tasks.computed", None
    )  # it is kept: nothing computes it again
    assert shown(page, script.job, "bow_drawn").count('data-frame="24"') == 3
    assert "Half a twist in, computed for this bow" in shown(page, script.job, "bow")


def test_a_bow_without_a_twin_says_so_and_still_shows_its_parts(page, script, monkeypatch):
    to_spec(script)
    monkeypatch.setattr(
        "shop.stages.back_to_spec.tasks.state_values", lambda spec, readings, trusted: None
    )
    assert "cannot be drawn" in shown(page, script.job, "bow_drawn")
    assert "Top take-up cable" in shown(page, script.job, "bow")


def test_advice_is_kept_with_its_inputs_and_comes_out_the_same_again(script):
    to_spec(script, cable_a=-0.07)
    job = Job.objects.get()
    before = JobState(job).advice
    again = JobState(Job.objects.get()).advice
    assert before.sentence == again.sentence and before.plan == again.plan
    script.follow_plan()
    kept = GivenAdvice.objects.get()
    assert kept.answer["sentence"] == before.sentence and kept.core_version


def curve_file(text, name="curve.csv"):
    return SimpleUploadedFile(name, text.encode() if isinstance(text, str) else text, "text/csv")


CURVE = "draw_length_in,force_lbf\n" + "".join(
    f"{10 + n},{f}\n" for n, f in enumerate((0, 12, 25, 38, 50, 58, 60, 60, 55, 40, 20, 12))
)


def test_a_curve_is_taken_from_a_file_and_plotted(page, script):
    to_spec(script)
    assert post(page, "keep_curve", script.job, file=curve_file(CURVE)).status_code == 302
    kept = DrawCurve.objects.get()
    assert (kept.source, len(kept.points)) == ("file", 12)
    fragment = shown(page, script.job, "bow_drawn")
    assert fragment.count('class="measured"') == 12 and "let-off 80 %" in fragment


@pytest.mark.parametrize("text", ["draw,force\n1,2\n", b"\xff\xfe\x00\x01", "x" * 600_000])
def test_a_file_that_is_no_curve_is_refused(page, script, text):
    to_spec(script)
    assert post(page, "keep_curve", script.job, file=curve_file(text)).status_code == 422
    assert not DrawCurve.objects.exists()


def test_the_board_pulls_the_hidden_bow_and_a_twin_is_fitted_to_it(page, script):
    to_spec(script)
    post(page, "keep_curve", script.job)
    assert DrawCurve.objects.get().source == "draw board"
    post(page, "fit_curve", script.job)
    fit = CurveFitTask.objects.get()
    assert fit.state == CurveFitTask.DONE and fit.data["after_lbf"] <= fit.data["before_lbf"]
    body = shown(page, script.job, "bow_drawn")
    assert "The dashed curve is the model fitted" in body and "by the book" in body
    script.bow.turn(Steps({"cable_a": -3}))
    script.read("stop_gap")
    assert (
        job_state(Job.objects.get()).advice.problem.response.rests_on == "its own force-draw curve"
    )
    CurveFitTask.objects.update(
        data=fit.data | {"core_version": "0"}
    )  # an older core's is not used
    assert job_state(Job.objects.get()).advice.problem.response.rests_on == "the book"


def screen_of(page, script, step):
    return page.get(reverse("step", args=[script.job.pk, step])).content.decode()


def rests_on():
    return job_state(Job.objects.get()).advice.problem.response.rests_on


def test_a_fit_that_is_outdated_says_why_and_can_be_done_again(page, script):
    to_spec(script)
    post(page, "keep_curve", script.job)
    post(page, "fit_curve", script.job)
    assert post(page, "fit_curve", script.job).status_code == 422  # it is done
    done = CurveFitTask.objects.get().data
    CurveFitTask.objects.update(data=done | {"core_version": "0"})
    body = shown(page, script.job, "bow_drawn")
    assert "fitted by an earlier version" in body and "Fit the model to it" in body
    post(page, "fit_curve", script.job)
    assert rests_on() == "its own force-draw curve"
    post(page, "measure_cam", script.job, peg_in="1.46", take_up_in="0.64", let_out_in="0.53")
    assert "The cam was measured after" in shown(page, script.job, "surer")
    assert rests_on() == "the book"
    post(page, "fit_curve", script.job)
    assert rests_on() == "its own force-draw curve"
    assert "measured after" not in shown(page, script.job, "surer")


def test_a_curve_of_cams_out_of_time_is_kept_and_not_fitted(page, script):
    """Two cams that reach their stops one after the other draw like another bow."""
    script.check_in(["back_to_spec"], model="Quill 34")
    script.came_in(cable_a=0.06)
    script.inspect()
    script.baseline()
    assert abs(script.bow.true("stop_gap")) > 0.2
    post(page, "keep_curve", script.job)
    body = shown(page, script.job, "bow_drawn")
    assert "apart when this curve was pulled" in body and "Fit the model to it" not in body
    answer = post(page, "fit_curve", script.job)
    assert (
        answer.status_code == 422 and "apart when this curve was pulled" in answer.content.decode()
    )
    assert DrawCurve.objects.exists() and not CurveFitTask.objects.exists()


def twin_for_new_cables(script, **short_in):
    script.check_in(["replace_cable_a", "replace_cable_b", "back_to_spec"], model="Quill 34")
    script.came_in(**short_in)
    script.inspect()
    script.baseline()
    script.have_parts()


def test_twin_cams_are_worth_a_curve_before_their_cables_come_off(page, script):
    twin_for_new_cables(script)
    assert "Pull its draw curve before the old cables come off" in screen_of(
        page, script, "replace"
    )
    post(page, "keep_curve", script.job)
    assert "Pull its draw curve" not in screen_of(page, script, "replace")


def test_out_of_time_they_are_not(page, script):
    twin_for_new_cables(script, cable_a=0.06)
    assert "Pull its draw curve" not in screen_of(page, script, "replace")


def test_nobody_waits_for_a_fit_that_was_cancelled(page, script, monkeypatch):
    to_spec(script)
    post(page, "keep_curve", script.job)
    monkeypatch.setattr("shop.casework.engine.curve_fits.work", lambda pk: None)  # still at work
    post(page, "fit_curve", script.job)
    assert "You can go on working" in shown(page, script.job, "bow_drawn")
    post(page, "fit_curve", script.job, cancel="on")
    assert CurveFitTask.objects.get().state == CurveFitTask.CANCELLED
    monkeypatch.undo()
    curve_fits.work(CurveFitTask.objects.get().pk)
    assert CurveFitTask.objects.get().state == CurveFitTask.CANCELLED  # what it found came too late
    post(page, "fit_curve", script.job)
    assert CurveFitTask.objects.get().state == CurveFitTask.DONE


def test_a_fit_that_stops_on_a_fault_says_so_and_can_be_begun_again(page, script, monkeypatch):
    to_spec(script)
    post(page, "keep_curve", script.job)
    monkeypatch.setattr("shop.casework.engine.curve_fits.work", lambda pk: None)
    post(page, "fit_curve", script.job)
    monkeypatch.undo()
    monkeypatch.setattr("shop.casework.engine.curve_fits.fit_curve", lambda *given: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        curve_fits.work(CurveFitTask.objects.get().pk)
    assert "a fault of the program" in shown(page, script.job, "bow_drawn")
    monkeypatch.undo()
    post(page, "fit_curve", script.job)
    assert CurveFitTask.objects.get().state == CurveFitTask.DONE


def test_a_bow_that_must_not_be_drawn_gives_no_curve(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(limbs_bottom=("stop", "at the pocket"))
    answer = post(page, "keep_curve", script.job)
    assert answer.status_code == 422 and not DrawCurve.objects.exists()


def test_a_real_job_has_no_board_to_pull_on(page, script):
    to_spec(script)
    script.bench.delete()
    assert post(page, "keep_curve", script.job).status_code == 422
    assert "Pull it on the draw board" not in shown(page, script.job, "bow_drawn")


def test_what_is_read_after_the_bolts_is_no_baseline(script, ines, submission):
    to_spec(script)
    before = job_state(Job.objects.get()).facts.baseline("peak_weight").summary.value
    cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"limb_bolts": -4}))
    script.bow.turn(Steps({"limb_bolts": -4}))
    script.read("peak_weight")
    facts = job_state(Job.objects.get()).facts
    assert facts.baseline("peak_weight").summary.value == before
    assert facts.current("peak_weight").summary.value > before + 2


def test_a_module_is_logged_and_makes_its_readings_stale(page, script):
    to_spec(script)
    refused = post(page, "note_change", script.job, change="module_or_stop", note="")
    assert refused.status_code == 422 and "from which letter" in refused.content.decode()
    post(page, "note_change", script.job, change="module_or_stop", note="C to D")
    facts = job_state(Job.objects.get()).facts
    assert not facts.current("stop_gap").fresh and facts.current("axle_to_axle").fresh
    assert "Draw module or stop: C to D" in shown(page, script.job, "log")
    script.read_asked()
    assert job_state(Job.objects.get()).advice.plan


def test_a_new_loop_makes_the_nock_stale_and_timing_stays(page, script):
    to_spec(script)
    post(
        page, "note_change", script.job, change="loop_or_ties", note="a new loop, tied a hair lower"
    )
    facts = job_state(Job.objects.get()).facts
    assert not facts.current("nock_to_peep").fresh and facts.current("stop_gap").fresh
    assert "nock_to_peep" in job_state(Job.objects.get()).course.to_read


def test_lean_is_read_on_both_faces_and_averaged(page, script):
    script.check_in(["back_to_spec"], model="Pilot 33")
    script.inspect()
    address = reverse("step", args=[script.job.pk, "baseline"]) + "?at=lean"
    assert "Now the left face" in page.get(address).content.decode()
    post(
        page, "take_readings", script.job, "baseline", **line("lean", text="1/4", direction="right")
    )
    assert "Now the right face" in page.get(address).content.decode()
    assert not job_state(Job.objects.get()).facts.current("lean").enough
    post(
        page, "take_readings", script.job, "baseline", **line("lean", text="1/8", direction="right")
    )
    lean = job_state(Job.objects.get()).facts.current("lean")
    assert lean.enough and lean.summary.value == 0.1875


def test_yokes_and_timing_come_home_together(script):
    script.check_in(["back_to_spec"], model="Pilot 33")
    script.inspect()
    script.read("lean")
    script.came_in(cable_b=-0.05)
    script.baseline()
    for _ in range(6):
        state = job_state(Job.objects.get())
        if not state.course.outside and not state.course.to_read:
            break
        script.follow_plan() if state.advice.plan.best.steps else script.read(
            state.advice.plan.read_again
        )
        script.read_asked()
    state = job_state(Job.objects.get())
    assert not state.course.outside and not state.course.to_read
    assert state.facts.current("lean").fresh


def test_both_cams_are_seen_close_up_where_the_first_stop_touches(page, script):
    to_spec(script, cable_a=-0.12)
    fragment = shown(page, script.job, "bow_drawn")
    assert "Where the first stop touches" in fragment and fragment.count("<figure>") == 2
    assert "its stop touches" in fragment and "in open" in fragment
    script.check_in(["back_to_spec"], model="Sarn 35", fitted=["peep"])
    assert "Where the first stop touches" not in shown(page, script.job, "bow_drawn")


def test_all_that_a_bow_has_shown_is_there_on_request(page, script):
    to_spec(script, cable_a=-0.12)
    script.follow_plan()
    script.read_asked()
    (one,) = job_state(Job.objects.get()).advice.shown
    assert "take-up cable" in one.change
    gap = next(line for line in one.lines if line[0] == "Cam timing")
    assert "give or take" in gap[1] and gap[2]
    assert "What this bow has shown so far (1)" in shown(page, script.job, "step", "back_to_spec")


def test_the_sheet_tells_every_kind_of_change(page, script, ines, submission):
    to_spec(script, "Pilot 33")
    cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 1}))
    two = spacer(job_state(Job.objects.get()), "cable_a", "two 1/16 in spacers")
    done = Steps([("cable_b.left", 1), two])
    cycle.open_press_otherwise(script.job.pk, submission(ines, script.job), done, "")
    cycle.turn(script.job.pk, submission(ines, script.job), done)
    script.let_down()
    post(page, "note_change", script.job, change="rest", note="a hair to the left")
    sheet = page.get(reverse("sheet", args=[script.job.pk])).content.decode()
    for words in ("Both limb bolts: half a turn out", "Buss cable, left leg: half a twist in",
                 "Control cable, spacer: two 1/16 in spacers", "Rest: a hair to the left",
                 "pulled from"):  # fmt: skip
        assert words in sheet, words
    assert "Both limb bolts: half a turn out" in shown(page, script.job, "log")


def _bolt_limits(key):
    state = job_state(Job.objects.get())
    return state.adjuster(key).totals_allowed(state.facts)


def test_bolts_written_down_anew_are_counted_from_there(script, ines, submission):
    to_spec(script)  # both stood two out, the maker allows eight
    cycle.turn_without_press(script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 4}))
    state = job_state(Job.objects.get())
    assert state.marks["bolts_top"] == state.marks["bolts_bottom"] == "4"
    assert _bolt_limits("limb_bolts") == (-4, 12)
    for bolt in ("bolts_top", "bolts_bottom"):
        write_mark(
            script.job.pk, submission(ines, script.job), bolt, "7"
        )  # counted again, it was seven
    assert _bolt_limits("limb_bolts") == (-10, 6)
    with pytest.raises(Refused, match="no further"):
        cycle.turn_without_press(
            script.job.pk, submission(ines, script.job), Steps({"limb_bolts": 3})
        )


def test_bolts_chosen_otherwise_are_logged_without_the_press(page, script):
    to_spec(script)
    post(page, "change_otherwise", script.job, **turned(limb_bolts="2", cable_a="0"))
    assert Adjustment.objects.get().press is None and not PressCycle.objects.exists()
    post(page, "change_otherwise", script.job, **turned(limb_bolts="1", cable_a="1"))
    assert PressCycle.objects.get().planned == Steps({"limb_bolts": 1, "cable_a": 1})


@pytest.mark.parametrize("steps", ["--5", "²", "1e3", "", "1000000"])
def test_steps_that_are_not_a_number_are_refused(page, script, steps):
    to_spec(script)
    answer = post(page, "change_otherwise", script.job, **{"steps-cable_a": steps})
    assert answer.status_code == 422 and not Adjustment.objects.exists()
    assert 'role="alert"' in answer.content.decode()


def test_a_tool_cannot_be_made_to_behave_in_a_way_there_is_not(page, script):
    answer = set_tool(page, "scale", "dreaming")
    assert answer.status_code == 422 and "How does the tool behave" in answer.content.decode()
