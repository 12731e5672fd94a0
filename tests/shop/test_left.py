"""What goes out outside its band or unread, because someone stands for it; and how entries are kept."""

import uuid
from decimal import Decimal

import pytest
from django.urls import reverse

from bowcore.errors import Refused
from bowcore.stages.back_to_spec.targets import bands
from bowcore.work_order.needs import NEW_SETUP, BowSetup, readings_needed
from shop.casework.readings.actions.leave_it import leave_it
from shop.casework.readings.actions.take_reading import TypedReading, take_reading
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import LeftOnPurpose, Reading
from tests.shop.posting import line, lines, post


def heavy(script):
    """A bow that is three pounds over what was asked for."""
    script.check_in(["back_to_spec"], wanted_weight_lbf=Decimal(51))
    script.inspect()
    script.baseline()
    script.read_until_sure()


def test_a_technician_leaves_a_number_on_purpose_and_the_sheet_says_so(page, script):
    heavy(script)
    assert "peak_weight" in script.state().course.outside
    body = page.get(reverse("step", args=[script.job.pk, "hand_over"])).content.decode()
    assert "Leave a number as it is, on purpose" in body
    post(page, "leave_it", script.job, "hand_over", quantity="peak_weight", reason="likes it so")
    state = script.state()
    assert not state.course.outside and "peak_weight" not in state.advice.problem.planned
    assert post(page, "hand_over", script.job, not_done="").status_code == 302
    sheet = page.get(reverse("sheet", args=[script.job.pk])).content.decode()
    assert "Left on purpose: likes it so" in sheet and "lbf heavy" in sheet


def test_what_was_left_is_brought_inside_after_all(page, script):
    heavy(script)
    post(page, "leave_it", script.job, "back_to_spec", quantity="peak_weight", reason="likes it so")
    assert (
        post(page, "leave_it", script.job, "back_to_spec", quantity="peak_weight").status_code
        == 302
    )
    assert "peak_weight" in script.state().course.outside
    assert LeftOnPurpose.objects.count() == 2


def test_who_may_leave_what(script, ines, pia, submission):
    heavy(script)
    with pytest.raises(Refused, match="manager or technician"):
        leave_it(script.job.pk, submission(pia, script.job), ["peak_weight"], "likes it")
    with pytest.raises(Refused, match="Write down why"):
        leave_it(script.job.pk, submission(ines, script.job), ["peak_weight"], " ")
    with pytest.raises(Refused, match="has to be read"):
        leave_it(script.job.pk, submission(ines, script.job), ["arrow_speed"], "fast enough")


def test_what_cannot_be_read_any_more_goes_out_with_its_reason_and_no_manager(
    client, tomas, page, script
):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0)
    asked = script.state().course.to_read
    for name in asked:
        data = {"quantity": name, "reason": "the board is broken"}
        assert post(page, "cannot_read", script.job, "back_to_spec", **data).status_code == 302
    assert not script.state().course.to_read
    client.force_login(tomas)
    assert post(client, "hand_over", script.job, not_done="").status_code == 302
    sheet = client.get(reverse("sheet", args=[script.job.pk])).content.decode()
    assert "Peak weight was not read: the board is broken" in sheet


