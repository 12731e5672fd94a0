"""From check-in to new threads over HTTP: photos, marks, tools, sets, parts, press plans."""

import io
import json
from decimal import Decimal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, connection, transaction
from django.urls import reverse
from PIL import Image

from bowcore.errors import BadInput, Refused
from bowcore.service.gates import gate_points
from bowcore.service.needs import marks_needed
from bowcore.service.order import ReplaceSchool
from shop.accounts.models import Shop
from shop.bench.actions import press
from shop.bench.actions.check_part import Tugged, check_part
from shop.bench.actions.note_mark import note_mark
from shop.bench.actions.shrink import LONGEST_SIDE, MOST_BYTES, shrink
from shop.bench.actions.string_set import Measured, order_set, set_arrived
from shop.bows.models import Part
from shop.demo.living import CABLE
from shop.devices.models import BenchTool
from shop.jobs.models import Hold, Job, MovedOver, Photo
from shop.measurements.models import Noted, Reading
from shop.sets.models import Component, StringSet
from shop.tuning.selectors import view_of
from tests.shop.posting import post

pytestmark = pytest.mark.django_db


def picture(kind="JPEG", size=(40, 30), **options):
    target = io.BytesIO()
    Image.new("RGB", size, (10, 90, 200)).save(target, kind, **options)
    return target.getvalue()


def sent(body, name="bow.jpg", kind="image/jpeg"):
    return SimpleUploadedFile(name, body, kind)


def upload(page, job, file, about="limbs_top"):
    return post(page, "post_photo", job, "look_over", about=about, photo=file)


def test_a_photo_is_shrunk_and_loses_what_it_tells_of_its_maker(page, bench):
    bench.check_in(CABLE)
    exif = Image.Exif()
    exif[0x010F], exif[0x0112] = "the maker of the camera", 6  # and turned by a quarter
    large = picture(size=(2400, 1200), exif=exif)
    assert upload(page, bench.job, sent(large)).status_code == 302
    kept = Photo.objects.get()
    seen = Image.open(io.BytesIO(bytes(kept.jpeg)))
    assert seen.size == (kept.width, kept.height) == (LONGEST_SIDE // 2, LONGEST_SIDE)
    assert not seen.getexif() and b"maker" not in bytes(kept.jpeg)
    answer = page.get(reverse("photo", args=[bench.job.pk, kept.pk]))
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
def test_what_is_no_photo_is_refused_by_what_is_in_it(page, bench, file):
    bench.check_in(CABLE)
    answer = upload(page, bench.job, file)
    assert answer.status_code == 422 and not Photo.objects.exists()


def test_a_huge_photo_is_refused_before_it_is_opened():
    with pytest.raises(BadInput, match="15 MB"):
        shrink(io.BytesIO(b""), MOST_BYTES + 1)
    bomb = picture("PNG", (12_000, 12_000))  # small as a file, 144 megapixels when opened
    with pytest.raises(BadInput, match="photo"):
        shrink(io.BytesIO(bomb), len(bomb))


def test_a_path_in_a_photos_name_or_place_goes_nowhere(page, bench):
    bench.check_in(CABLE)
    assert upload(page, bench.job, sent(picture(), "../../etc/passwd")).status_code == 302
    assert not hasattr(Photo.objects.get(), "name")
    assert upload(page, bench.job, sent(picture()), about="../../x").status_code == 422
    assert Photo.objects.count() == 1


def test_a_photo_of_another_job_is_not_there(page, bench):
    bench.check_in(CABLE)
    upload(page, bench.job, sent(picture()))
    other = reverse("photo", args=[bench.job.pk + 1, Photo.objects.get().pk])
    assert page.get(other).status_code == 404


@pytest.mark.parametrize("table", ["measurements_noted", "ledger_partcheck", "jobs_movedover",
                                   "jobs_photo", "book_entryversion"])  # fmt: skip
def test_the_newer_facts_are_append_only_too(page, bench, table):
    bench.check_in(CABLE)
    bench.look_over()
    upload(page, bench.job, sent(picture()))
    bench.baseline()
    bench.replace("cable_a", 0.0)
    post(page, "post_move", bench.job, fittings=["peep"])
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT COUNT(*) FROM {table}")
        assert cursor.fetchone()[0] > 0
    with pytest.raises(DatabaseError, match="append-only"), transaction.atomic():
        connection.cursor().execute(f"DELETE FROM {table}")


def test_the_press_stays_locked_until_every_mark_is_written_down(page, bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    assert not view_of(Job.objects.get()).course.unmarked
    bench.check_in(CABLE)
    bench.look_over()
    bench.read(*view_of(Job.objects.get(pk=bench.job.pk)).needed)
    with pytest.raises(Refused, match="top limb bolt, bottom limb bolt"):
        press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))


