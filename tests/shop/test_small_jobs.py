"""The small jobs of a shop's day, through the application: each reads its own, and goes out of the door."""

from decimal import Decimal

import pytest
from django.urls import reverse

from bowcore.quantities.changes import Change
from bowcore.work_order.services import SERVICES
from shop.casework.readings.actions.take_reading import (
    TypedReading,
    cannot_read,
    skip_wanted,
    take_reading,
)
from shop.casework.readings.actions.write_mark import write_mark
from shop.demo.job_script import JobScript
from shop.schema.audit.models import Event
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import MarkEntry, Reading
from shop.schema.press.models import Adjustment
from tests.shop.posting import line, post
from tests.shop.test_back_to_spec import shown

pytestmark = pytest.mark.django_db


def hands_over(page, script):
    answer = post(page, "hand_over", script.job, not_done="")
    return (
        answer.status_code == 302 and Job.objects.get(pk=script.job.pk).handed_over_at is not None
    )


def main_of(body):
    """The words of the page's one next act."""
    start = body.index("data-next")
    return " ".join(body[body.index(">", start) + 1 :].split("<kbd>")[0].split())


def test_a_timing_job_is_re_read_only_where_it_was_asked_and_goes_out(page, script):
    script.check_in(["timing_check"], fitted=[])
    script.came_in(cable_a=0.08)
    script.inspect()
    script.baseline()
    script.read_until_sure()
    while script.state().course.outside:
        script.follow_plan()
        assert set(script.state().course.to_read) <= {"stop_gap"}
        script.read_asked()
    assert set(Reading.objects.values_list("quantity", flat=True)) == {"stop_gap"}
    body = shown(page, script.job, "step", "hand_over")
    assert "never read" not in body and "May have moved with this work" in body
    assert "Axle to axle" in body.split("May have moved")[1][:300]
    assert hands_over(page, script)


def test_a_wished_weight_is_made_by_the_bolts_which_are_counted_first(page, script):
    script.check_in(["draw_weight"], wanted_weight_lbf=Decimal(50), fitted=[])
    script.inspect()
    assert set(script.state().course.unmarked) == {"bolts_top", "bolts_bottom"}
    script.baseline()
    script.read_until_sure()
    best = script.state().advice.plan.best
    assert set(best.steps) == {"limb_bolts"} and not best.presses
    assert "Limb bolts make the weight" in shown(page, script.job, "step", "back_to_spec")
    script.back_to_spec()
    assert hands_over(page, script)


def test_a_weight_that_bolts_cannot_give_is_said_to_be_out_of_reach(page, script):
    script.check_in(["draw_weight"], wanted_weight_lbf=Decimal(90), fitted=[])
    script.inspect()
    script.baseline()
    script.read_until_sure()
    body = shown(page, script.job, "step", "back_to_spec")
    assert "The bolts are at their end" in body
    assert set(script.state().advice.plan.best.steps) <= {"limb_bolts"}


def test_another_draw_length_names_the_module_and_its_neighbours_first(page, script):
    script.check_in(["draw_length"], wanted_draw_in=Decimal(30), fitted=[])
    script.inspect()
    script.baseline()
    script.on_the_bow("arrow", name="short", mass_gr="412", length_in="27", shaft_in="0.246")
    body = shown(page, script.job, "step", "back_to_spec")
    assert "Module 4, 30 in: put it on both cams." in body and "3, 28 1/2 in" in body
    assert "too short for it" in body
    assert post(page, "change_module", script.job, sets_to="4").status_code == 302
    row = Adjustment.objects.get()
    assert (row.change, row.note) == (Change.MODULE_OR_STOP.value, "from module 3, hole 3 to 4")
    marks = dict(MarkEntry.objects.filter(seq=row.seq).values_list("mark", "value"))
    assert marks == {"module_top": "4", "module_bottom": "4"}
    assert set(script.state().course.to_read) == {"draw_length", "stop_gap"}
    assert post(page, "change_module", script.job, sets_to=" ").status_code == 422


def test_a_loop_that_was_asked_for_is_tied_whatever_the_old_one_reads(page, script):
    script.check_in(["loop"], fitted=["loop", "peep"])
    script.inspect()
    script.baseline()
    assert "Tie a new loop" in shown(page, script.job, "step", "fit")
    assert post(page, "do_fit_act", script.job, sets="loop_length").status_code == 302
    assert {"loop_length", "nock_height"} <= set(script.state().course.situation.fit_unread)
    script.on_the_bow("arrow", name="own", mass_gr="412", length_in="28 1/2", shaft_in="0.246")
    script.read(*script.state().course.situation.fit_unread)
    assert hands_over(page, script)


