"""From check-in to new threads over HTTP: photos, marks, tools, sets, parts, cycle plans."""

import io
import json
from decimal import Decimal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from bowcore.adjusters.adjuster import NOT_KNOWN, ON_THE_PHOTO
from bowcore.adjusters.steps import Steps
from bowcore.bow.lay import Lay
from bowcore.errors import BadInput, Refused
from bowcore.stages.replace.gates import gate_points
from bowcore.stages.replace.press_plan import PressFit
from bowcore.work_order.needs import marks_needed
from bowcore.work_order.replacement import ReplacementPolicy
from shop.casework.photos.shrink import LONGEST_SIDE, MOST_PHOTO_BYTES, shrink
from shop.casework.readings.actions.write_mark import write_mark
from shop.casework.state import job_state
from shop.demo.job_script import CABLE, MARKED
from shop.schema.accounts.models import Shop
from shop.schema.bows.models import Part
from shop.schema.inspection.models import Photo
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import MarkEntry, Reading
from shop.schema.string_sets.models import Component, MovedOver, StringSet
from shop.simulated.models import ToolBehaviour
from shop.stages.replace.actions import cycle
from shop.stages.replace.actions.check_part import TugResult, check_part
from shop.stages.replace.screens import turning
from shop.stages.string_set.actions import MeasuredComponent, SetOrder, order_set, set_arrived
from tests.shop.posting import line, post, rows, set_tool, supplied

pytestmark = pytest.mark.django_db


def picture(kind="JPEG", size=(40, 30), **options):
    target = io.BytesIO()
    Image.new("RGB", size, (10, 90, 200)).save(target, kind, **options)
    return target.getvalue()


def sent(body, name="bow.jpg", kind="image/jpeg"):
    return SimpleUploadedFile(name, body, kind)


def upload(page, job, file, about="limbs_top"):
    return post(page, "keep_photo", job, "inspection", about=about, photo=file)