def test_a_bolt_past_the_makers_limit_is_not_written_down(page, bench):
    bench.check_in(CABLE)
    bench.look_over()
    answer = post(page, "post_mark", bench.job, mark="bolts_top", value="9")
    assert answer.status_code == 422 and "past the maker" in answer.content.decode()
    assert post(page, "post_mark", bench.job, mark="bolts_top", value="1 1/2").status_code == 302
    assert Noted.objects.get().value == "1.5"


def test_a_new_setup_asks_less_than_a_carry_over(bench):
    bench.check_in(CABLE)
    whole = set(marks_needed(view_of(Job.objects.get()).facts.setup))
    bench.check_in(CABLE, path="new_setup")
    assert set(marks_needed(view_of(bench.job).facts.setup)) < whole


def test_enter_on_an_empty_field_takes_what_the_tool_shows(page, bench):
    bench.check_in(CABLE)
    bench.look_over()
    live = page.get(reverse("live", args=[bench.job.pk, "brace_height"])).content.decode()
    assert "caliper" in live and "Enter takes it" in live
    post(page, "post_reading", bench.job, "baseline", quantity="brace_height", text="",
         live_text="6.631", device="caliper")  # fmt: skip
    row = Reading.objects.get()
    assert (row.device, row.tool, row.raw) == ("caliper", "caliper", "6.631")
    assert float(row.sigma) < 0.01


@pytest.mark.parametrize(
    ("state", "said"), [("unplugged", "plugged in"), ("frozen", "not moved"), ("absurd", "zeroed")]
)
def test_a_tool_that_misbehaves_is_said_so_and_gives_nothing(page, bench, state, said):
    bench.check_in(CABLE)
    page.post(reverse("tools"), {"tool": "scale", "state": state})
    live = page.get(reverse("live", args=[bench.job.pk, "peak_weight"])).content.decode()
    assert said in live and "live_text" not in live
    assert BenchTool.objects.get(key="scale").state == state


def test_a_real_job_has_no_tool_that_guesses(page, bench):
    bench.check_in(CABLE)
    bench.bench.delete()
    live = page.get(reverse("live", args=[bench.job.pk, "peak_weight"])).content.decode()
    assert "shows" not in live


def ordered(bench, services=("replace_string", "replace_cable_a", "back_to_spec")):
    bench.check_in(list(services))
    bench.look_over()
    bench.baseline()
    bench.order_set()


def test_an_order_goes_out_is_confirmed_and_the_job_waits(page, bench):
    ordered(bench)
    one = StringSet.objects.get()
    assert one.state == StringSet.CONFIRMED and one.reference and one.ships_on
    assert Hold.objects.get().kind == "set"
    assert view_of(Job.objects.get()).course.next.step == "set"
    as_json = json.loads(page.get(reverse("order_file", args=[one.pk, "json"])).content)
    assert as_json["format"] == "fennock-set-order/1"
    assert [p["role"] for p in as_json["parts"]] == ["string", "cable_a"]
    as_csv = page.get(reverse("order_file", args=[one.pk, "csv"])).content.decode().splitlines()
    assert as_csv[0].startswith("order,bow,role") and len(as_csv) == 3


def arrival(off=0.0, strands=24, **more):
    """Fields of an arrival form, the cable that much longer than it was ordered."""
    fields = {}
    for part in Component.objects.all():
        length = float(part.ordered_in) + (off if part.role == "cable_a" else 0)
        fields |= {f"length-{part.role}": f"{length:.4f}", f"strands-{part.role}": strands,
                   f"top-{part.role}": "8", f"bottom-{part.role}": "8",
                   f"clipped-{part.role}": "on"}  # fmt: skip
    return fields | more


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
def test_what_comes_is_judged_component_by_component(page, bench, off, more, state, word, said):
    ordered(bench)
    answer = post(page, "post_arrived", bench.job, **arrival(off, **more))
    assert answer.status_code == 302
    cable = Component.objects.get(role="cable_a")
    assert (StringSet.objects.get().state, cable.word) == (state, word)
    assert said in " ".join(cable.reasons)
    assert Hold.objects.filter(lifted_at=None).exists() == (state == "sent back")


def test_a_length_that_is_none_is_said_and_what_was_typed_stays(page, bench):
    ordered(bench)
    answer = post(page, "post_arrived", bench.job, **arrival() | {"length-cable_a": "34 7/0"})
    assert answer.status_code == 422 and 'value="34 7/0"' in answer.content.decode()
    assert StringSet.objects.get().state == StringSet.CONFIRMED


def test_a_set_is_not_ordered_twice_nor_measured_by_half(bench, ines, stamp):
    ordered(bench)
    with pytest.raises(Refused, match="on its way"):
        order_set(bench.job.pk, "Loomwright", stamp(ines, bench.job))
    half = [Measured("string", Decimal("56.25"), 24)]
    with pytest.raises(Refused, match="measure it too"):
        set_arrived(bench.job.pk, half, [], stamp(ines, bench.job))