def test_work_by_hand_is_written_down_before_the_bow_goes(page, script):
    script.check_in(["sight", "accessory"], fitted=["sight"])
    script.inspect()
    assert script.state().course.next.step == "work"
    assert not hands_over(page, script)
    for key in ("work_sight", "work_accessory"):
        assert (
            post(page, "write_mark", script.job, mark=key, value="done as asked").status_code == 302
        )
    assert hands_over(page, script)


def test_an_inspection_alone_ends_with_the_inspection(page, script):
    script.check_in(["inspection_only"], fitted=[])
    script.inspect()
    assert [one.step.key for one in script.state().course.steps] == [
        "check_in",
        "inspection",
        "hand_over",
    ]
    assert hands_over(page, script)


@pytest.mark.parametrize("key", SERVICES)
def test_every_service_leads_from_one_page_to_the_next(page, script, key):
    """No service has a page without a next act, before and after the inspection."""
    if SERVICES[key].replaces.startswith("harness"):
        pytest.skip("only bows with harnesses of their own")
    script.check_in([key], wanted_weight_lbf=Decimal(52), fitted=["rest", "loop", "peep", "sight"])
    for _ in range(2):
        state = script.state()
        for one in state.course.steps:
            assert "data-next" in shown(page, script.job, "step", one.step.key)
        script.inspect()


def test_what_was_skipped_is_asked_for_again_where_it_is_needed(script):
    script.check_in(["back_to_spec", "fit"], fitted=["rest", "loop"])
    script.inspect()
    take = Reading.objects.filter(job=script.job)
    skip_wanted(script.job.pk, script.submission(), "centre_shot")
    assert take.get(quantity="centre_shot").reason == "skipped"
    assert "centre_shot" not in script.state().course.unread
    assert "centre_shot" in script.state().course.situation.fit_unread


def test_peep_loop_and_nock_height_are_musts_before_a_string_comes_off(script):
    script.check_in(["replace_string"], fitted=["peep", "loop", "rest"])
    script.inspect()
    must = script.state().facts.setup.must_read
    named = script.state().facts.named
    assert all(must(named(key)) for key in ("nock_to_peep", "nock_height", "loop_length"))
    assert not must(named("centre_shot"))


def test_a_reading_is_not_lost_when_the_next_take_cannot_be_read(page, script):
    script.check_in(["back_to_spec"])
    script.read("brace_height")
    post(
        page,
        "cannot_read",
        script.job,
        "baseline",
        quantity="brace_height",
        reason="square is gone",
    )
    assert script.state().facts.baseline("brace_height").summary.takes == 1