def test_a_photo_is_shrunk_and_loses_what_it_tells_of_its_maker(page, script):
    script.check_in(CABLE)
    exif = Image.Exif()
    exif[0x010F], exif[0x0112] = "the maker of the camera", 6  # and turned by a quarter
    large = picture(size=(2400, 1200), exif=exif)
    assert upload(page, script.job, sent(large)).status_code == 302
    kept = Photo.objects.get()
    seen = Image.open(io.BytesIO(bytes(kept.jpeg)))
    assert seen.size == (kept.width, kept.height) == (LONGEST_SIDE // 2, LONGEST_SIDE)
    assert not seen.getexif() and b"maker" not in bytes(kept.jpeg)
    answer = page.get(reverse("photo", args=[script.job.pk, kept.pk]))
    assert (answer["Content-Type"], answer["X-Content-Type-Options"]) == ("image/jpeg", "nosniff")


@pytest.mark.parametrize(
    "file",
    [
        sent(b"MZ this is a program", "bow.jpg"),
        sent(b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>", "a.svg",
             "image/svg+xml"),
        sent(picture("GIF"), "bow.gif", "image/gif"),
        sent(picture()[:200], "cut-off.jpg"),
        sent(b"", "empty.jpg"),
    ],
    ids=["a program", "an svg with a script", "a gif", "cut off", "empty"],
)  # fmt: skip
def test_what_is_no_photo_is_refused_by_what_is_in_it(page, script, file):
    script.check_in(CABLE)
    answer = upload(page, script.job, file)
    assert answer.status_code == 422 and not Photo.objects.exists()


def test_a_huge_photo_is_refused_before_it_is_opened():
    with pytest.raises(BadInput, match="15 MB"):
        shrink(io.BytesIO(b""), MOST_PHOTO_BYTES + 1)
    bomb = picture("PNG", (12_000, 12_000))  # small as a file, 144 megapixels when opened
    with pytest.raises(BadInput, match="photo"):
        shrink(io.BytesIO(bomb), len(bomb))


def test_a_path_in_a_photos_name_or_place_goes_nowhere(page, script):
    script.check_in(CABLE)
    assert upload(page, script.job, sent(picture(), "../../etc/passwd")).status_code == 302
    assert not hasattr(Photo.objects.get(), "name")
    assert upload(page, script.job, sent(picture()), about="../../x").status_code == 422
    assert Photo.objects.count() == 1


def test_a_photo_of_another_job_is_not_there(page, script):
    script.check_in(CABLE)
    upload(page, script.job, sent(picture()))
    other = reverse("photo", args=[script.job.pk + 1, Photo.objects.get().pk])
    assert page.get(other).status_code == 404


def test_the_press_stays_locked_until_every_mark_is_written_down(page, script, ines, submission):
    script.check_in(CABLE)
    script.have_parts()
    script.inspect()
    script.baseline()
    assert not job_state(Job.objects.get()).course.unmarked
    script.check_in(CABLE)
    script.inspect()
    script.read(*job_state(Job.objects.get(pk=script.job.pk)).needed)
    with pytest.raises(Refused, match="shims, top cam, shims, bottom cam"):
        cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")


def test_a_bolt_past_the_makers_limit_is_not_written_down(page, script):
    script.check_in(CABLE)
    script.inspect()
    answer = post(page, "write_mark", script.job, mark="bolts_top", value="9")
    assert answer.status_code == 422 and "past the maker" in answer.content.decode()
    assert post(page, "write_mark", script.job, mark="bolts_top", value="1 1/2").status_code == 302
    assert MarkEntry.objects.get().value == "1.5"


def test_a_new_setup_asks_less_than_a_carry_over(script):
    script.check_in(CABLE)
    whole = set(marks_needed(job_state(Job.objects.get()).facts.setup))
    script.check_in(CABLE, path="new_setup")
    assert set(marks_needed(job_state(script.job).facts.setup)) < whole


def test_enter_on_an_empty_field_takes_what_the_tool_shows(page, script):
    script.check_in(CABLE)
    script.inspect()
    live = page.get(reverse("tool_now", args=[script.job.pk, "brace_height"])).content.decode()
    assert "caliper" in live and "Enter takes it" in live
    post(page, "take_readings", script.job, "baseline",
         **line("brace_height", text="", tool_text="6.631", device="caliper"))  # fmt: skip
    row = Reading.objects.get()
    assert (row.device, row.tool, row.raw) == ("caliper", "caliper", "6.631")
    assert float(row.sigma) < 0.01


@pytest.mark.parametrize(
    ("state", "said"), [("unplugged", "plugged in"), ("frozen", "not moved"), ("absurd", "zeroed")]
)
def test_a_tool_that_misbehaves_is_said_so_and_gives_nothing(page, script, state, said):
    script.check_in(CABLE)
    set_tool(page, "scale", state)
    live = page.get(reverse("tool_now", args=[script.job.pk, "peak_weight"])).content.decode()
    assert said in live and 'data-device=""' in live
    assert ToolBehaviour.objects.get(key="scale").state == state


def test_a_real_job_has_no_tool_that_guesses(page, script):
    script.check_in(CABLE)
    script.bench.delete()
    live = page.get(reverse("tool_now", args=[script.job.pk, "peak_weight"])).content.decode()
    assert "shows" not in live


def ordered(script, services=("replace_string", "replace_cable_a", "back_to_spec")):
    script.check_in(list(services))
    script.inspect()
    script.baseline()
    script.order_set()


def test_an_order_goes_out_is_confirmed_and_the_job_waits(page, script):
    ordered(script)
    one = StringSet.objects.get()
    assert one.state == StringSet.CONFIRMED and one.reference and one.ships_on
    assert Hold.objects.get().kind == "set"
    assert job_state(Job.objects.get()).course.next.step == "string_set"
    as_json = json.loads(page.get(reverse("order_file", args=[one.pk, "json"])).content)
    assert as_json["format"] == "fennock-set-order/1"
    assert [p["role"] for p in as_json["parts"]] == ["string", "cable_a"]
    as_csv = page.get(reverse("order_file", args=[one.pk, "csv"])).content.decode().splitlines()
    assert as_csv[0].startswith("order,bow,role") and len(as_csv) == 3


def arrival(off=0.0, strands=24, **more):
    """Fields of an arrival form, the cable that much longer than it was ordered."""
    found = []
    for part in Component.objects.all():
        length = float(part.ordered_in) + (off if part.role == "cable_a" else 0)
        found.append({"role": part.role, "length_in": f"{length:.4f}", "strands": strands,
                      "served_top_in": "8", "served_bottom_in": "8", "clipped": "on"})  # fmt: skip
    return rows("component", found) | more


@pytest.mark.parametrize(
    ("off", "more", "state", "word", "said"),
    [
        (0.01, {}, "here", "put it on", "to a sixteenth"),
        (0.11, {}, "here", "put it on, and watch", "long"),
        (0.6, {}, "sent back", "send it back", "wrong"),
        (0.0, {"strands": 20}, "here", "put it on, and watch", "strands"),
        (0.0, {"clamp_in": "12", "clamp_role": "cable_a"}, "here", "put it on, and watch", "bare"),
        (0.0, {"stop_in": "14", "stop_role": "cable_a"}, "here", "put it on, and watch", "stop"),
    ],
    ids=["as ordered", "a little long", "far too long", "other strands", "clamp", "draw stop"],
)
def test_what_comes_is_judged_component_by_component(page, script, off, more, state, word, said):
    ordered(script)
    answer = post(page, "set_arrived", script.job, **arrival(off, **more))
    assert answer.status_code == 302
    cable = Component.objects.get(role="cable_a")
    assert (StringSet.objects.get().state, cable.verdict) == (state, word)
    assert said in " ".join(cable.reasons)
    assert Hold.objects.filter(lifted_at=None).exists() == (state == "sent back")


def test_a_length_that_is_none_is_said_and_what_was_typed_stays(page, script):
    ordered(script)
    answer = post(
        page, "set_arrived", script.job, **arrival() | {"component-1-length_in": "34 7/0"}
    )
    assert answer.status_code == 422 and 'value="34 7/0"' in answer.content.decode()
    assert StringSet.objects.get().state == StringSet.CONFIRMED


def test_a_set_is_not_ordered_twice_nor_measured_by_half(script, ines, submission):
    ordered(script)
    with pytest.raises(Refused, match="on its way"):
        order_set(script.job.pk, submission(ines, script.job), SetOrder("Loomwright"))
    half = [MeasuredComponent("string", Decimal("56.25"), 24)]
    with pytest.raises(Refused, match="measure it too"):
        set_arrived(script.job.pk, submission(ines, script.job), half, [])


def test_what_lies_in_the_bag_needs_no_typing_at_the_press(page, script, ines, submission):
    ordered(script)
    post(page, "set_arrived", script.job, **arrival(0.03))
    cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")
    shown = page.get(reverse("step", args=[script.job.pk, "replace"])).content.decode()
    assert 'value="34 29/32"' in shown and "Ferrand Cordage" in shown


def test_what_is_reused_travels_to_the_new_set(page, script):
    ordered(script)
    post(page, "move_over", script.job, fittings=["peep"], note="tied with eight turns")
    assert MovedOver.objects.get().note == "tied with eight turns"
    assert post(page, "move_over", script.job, fittings=["anchor"]).status_code == 422


def test_a_part_of_the_wrong_length_goes_back_and_another_is_asked_for(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", -0.4, judge=False)
    script.read("axle_to_axle", "brace_height")
    verdict = check_part(script.job.pk, submission(ines, script.job),
                         TugResult("cable_a", "toward", Decimal("0.1875")))  # fmt: skip
    state = job_state(Job.objects.get())
    assert verdict.wrong_part and verdict.part.state == Part.BACK
    assert state.facts.still_to_replace == ("cable_a",) and state.course.next.step == "string_set"


def test_a_short_part_within_four_twists_stays_on(script, ines, submission):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.05, judge=False)
    with pytest.raises(Refused, match="what the mark does"):
        check_part(script.job.pk, submission(ines, script.job), TugResult("cable_a"))
    said = check_part(script.job.pk, submission(ines, script.job),
                      TugResult("cable_a", "away", Decimal("0.0390625")))  # fmt: skip
    assert not said.wrong_part and said.steps < 0
    assert job_state(Job.objects.get()).course.next.text == "Correct the new part"


def test_a_short_part_is_brought_home_before_the_next_goes_on(page, script, ines, submission):
    script.check_in(["replace_cable_a", "replace_cable_b", "back_to_spec"])
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.08, judge=False)
    script.read("axle_to_axle", "brace_height")
    assert post(page, "bring_home", script.job).status_code == 422
    shown = page.get(reverse("step", args=[script.job.pk, "replace"])).content.decode()
    assert "Squeeze the new" in shown and "for an inch of its length" in shown
    check_part(script.job.pk, submission(ines, script.job),
               TugResult("cable_a", "away", Decimal("0.046875"), looked_twice=True))  # fmt: skip
    state = job_state(Job.objects.get())
    steps = state.facts.to_bring_home.steps
    assert steps < 0 and "out" in page.get(
        reverse("step", args=[script.job.pk, "replace"])).content.decode()  # fmt: skip
    assert post(page, "bring_home", script.job).status_code == 302
    assert job_state(Job.objects.get()).press.planned == {"cable_a": steps}
    cycle.turn(script.job.pk, submission(ines, script.job), Steps({"cable_a": steps}))
    script.let_down()
    now = job_state(Job.objects.get())
    assert now.facts.unchecked == ("cable_a",) and now.course.next.text == "Check the new part"


