"""Back to spec over HTTP: every adjuster, the press or none, schools, taking back, the bow drawn."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from bowcore.errors import BadInput, Refused
from shop.accounts.models import Shop
from shop.bench.actions import press
from shop.bench.actions.choose_timing import choose_timing
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.take_back import take_back
from shop.jobs.models import Job
from shop.ledger.models import Adjustment, PressCycle
from shop.measurements.models import DrawCurve
from shop.tuning import fitting
from shop.tuning.bow import readings_of, state_of
from shop.tuning.models import Advice, BowState, CurveFit
from shop.tuning.selectors import View, view_of
from tests.shop.posting import post

pytestmark = pytest.mark.django_db


def spacer(view, role, words):
    """Steps that put spacers into a cable, by how they are said."""
    key = f"{role}.spacer"
    ways = {way.words: way.total for way in view.adjuster(key).positions}
    return key, ways[words] - view.facts.total(key)


def to_spec(bench, model="Lark 31", **off):
    bench.check_in(["back_to_spec"], model=model)
    bench.look_over()
    bench.off(**off)
    bench.baseline()


def shown(page, job, name="step", *more):
    return page.get(reverse(name, args=[job.pk, *more])).content.decode()


def test_limb_bolts_are_turned_without_the_press_and_make_the_weight_stale(page, bench):
    to_spec(bench)
    answer = post(page, "post_no_press", bench.job, **{"steps-limb_bolts": "-2"})
    assert answer.status_code == 302
    row = Adjustment.objects.get()
    assert (row.press, row.change, row.said) == (None, "limb_bolt", "Both limb bolts: one turn in")
    view = view_of(Job.objects.get())
    assert not view.facts.current("peak_weight").fresh and view.facts.current("stop_gap").fresh
    assert not PressCycle.objects.exists()


@pytest.mark.parametrize("half_turns", ["-6", "14"])
def test_limb_bolts_stay_between_bottomed_and_the_makers_limit(page, bench, half_turns):
    to_spec(bench)  # both stood two out, the maker allows eight
    answer = post(page, "post_no_press", bench.job, **{"steps-limb_bolts": half_turns})
    assert answer.status_code == 422 and "maker" in answer.content.decode()
    assert not Adjustment.objects.exists()


def test_bolts_that_nobody_counted_are_not_turned(bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    with pytest.raises(Refused, match="write down"):
        press.turn_without_press(bench.job.pk, [("limb_bolts", 1)], stamp(ines, bench.job))


def test_what_needs_the_press_is_not_logged_without_it(bench, ines, stamp):
    to_spec(bench)
    with pytest.raises(Refused, match="needs the press"):
        press.turn_without_press(bench.job.pk, [("cable_a", 1)], stamp(ines, bench.job))
    with pytest.raises(Refused, match="without the press"):
        press.open_press_otherwise(bench.job.pk, [("limb_bolts", 1)], "", stamp(ines, bench.job))
    with pytest.raises(BadInput, match="has no"):
        press.open_press_otherwise(bench.job.pk, [("cable_z", 1)], "", stamp(ines, bench.job))


def test_bolts_count_on_from_where_they_stand_at_the_next_press(bench, ines, stamp):
    to_spec(bench)
    press.turn_without_press(bench.job.pk, [("limb_bolts", 2)], stamp(ines, bench.job))
    assert [move.stands for move in view_of(Job.objects.get()).press_plan.bolts] == [3, 3]


def test_a_spacer_that_is_in_is_asked_for_at_the_next_gate(page, bench, ines, stamp):
    to_spec(bench)
    one = spacer(view_of(Job.objects.get()), "cable_a", "one 1/8 in spacer")
    press.open_press_otherwise(bench.job.pk, [one], "", stamp(ines, bench.job))
    assert "Part its" in shown(page, bench.job, "step", "spec")  # how it goes in, strands counted
    press.turn(bench.job.pk, [one], stamp(ines, bench.job))
    assert "Every spacer" in shown(page, bench.job, "step", "spec")
    with pytest.raises(Refused, match="Every spacer"):
        points = [p.key for p in press_points(bench)]
        press.let_down(bench.job.pk, press.Gate(points), stamp(ines, bench.job))


def press_points(bench):
    from bowcore.service.gates import gate_points

    return gate_points(bench.bow.spec.family)


def test_yoke_legs_stay_alone_until_the_lean_is_read(bench):
    to_spec(bench, "Pilot 33", cable_b=-0.05)
    assert "lean" not in view_of(Job.objects.get()).advice.problem.planned
    legs = [k for k, (low, high) in view_of(Job.objects.get()).advice.problem.limits.items()
            if k.startswith("cable_b.") and (low, high) == (0, 0)]  # fmt: skip
    assert legs == ["cable_b.left", "cable_b.right"]


def test_lean_that_was_read_is_planned_together_with_timing(bench):
    bench.check_in(["back_to_spec"], model="Pilot 33")
    bench.look_over()
    bench.off(cable_b=-0.05)
    bench.read("lean")
    bench.baseline()
    problem = view_of(Job.objects.get()).advice.problem
    assert {"lean", "stop_gap"} <= set(problem.planned)
    assert problem.steps_of("cable_b.left") and problem.steps_of("cable_b.right")


def test_another_school_shows_its_plan_and_holds_for_this_job_only(page, bench):
    to_spec(bench, cable_a=-0.07)
    fragment = shown(page, bench.job, "schools")
    assert "Whole twists only" in fragment and "One press." in fragment
    post(page, "post_timing", bench.job, name="half_twists", value="")
    view = view_of(Job.objects.get())
    assert view.job.school == {"half_twists": False} and not view.school.half_twists
    assert Shop.current().half_twists
    assert all(
        count % 2 == 0 for _, count in view.advice.plan.best.steps if _ in ("cable_a", "cable_b")
    )
    post(page, "post_timing", bench.job, name="half_twists", value="on")
    assert Job.objects.get().school == {}


def test_a_school_that_does_not_exist_is_refused(bench, ines, stamp):
    to_spec(bench)
    with pytest.raises(BadInput, match="no school"):
        choose_timing(bench.job.pk, {"upside_down": True}, stamp(ines, bench.job))


def test_a_step_is_taken_back_through_press_and_gate(page, bench, ines, stamp):
    to_spec(bench, cable_a=-0.07)
    bench.follow()
    first = Adjustment.objects.order_by("seq").first()
    assert "Take back to before this" in shown(page, bench.job, "log")
    assert post(page, "post_take_back", bench.job, since=first.seq).status_code == 302
    cycle = PressCycle.objects.latest("seq")
    done = [[row.role, -row.half_twists] for row in Adjustment.objects.order_by("pk")]
    assert cycle.planned == done and "taken back" in cycle.said
    press.turn(bench.job.pk, [tuple(step) for step in cycle.planned], stamp(ines, bench.job))
    bench.let_down()
    assert view_of(Job.objects.get()).facts.half_twists(first.role) == 0
    answer = post(page, "post_take_back", bench.job, since=first.seq)
    assert answer.status_code == 422 and "Nothing is left" in answer.content.decode()


def test_bolts_are_taken_back_without_the_press(bench, ines, stamp):
    to_spec(bench)
    row = press.turn_without_press(bench.job.pk, [("limb_bolts", 3)], stamp(ines, bench.job))[0]
    take_back(bench.job.pk, row.seq, stamp(ines, bench.job))
    assert view_of(Job.objects.get()).facts.half_twists("limb_bolts") == 0
    assert not PressCycle.objects.exists()


def test_the_bow_is_drawn_from_what_was_read_and_kept(page, bench):
    to_spec(bench, cable_a=-0.12)
    fragment = shown(page, bench.job, "bow_drawn")
    assert fragment.count('data-frame="24"') == 3  # the bow, the curve, the numbers
    assert "take-up cable: about" in fragment and "give or take" in fragment
    assert BowState.objects.count() == 1
    shown(page, bench.job, "bow_drawn")
    assert BowState.objects.count() == 1
    assert "Half a twist in, by the twin" in shown(page, bench.job, "bow")


def test_only_the_newest_states_are_kept(page, bench, monkeypatch):
    monkeypatch.setattr("shop.tuning.bow.KEPT", 1)
    to_spec(bench)
    shown(page, bench.job, "bow_drawn")
    bench.read("axle_to_axle", "axle_to_axle")
    shown(page, bench.job, "bow_drawn")
    assert BowState.objects.count() == 1


def test_a_bow_without_a_twin_says_so_and_still_shows_its_parts(page, bench, monkeypatch):
    to_spec(bench)
    view = view_of(Job.objects.get())
    monkeypatch.setattr("shop.tuning.bow._computed", lambda spec, readings: None)
    assert state_of(view.spec, readings_of(view)) is None
    assert "no twin of this bow" in shown(page, bench.job, "bow_drawn")
    assert "Top take-up cable" in shown(page, bench.job, "bow")


def test_advice_is_kept_with_its_inputs_and_comes_out_the_same_again(bench):
    to_spec(bench, cable_a=-0.07)
    job = Job.objects.get()
    before = View(job).advice
    again = View(Job.objects.get()).advice
    assert before.sentence == again.sentence and before.plan == again.plan
    bench.follow()
    kept = Advice.objects.get()
    assert kept.answer["sentence"] == before.sentence and kept.core_version


def curve_file(text, name="curve.csv"):
    return SimpleUploadedFile(name, text.encode() if isinstance(text, str) else text, "text/csv")


CURVE = "draw_length_in,force_lbf\n" + "".join(
    f"{10 + n},{f}\n" for n, f in enumerate((0, 12, 25, 38, 50, 58, 60, 60, 55, 40, 20, 12))
)


def test_a_curve_is_taken_from_a_file_and_plotted(page, bench):
    to_spec(bench)
    assert post(page, "post_curve", bench.job, file=curve_file(CURVE)).status_code == 302
    kept = DrawCurve.objects.get()
    assert (kept.source, len(kept.points)) == ("file", 12)
    fragment = shown(page, bench.job, "bow_drawn")
    assert fragment.count('class="was"') == 12 and "let-off 80 %" in fragment


@pytest.mark.parametrize("text", ["draw,force\n1,2\n", b"\xff\xfe\x00\x01", "x" * 600_000])
def test_a_file_that_is_no_curve_is_refused(page, bench, text):
    to_spec(bench)
    assert post(page, "post_curve", bench.job, file=curve_file(text)).status_code == 422
    assert not DrawCurve.objects.exists()


def test_the_board_pulls_the_hidden_bow_and_a_twin_is_fitted_to_it(page, bench):
    to_spec(bench)
    post(page, "post_curve", bench.job)
    assert DrawCurve.objects.get().source == "draw board"
    post(page, "post_fit", bench.job)
    fit = CurveFit.objects.get()
    assert fit.state == CurveFit.DONE and fit.data["after_lbf"] <= fit.data["before_lbf"]
    body = shown(page, bench.job, "bow_drawn")
    assert "The dashed curve is a twin fitted to it" in body and "by the book" in body
    bench.bow.twist("cable_a", -3)
    bench.read("stop_gap")
    assert view_of(Job.objects.get()).advice.problem.response.rests_on == "its own force-draw curve"
    CurveFit.objects.update(data=fit.data | {"core_version": "0"})  # an older core's is not used
    assert view_of(Job.objects.get()).advice.problem.response.rests_on == "the book"


def test_nobody_waits_for_a_fit_that_was_cancelled(page, bench, monkeypatch):
    to_spec(bench)
    post(page, "post_curve", bench.job)
    monkeypatch.setattr("shop.tuning.fitting.work", lambda pk, spec: None)  # still at work
    post(page, "post_fit", bench.job)
    assert "others are not kept waiting" in shown(page, bench.job, "bow_drawn")
    post(page, "post_fit", bench.job, cancel="on")
    assert CurveFit.objects.get().state == CurveFit.CANCELLED
    monkeypatch.undo()
    fitting.work(CurveFit.objects.get().pk, view_of(Job.objects.get()).spec)
    assert CurveFit.objects.get().state == CurveFit.CANCELLED  # what it found came too late
    post(page, "post_fit", bench.job)
    assert CurveFit.objects.get().state == CurveFit.DONE


def test_a_bow_that_must_not_be_drawn_gives_no_curve(page, bench):
    bench.check_in(["back_to_spec"])
    bench.look_over(limbs_bottom=("stop", "at the pocket"))
    answer = post(page, "post_curve", bench.job)
    assert answer.status_code == 422 and not DrawCurve.objects.exists()


def test_a_real_job_has_no_board_to_pull_on(page, bench):
    to_spec(bench)
    bench.bench.delete()
    assert post(page, "post_curve", bench.job).status_code == 422
    assert "Pull it on the draw board" not in shown(page, bench.job, "bow_drawn")


def test_what_is_read_after_the_bolts_is_no_baseline(bench, ines, stamp):
    to_spec(bench)
    before = view_of(Job.objects.get()).facts.baseline("peak_weight").summary.value
    press.turn_without_press(bench.job.pk, [("limb_bolts", -4)], stamp(ines, bench.job))
    bench.bow.twist("limb_bolts", -4)
    bench.read("peak_weight")
    facts = view_of(Job.objects.get()).facts
    assert facts.baseline("peak_weight").summary.value == before
    assert facts.current("peak_weight").summary.value > before + 2


def test_a_module_is_logged_and_makes_its_readings_stale(page, bench):
    to_spec(bench)
    refused = post(page, "post_change", bench.job, change="module_or_stop", note="")
    assert refused.status_code == 422 and "from which letter" in refused.content.decode()
    post(page, "post_change", bench.job, change="module_or_stop", note="C to D")
    facts = view_of(Job.objects.get()).facts
    assert not facts.current("stop_gap").fresh and facts.current("axle_to_axle").fresh
    assert "Draw module or stop: C to D" in shown(page, bench.job, "log")
    bench.read_asked()
    assert view_of(Job.objects.get()).advice.plan


def test_a_new_loop_makes_the_nock_stale_and_timing_stays(page, bench):
    to_spec(bench)
    post(
        page, "post_change", bench.job, change="loop_or_ties", note="a new loop, tied a hair lower"
    )
    facts = view_of(Job.objects.get()).facts
    assert not facts.current("nock_to_peep").fresh and facts.current("stop_gap").fresh
    assert "nock_to_peep" in view_of(Job.objects.get()).course.to_read


def test_lean_is_read_on_both_faces_and_averaged(page, bench):
    bench.check_in(["back_to_spec"], model="Pilot 33")
    bench.look_over()
    address = reverse("step", args=[bench.job.pk, "baseline"]) + "?at=lean"
    assert "now the left face" in page.get(address).content.decode()
    post(page, "post_reading", bench.job, "baseline", quantity="lean", text="1/4", way="right")
    assert "now the right face" in page.get(address).content.decode()
    assert not view_of(Job.objects.get()).facts.current("lean").enough
    post(page, "post_reading", bench.job, "baseline", quantity="lean", text="1/8", way="right")
    lean = view_of(Job.objects.get()).facts.current("lean")
    assert lean.enough and lean.summary.value == 0.1875


def test_yokes_and_timing_come_home_together(bench):
    bench.check_in(["back_to_spec"], model="Pilot 33")
    bench.look_over()
    bench.read("lean")
    bench.off(cable_b=-0.05)
    bench.baseline()
    for _ in range(6):
        view = view_of(Job.objects.get())
        if not view.course.outside and not view.course.to_read:
            break
        bench.follow() if view.advice.plan.best.steps else bench.read(view.advice.plan.read_again)
        bench.read_asked()
    view = view_of(Job.objects.get())
    assert not view.course.outside and not view.course.to_read
    assert view.facts.current("lean").fresh


def test_both_cams_are_seen_close_up_where_the_first_stop_touches(page, bench):
    to_spec(bench, cable_a=-0.12)
    fragment = shown(page, bench.job, "bow_drawn")
    assert "Where the first stop touches" in fragment and fragment.count('class="cam"') == 2
    assert "its stop touches" in fragment and "in open" in fragment
    bench.check_in(["back_to_spec"], model="Sarn 35", fitted=["peep"])
    assert "Where the first stop touches" not in shown(page, bench.job, "bow_drawn")


def test_all_that_a_bow_has_shown_is_there_on_request(page, bench):
    to_spec(bench, cable_a=-0.12)
    bench.follow()
    bench.read_asked()
    (one,) = view_of(Job.objects.get()).advice.shown
    assert "Top take-up cable" in one.change or "Bottom take-up cable" in one.change
    gap = next(line for line in one.lines if line[0] == "First stop and gap")
    assert "give or take" in gap[1] and gap[2]
    assert "All that this bow has shown (1)" in shown(page, bench.job, "step", "spec")


def test_the_sheet_tells_every_kind_of_change(page, bench, ines, stamp):
    to_spec(bench, "Pilot 33")
    press.turn_without_press(bench.job.pk, [("limb_bolts", 1)], stamp(ines, bench.job))
    done = [
        ("cable_b.left", 1),
        spacer(view_of(Job.objects.get()), "cable_a", "two 1/16 in spacers"),
    ]
    press.open_press_otherwise(bench.job.pk, done, "", stamp(ines, bench.job))
    press.turn(bench.job.pk, done, stamp(ines, bench.job))
    bench.let_down()
    post(page, "post_change", bench.job, change="rest", note="a hair to the left")
    sheet = page.get(reverse("sheet", args=[bench.job.pk])).content.decode()
    for said in ("Both limb bolts: half a turn out", "Buss cable, left leg: half a twist in",
                 "Control cable, spacer: two 1/16 in spacers", "Rest: a hair to the left",
                 "pulled from"):  # fmt: skip
        assert said in sheet, said
    assert "Both limb bolts: half a turn out" in shown(page, bench.job, "log")


def test_bolts_written_down_anew_are_counted_from_there(bench, ines, stamp):
    to_spec(bench)  # both stood two out, the maker allows eight
    press.turn_without_press(bench.job.pk, [("limb_bolts", 4)], stamp(ines, bench.job))
    view = view_of(Job.objects.get())
    assert view.marks["bolts_top"] == view.marks["bolts_bottom"] == "4"
    assert view.facts.bolt_limits("limb_bolts") == (-4, 12)
    for bolt in ("bolts_top", "bolts_bottom"):
        note_mark(bench.job.pk, bolt, "7", stamp(ines, bench.job))  # counted again, it was seven
    assert view_of(Job.objects.get()).facts.bolt_limits("limb_bolts") == (-10, 6)
    with pytest.raises(Refused, match="no further"):
        press.turn_without_press(bench.job.pk, [("limb_bolts", 3)], stamp(ines, bench.job))


def test_bolts_chosen_otherwise_are_logged_without_the_press(page, bench):
    to_spec(bench)
    post(page, "post_otherwise", bench.job, **{"steps-limb_bolts": "2", "steps-cable_a": "0"})
    assert Adjustment.objects.get().press is None and not PressCycle.objects.exists()
    post(page, "post_otherwise", bench.job, **{"steps-limb_bolts": "1", "steps-cable_a": "1"})
    assert PressCycle.objects.get().planned == [["limb_bolts", 1], ["cable_a", 1]]


@pytest.mark.parametrize("steps", ["--5", "²", "1e3", ""])
def test_steps_that_are_no_number_are_nought(page, bench, steps):
    to_spec(bench)
    answer = post(page, "post_otherwise", bench.job, **{"steps-cable_a": steps})
    assert answer.status_code == 422 and "which part was turned" in answer.content.decode()


def test_a_tool_cannot_be_made_to_behave_in_a_way_there_is_not(page, bench):
    answer = page.post(reverse("tools"), {"tool": "scale", "state": "dreaming"})
    assert answer.status_code == 422 and "How does the tool behave" in answer.content.decode()