def test_keep_it_is_bound_to_the_very_number(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    address = ("take_readings", script.job, "baseline")
    odd = post(page, *address, **line("axle_to_axle", text="311/4"))
    body = odd.content.decode()
    assert odd.status_code == 422 and "Did you mean 31 1/4 in?" in body
    assert "Nothing was saved" in body and "data-selected" in body
    other = post(page, *address, **line("axle_to_axle", text="51"), sure_of="axle_to_axle 311/4")
    assert other.status_code == 422 and not Reading.objects.exists()
    kept = post(page, *address, **line("axle_to_axle", text="51"), sure_of="axle_to_axle 51")
    assert kept.status_code == 302 and Reading.objects.get().raw == "51"


def test_what_is_read_with_the_bow_as_it_stands_is_entered_in_one_go(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    address = reverse("step", args=[script.job.pk, "baseline"])
    at_rest = page.get(address).content.decode()
    assert 'data-line="axle_to_axle"' in at_rest and 'data-line="brace_height"' in at_rest
    assert 'data-line="peak_weight"' not in at_rest  # that one is read at full draw
    drawn = page.get(f"{address}?at=peak_weight").content.decode()
    assert "One pull on the board" in drawn and drawn.count("data-line=") == 4
    typed = lines(
        peak_weight="54.5", stop_gap=("1/32", "top"), draw_length="28 1/2", holding_weight=""
    )
    assert post(page, "take_readings", script.job, "baseline", **typed).status_code == 302
    assert sorted(Reading.objects.values_list("quantity", flat=True)) == [
        "draw_length", "peak_weight", "stop_gap"]  # fmt: skip
    assert Reading.objects.values("seq").distinct().count() == 1  # one event, one moment
    again = page.get(f"{address}?at=peak_weight").content.decode()
    assert 'data-line="holding_weight"' in again  # what stayed empty is asked for again


def test_lines_are_kept_all_or_none_and_what_was_typed_stays(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    wrong = lines(peak_weight="54.5", stop_gap=("1/0", "top"), draw_length="28 1/2")
    refused = post(page, "take_readings", script.job, "baseline", **wrong)
    body = refused.content.decode()
    assert refused.status_code == 422 and "Cam timing" in body
    assert not Reading.objects.exists()
    nothing = lines(peak_weight="", draw_length="")
    assert post(page, "take_readings", script.job, "baseline", **nothing).status_code == 422
    assert post(page, "take_readings", script.job, "baseline").status_code == 422


def test_what_was_typed_is_still_there_when_somebody_else_has_read_one_of_them(
    page, script, tomas, submission
):
    script.check_in(["back_to_spec"])
    script.inspect()
    seen = Job.objects.get().version
    theirs = TypedReading("axle_to_axle", "31 1/4")
    take_reading(script.job.pk, submission(tomas, script.job), theirs)
    typed = lines(axle_to_axle="31 3/16", brace_height="6 5/8") | {
        "seen": seen, "key": uuid.uuid4()}  # fmt: skip
    answer = page.post(reverse("take_readings", args=[script.job.pk, "baseline"]), typed)
    body = answer.content.decode()
    assert answer.status_code == 409
    assert 'value="31 3/16"' in body and 'value="6 5/8"' in body


def test_every_doubt_is_said_before_it_is_confirmed(page, script):
    script.check_in(["back_to_spec"])
    script.inspect()
    address = ("take_readings", script.job, "baseline")
    odd = lines(axle_to_axle="51", brace_height="11")
    asked = post(page, *address, **odd)
    body = asked.content.decode()
    assert asked.status_code == 422 and not Reading.objects.exists()
    assert "51" in body and "11" in body and 'value="axle_to_axle 51; brace_height 11"' in body
    other = odd | {"brace_height-text": "11 1/2", "sure_of": "axle_to_axle 51; brace_height 11"}
    assert post(page, *address, **other).status_code == 422 and not Reading.objects.exists()
    sure = odd | {"sure_of": "axle_to_axle 51; brace_height 11"}
    assert post(page, *address, **sure).status_code == 302 and Reading.objects.count() == 2


def test_a_bow_that_must_not_be_drawn_has_no_line_at_full_draw(page, script):
    script.check_in(["back_to_spec"])
    script.inspect(string=("stop", "two strands"))
    address = reverse("step", args=[script.job.pk, "baseline"])
    assert 'data-line="peak_weight"' not in page.get(f"{address}?at=peak_weight").content.decode()
    typed = lines(peak_weight="54.5")
    assert post(page, "take_readings", script.job, "baseline", **typed).status_code == 422
    assert not Reading.objects.exists()


def test_a_new_setup_asks_for_the_draw_first_and_puts_back_no_other_archers_fit(script):
    assert readings_needed(BowSetup(NEW_SETUP))[0] == "draw_length"
    script.check_in(["back_to_spec"], path=NEW_SETUP)
    script.inspect()
    script.baseline()
    state = script.state()
    assert "nock_to_peep" not in state.bands and "draw_length" in state.bands
    assert "nock_to_peep" in bands(state.spec, _carried_over(state.facts))


def _carried_over(facts):
    from dataclasses import replace

    return replace(facts, path="carry_over")