def test_a_verdict_that_the_bench_contradicts_asks_for_a_second_look(page, script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, judge=False)
    script.read("axle_to_axle", "brace_height")
    said = {"role": "cable_a", "tug": "toward", "off_mark_in": "1/4"}
    asked = post(page, "check_part", script.job, **said)
    assert asked.status_code == 422 and "Measured on the bench" in asked.content.decode()
    assert (
        "I looked a second time" in asked.content.decode()
        and 'value="1/4"' in asked.content.decode()
    )
    assert post(page, "check_part", script.job, **said, looked_twice="on").status_code == 302
    assert job_state(Job.objects.get()).part_checks[0].wrong_part


def test_bolts_that_went_out_come_back_before_anything_is_read(page, script, ines, submission):
    Shop.objects.update(back_off=True)
    script.check_in(CABLE)
    script.have_parts()
    script.inspect()
    script.baseline()
    assert script.state().press_plan.bolts[0].out == 4  # six from bottomed, at two out
    cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")
    cycle.swap(
        script.job.pk, submission(ines, script.job), cycle.NewPart(Decimal("34.875"), 24, "")
    )
    everything = [p.key for p in gate_points(script.state().in_press)]
    cycle.let_down(script.job.pk, submission(ines, script.job), cycle.Gate(everything))
    answer = post(
        page, "take_readings", script.job, "replace", **line("axle_to_axle", text="31 1/4")
    )
    assert answer.status_code == 422 and "bolt" in answer.content.decode()
    assert post(page, "bolts_back", script.job).status_code == 302
    assert not job_state(Job.objects.get()).facts.bolts_backed_off
    assert post(page, "bolts_back", script.job).status_code == 422