def test_three_pulls_may_be_typed_in_one_go(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    answer = post(
        page, "take_readings", script.job, "baseline", **line("peak_weight", text="59.8 60.2 60")
    )
    assert answer.status_code == 302
    assert [float(row.value) for row in Reading.objects.all()] == [59.8, 60.2, 60]
    assert Event.objects.filter(verb="read").count() == 1


def test_a_returning_bow_is_put_back_to_what_it_left_with(page, script):
    script.check_in(["recheck"], fitted=["peep"])
    script.inspect()
    script.baseline()
    assert hands_over(page, script)
    left = script.state().facts.baseline("nock_to_peep").summary.value
    again = JobScript(script.customer, 7, 3)
    again.check_in(["back_to_spec"], fitted=["peep"])
    Job.objects.filter(pk=again.job.pk).update(bow=script.job.bow)
    typed = TypedReading(
        "nock_to_peep", f"{left + 0.5:g}", "", "loop_knot", "peep_centre", sure=True
    )
    start = Reading.objects.filter(job=script.job, quantity="nock_to_peep").first()
    typed = TypedReading("nock_to_peep", f"{left + 0.5:g}", "", start.start, start.end, sure=True)
    take_reading(again.job.pk, again.submission(), typed)
    state = again.state()
    band = state.bands["nock_to_peep"]
    assert (band.source, band.target) == ("last visit", left)
    assert "1/2 in more now" in shown(page, again.job, "step", "baseline")


def test_an_apprentice_asks_for_a_signature_and_whoever_may_signs(client, script, pia, tomas):
    script.check_in(["inspection_only"], fitted=[])
    script.inspect()
    client.force_login(pia)
    body = client.get(reverse("step", args=[script.job.pk, "hand_over"])).content.decode()
    assert main_of(body) == "Ask for a signature"
    assert post(client, "ask_signature", script.job, reason="ready").status_code == 302
    assert post(client, "ask_signature", script.job, reason="again").status_code == 422
    client.force_login(tomas)
    assert post(client, "hand_over", script.job, not_done="").status_code == 302
    assert Hold.objects.get(kind="signature").lifted_by == tomas


def test_the_number_that_is_judged_is_the_number_that_is_shown(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    band = script.state().bands["axle_to_axle"]
    edge = band.high + 1 / 64  # said to a sixteenth it is the edge itself
    what = script.state().facts.named("axle_to_axle")
    assert what.say(edge) == what.say(band.high)
    from bowcore.measurement.bands import judge_as_shown

    assert judge_as_shown(what, band, edge).inside and not band.judge(edge).inside
    assert not judge_as_shown(what, band, band.high + 1 / 16).inside


def test_a_new_part_that_no_twist_brings_home_is_sent_back_and_another_goes_on(page, script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.4)
    script.read_asked()
    script.read_until_sure()
    assert main_of(shown(page, script.job, "step", "back_to_spec")) == "Off with it: order another"
    assert (
        post(page, "send_back", script.job, role="cable_a", reason="too short").status_code == 302
    )
    state = script.state()
    assert state.facts.still_to_replace == ("cable_a",)
    assert state.course.next.step in ("string_set", "replace")
    sources = {"supply-TOTAL_FORMS": 1, "supply-INITIAL_FORMS": 0, "supply-0-role": "cable_a",
               "supply-0-source": "from the shelf"}  # fmt: skip
    assert post(page, "order_set", script.job, **sources).status_code == 302
    assert script.state().course.next.step == "replace"


def test_a_set_is_taken_as_labelled_in_one_act_and_counts_for_no_maker(page, script):
    from shop.schema.string_sets.selectors import maker_records

    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.order_set()
    assert post(page, "set_as_labelled", script.job).status_code == 302
    assert [one.length_known for one in script.set.components.all()] == ["as labelled"]
    assert maker_records() == [] and "set" not in script.state().facts.holds


def test_without_a_draw_board_the_marks_at_rest_bring_the_timing_back_with_their_doubt(
    page, script, ines, submission
):
    script.check_in(["timing_check"], fitted=[])
    script.came_in(cable_a=0.15)
    script.inspect()

    def no_board():
        cannot_read(script.job.pk, submission(ines, script.job), "stop_gap", "no draw board")

    no_board()
    assert script.state().course.outside == ()
    assert "nothing is said of it" in shown(page, script.job, "step", "back_to_spec")
    script.read("timing_marks")
    assert "until both limb bolts are counted" in shown(page, script.job, "step", "back_to_spec")
    for bolt in ("bolts_top", "bolts_bottom"):
        write_mark(script.job.pk, submission(ines, script.job), bolt, "0")
    drawn = script.bow.true("stop_gap")
    value, sigma = script.state().advice.problem.readings["stop_gap"]
    assert abs(value - drawn) < 3 * sigma and sigma > 1 / 64
    body = shown(page, script.job, "step", "back_to_spec")
    assert "Timing at rest, marks: at full draw about" in body and "A drawn reading wins" in body
    assert "Nobody wrote down which module" in body
    for _ in range(6):
        if not script.state().course.outside:
            break
        script.follow_plan()
        assert script.state().course.to_read == (
            "timing_marks",
        )  # the board is not asked for again
        script.read("timing_marks")
    assert script.state().course.outside == ()
    assert abs(script.bow.true("stop_gap")) < abs(drawn) / 2
    assert hands_over(page, script)


def test_a_wished_draw_length_is_made_by_the_module_and_nobody_twists_for_the_last_bit(
    page, script, ines, submission
):
    """Beside a module string and cables do fine work only; what is left is left on purpose."""
    script.check_in(["draw_length"], model="Pilot 33", wanted_draw_in=Decimal("27.25"), fitted=[])
    script.inspect()
    script.baseline()
    assert "put it on both cams" in shown(page, script.job, "step", "back_to_spec")
    assert post(page, "change_module", script.job, sets_to="2").status_code == 302
    script.read_asked()
    script.read_until_sure()
    advice = script.state().advice
    twisted = {key: n for key, n in advice.plan.best.steps.items() if key != "limb_bolts"}
    assert all(abs(count) <= 4 for count in twisted.values())
    body = shown(page, script.job, "step", "back_to_spec")
    assert main_of(body).startswith(("Leave", "Open the press"))