def test_what_lies_in_the_bag_needs_no_typing_at_the_press(page, bench, ines, stamp):
    ordered(bench)
    post(page, "post_arrived", bench.job, **arrival(0.03))
    press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))
    shown = page.get(reverse("step", args=[bench.job.pk, "replace"])).content.decode()
    assert 'value="34 29/32"' in shown and "Ferrand Cordage" in shown


def test_what_is_reused_travels_to_the_new_set(page, bench):
    ordered(bench)
    post(page, "post_move", bench.job, fittings=["peep"], note="tied with eight turns")
    assert MovedOver.objects.get().note == "tied with eight turns"
    assert post(page, "post_move", bench.job, fittings=["anchor"]).status_code == 422


def test_a_part_of_the_wrong_length_goes_back_and_another_is_asked_for(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", -0.4, judge=False)
    bench.read("axle_to_axle", "brace_height")
    verdict = check_part(bench.job.pk, Tugged("cable_a", "away", Decimal("0.4375")),
                         stamp(ines, bench.job))  # fmt: skip
    view = view_of(Job.objects.get())
    assert verdict.wrong_part and verdict.part.state == Part.BACK
    assert view.facts.still_to_replace == ("cable_a",) and view.course.next.step == "set"


def test_a_short_part_within_four_twists_stays_on(bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    bench.replace("cable_a", 0.05, judge=False)
    with pytest.raises(Refused, match="what the mark does"):
        check_part(bench.job.pk, Tugged("cable_a"), stamp(ines, bench.job))
    said = check_part(bench.job.pk, Tugged("cable_a", "toward", Decimal("0.0625")),
                      stamp(ines, bench.job))  # fmt: skip
    assert not said.wrong_part and said.half_twists < 0
    assert not view_of(Job.objects.get()).facts.unchecked


def test_bolts_that_went_out_come_back_before_anything_is_read(page, bench, ines, stamp):
    bench.check_in(CABLE)
    bench.look_over()
    bench.baseline()
    assert view_of(Job.objects.get()).press_plan.bolts[0].out == 4  # six from bottomed, at two out
    press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))
    press.swap(bench.job.pk, press.NewPart(Decimal("34.875"), 24, ""), stamp(ines, bench.job))
    everything = [p.key for p in gate_points(bench.bow.spec.family)]
    press.let_down(bench.job.pk, press.Gate(everything), stamp(ines, bench.job))
    answer = post(
        page, "post_reading", bench.job, "replace", quantity="axle_to_axle", text="31 1/4"
    )
    assert answer.status_code == 422 and "bolt" in answer.content.decode()
    assert post(page, "post_bolts", bench.job).status_code == 302
    assert not view_of(Job.objects.get()).facts.bolts_away
    assert post(page, "post_bolts", bench.job).status_code == 422


def test_the_wrong_press_is_not_opened_for_limbs_beyond_parallel(page, bench, ines, stamp):
    shop = Shop.current()
    shop.press = "limb belly"
    shop.save()
    bench.check_in(CABLE, model="Heron 29")
    bench.look_over()
    bench.baseline()
    shown = page.get(reverse("step", args=[bench.job.pk, "replace"])).content.decode()
    assert "Not in this press" in shown and "Open the press" not in shown.split("bar")[-1]
    with pytest.raises(Refused, match="slip out"):
        press.open_press_to_replace(bench.job.pk, "cable_a", stamp(ines, bench.job))


def test_a_job_may_be_replaced_in_another_way_than_the_shops(page, bench):
    bench.check_in(["replace_cable_a", "replace_cable_b", "back_to_spec"])
    bench.look_over()
    bench.baseline()
    post(page, "post_school", bench.job, school=ReplaceSchool.STRIP.value)
    assert view_of(Job.objects.get()).facts.school is ReplaceSchool.STRIP
    assert Shop.current().replace_school != ReplaceSchool.STRIP.value


def test_a_single_cam_has_no_top_cable_to_replace(bench):
    with pytest.raises(BadInput, match="no such cable"):
        bench.check_in(["replace_cable_a"], model="Sarn 35")


def test_timing_read_at_rest_is_shown_as_a_gap_with_its_doubt(page, bench, ines, stamp):
    bench.check_in(["back_to_spec"])
    bench.look_over()
    for bolt in ("bolts_top", "bolts_bottom"):
        note_mark(bench.job.pk, bolt, "0", stamp(ines, bench.job))
    post(
        page, "post_reading", bench.job, "baseline", quantity="timing_marks", text="1/32", way="top"
    )
    address = reverse("step", args=[bench.job.pk, "baseline"]) + "?at=timing_marks"
    assert "At full draw about top" in page.get(address).content.decode()
    note_mark(bench.job.pk, "bolts_top", "2", stamp(ines, bench.job))
    shown = page.get(address).content.decode()
    assert "Bottom both limb bolts first" in shown and "where they belong" in shown