def test_the_wrong_press_is_not_opened_for_limbs_beyond_parallel(page, script, ines, submission):
    shop = Shop.current()
    shop.press = "limb belly"
    shop.save()
    script.check_in(CABLE, model="Heron 29")
    script.have_parts()
    script.inspect()
    script.baseline()
    shown = page.get(reverse("step", args=[script.job.pk, "replace"])).content.decode()
    assert "Not in this press" in shown and "Open the press" not in shown.split("bar")[-1]
    with pytest.raises(Refused, match="slip out"):
        cycle.open_press_to_replace(script.job.pk, submission(ines, script.job), "cable_a")


def test_one_job_may_be_pressed_in_another_press(page, script):
    Shop.objects.update(press="limb belly")
    script.check_in(CABLE, model="Heron 29")
    script.have_parts()
    script.inspect()
    script.baseline()
    assert script.state().press_plan.fit is PressFit.NO
    assert post(page, "choose_press", script.job, kind="limb tip").status_code == 302
    assert script.state().press_plan.fit is PressFit.YES
    assert post(page, "choose_press", script.job, kind="a vice").status_code == 422
    post(page, "open_to_replace", script.job, role="cable_a")
    assert post(page, "choose_press", script.job, kind="portable").status_code == 422


def test_what_is_in_the_tray_keeps_the_gate_shut(page, script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    assert post(page, "put_in_tray", script.job, name="axle clip").status_code == 422
    script.replace("cable_a", 0.0, gate=False)
    for name in ("axle clip", "limb pads", "axle clip"):
        assert post(page, "put_in_tray", script.job, name=name).status_code == 302
    assert post(page, "put_in_tray", script.job, name=" ").status_code == 422
    assert script.state().tray == ("axle clip", "limb pads")
    points = [p.key for p in gate_points(script.state().in_press)]
    kept = post(page, "let_down", script.job, points=points[:-2], second_name="")
    body = kept.content.decode()
    assert kept.status_code == 422 and "Back on the bow: limb pads" in body
    assert body.count("checked") >= len(points) - 2  # what was ticked stays ticked
    assert post(page, "let_down", script.job, points=points).status_code == 302
    assert script.state().tray == ()


def test_a_refused_second_signature_keeps_the_ticks(client, pia, script):
    client.force_login(pia)
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    script.replace("cable_a", 0.0, gate=False)
    points = [p.key for p in gate_points(script.state().in_press)]
    refused = post(client, "let_down", script.job, points=points, second_name="ines",
                   second_password="wrong")  # fmt: skip
    body = refused.content.decode()
    assert refused.status_code == 422 and "do not belong together" in body
    assert body.count("checked") >= len(points)


def test_a_job_may_be_replaced_in_another_way_than_the_shops(page, script):
    script.check_in(["replace_cable_a", "replace_cable_b", "back_to_spec"])
    script.inspect()
    script.baseline()
    post(page, "choose_replacement", script.job, policy=ReplacementPolicy.STRIP.value)
    assert job_state(Job.objects.get()).facts.replacement is ReplacementPolicy.STRIP
    assert Shop.current().replacement != ReplacementPolicy.STRIP.value


def test_a_single_cam_has_no_top_cable_to_replace(script):
    with pytest.raises(BadInput, match="no such cable"):
        script.check_in(["replace_cable_a"], model="Sarn 35")


def test_timing_read_at_rest_is_shown_as_a_gap_with_its_doubt(page, script, ines, submission):
    script.check_in(["back_to_spec"])
    script.inspect()
    for bolt in ("bolts_top", "bolts_bottom"):
        write_mark(script.job.pk, submission(ines, script.job), bolt, "0")
    post(
        page,
        "take_readings",
        script.job,
        "baseline",
        **line("timing_marks", text="1/32", direction="top"),
    )
    address = reverse("step", args=[script.job.pk, "baseline"]) + "?at=timing_marks"
    assert "At full draw about top" in page.get(address).content.decode()
    write_mark(script.job.pk, submission(ines, script.job), "bolts_top", "2")
    shown = page.get(address).content.decode()
    assert "Bottom both limb bolts first" in shown and "where they belong" in shown


def test_what_is_no_must_is_skipped_with_one_tap_by_whoever_stands_for_it(page, script):
    script.check_in(CABLE)
    script.inspect()
    unread = script.state().course.unread
    assert post(page, "skip_wanted", script.job, only="axle_to_axle").status_code == 422
    assert post(page, "skip_wanted", script.job, only="loop_length").status_code == 302
    skipped = Reading.objects.get(quantity="loop_length")
    assert skipped.reason == "skipped" and skipped.by.username == "ines"
    assert post(page, "skip_wanted", script.job, only="routing").status_code == 302
    assert MarkEntry.objects.get(mark="routing").value == NOT_KNOWN
    assert post(page, "skip_wanted", script.job, only="").status_code == 302
    state = script.state()
    assert not state.course.unmarked
    assert set(state.course.unread) < set(unread)
    assert all(map(state.facts.setup.must_read, map(state.facts.named, state.course.unread)))
    assert post(page, "skip_wanted", script.job, only="").status_code == 422


def test_a_mark_may_be_unknown_or_on_a_photo(page, script):
    script.check_in(CABLE)
    script.inspect()
    assert (
        post(page, "write_mark", script.job, mark="module_top", value=NOT_KNOWN).status_code == 302
    )
    refused = post(page, "write_mark", script.job, mark="routing", value=ON_THE_PHOTO)
    assert refused.status_code == 422 and "take the photo first" in refused.content.decode()
    upload(page, script.job, sent(picture()), about="routing")
    assert (
        post(page, "write_mark", script.job, mark="routing", value=ON_THE_PHOTO).status_code == 302
    )
    body = page.get(reverse("step", args=[script.job.pk, "baseline"])).content.decode()
    assert "Not known" in body and "On the photo" in body


def test_bolts_are_counted_at_the_press_that_wants_them_out(page, script):
    Shop.objects.update(back_off=True)
    script.check_in(CABLE)
    script.have_parts()
    script.inspect()
    script.read(*script.state().needed)
    for key in script.state().course.unmarked:
        write_mark(script.job.pk, script.submission(), key, MARKED[key])
    assert script.state().press_plan.to_count
    assert post(page, "open_to_replace", script.job, role="cable_a").status_code == 422
    body = page.get(reverse("step", args=[script.job.pk, "replace"])).content.decode()
    assert "How far out are the limb bolts?" in body
    refused = post(page, "count_bolts", script.job, "replace", top="9", bottom="2")
    assert refused.status_code == 422 and 'value="9"' in refused.content.decode()
    assert (
        post(page, "count_bolts", script.job, "replace", top="2 1/2", bottom="2").status_code == 302
    )
    assert [move.out for move in script.state().press_plan.bolts] == [3.5, 4]
    assert post(page, "open_to_replace", script.job, role="cable_a").status_code == 302


def test_a_set_that_mixes_lays_is_flagged(page, script):
    ordered(script)
    roles = [one.role for one in Component.objects.all()]
    came = [{"role": r, "length_in": "34 7/8", "strands": 24, "clipped": "on", "lay": lay}
            for r, lay in zip(roles, "zs", strict=False)]  # fmt: skip
    post(page, "set_arrived", script.job, **rows("component", came))
    if len(roles) > 1:
        assert "mixes lays" in str(Component.objects.first().reasons)
    assert Component.objects.first().lay == "z"


def test_which_way_to_turn_follows_the_part_that_is_on(page, script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    assert script.state().lays_of(["cable_a"]) == {"top take-up cable": Lay.Z}
    script.replace("cable_a", 0.0, gate=False)
    assert set(script.state().lays_of(["cable_a", "string"]).values()) == {Lay.Z}


def test_what_a_label_says_contradicts_nothing(page, script):
    """A maker's figure is its word, not a measurement (common practice, no published source)."""
    script.check_in(CABLE)
    script.have_parts()
    script.inspect()
    script.baseline()
    post(page, "open_to_replace", script.job, role="cable_a")
    post(page, "swap", script.job, length_in="34 7/8", strands="24", known="as labelled")
    script.let_down()
    part = script.state().fitted_part("cable_a")
    assert part.length_known == "as labelled"
    script.read("axle_to_axle", "brace_height")
    said = {"role": "cable_a", "tug": "toward", "off_mark_in": "1/8"}
    assert (
        "Measured on the bench" not in post(page, "check_part", script.job, **said).content.decode()
    )


def test_what_was_done_before_is_logged_without_the_press(page, script, pia):
    script.check_in(["back_to_spec"])
    script.inspect()
    script.baseline()
    done = rows("turn", [{"adjuster": "cable_a", "steps": 2}]) | {"note": "on the range"}
    assert post(page, "log_done", script.job, **done).status_code == 302
    state = script.state()
    assert state.facts.net_steps("cable_a") == 2 and state.press is None
    assert "stop_gap" in state.course.to_read
    page.force_login(pia)
    assert post(page, "log_done", script.job, **done).status_code == 422


def test_an_order_says_how_it_is_made_and_warns_when_it_ships_too_late(page, script):
    script.check_in(["replace_string", "back_to_spec"])
    script.inspect()
    Job.objects.update(promised_on=timezone.localdate())
    said = {
        "maker": "Loomwright",
        "wishes": "black and grey, loops served",
        "wanted_by": "2027-01-04",
    } | supplied(string="order it")
    assert post(page, "order_set", script.job, **said).status_code == 302
    found = StringSet.objects.get()
    assert found.too_late and found.wishes == said["wishes"]
    body = page.get(reverse("step", args=[script.job.pk, "string_set"])).content.decode()
    assert "the day the bow was promised" in body and "black and grey" in body
    sent = page.get(reverse("order_file", args=[found.pk, "csv"])).content.decode()
    assert "black and grey, loops served" in sent and "2027-01-04" in sent


def test_a_bow_that_mixes_lays_says_so_where_it_is_turned(page, script):
    script.check_in(["replace_cable_a", "back_to_spec"])
    script.have_parts()
    script.inspect()
    script.baseline()
    post(page, "open_to_replace", script.job, role="cable_a")
    post(page, "swap", script.job, length_in="34 7/8", strands="24", lay="s")
    state = script.state()
    assert "mixes lays" in state.mixed_lays and "like the middle of an S" in state.mixed_lays
    assert state.mixed_lays in turning(state, Steps())["how_to"]
