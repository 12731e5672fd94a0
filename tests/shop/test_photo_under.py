"""A photo under the grid: kept, its corners tapped, laid flat, and kept with the shot."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from bowcore.work_order.services import SHOOT_IN
from shop.demo.scenes import OWN_ARROW
from shop.schema.inspection.models import ON_BUTT, ON_PAPER, Photo
from shop.schema.tuning.models import FlatSheet, ShotFired
from tests.shop.posting import post

HOLES = {"point_x": "0", "point_y": "0", "nock_x": "-0.25", "nock_y": "0.5"}
TAPPED = {
    "first": (100, 60), "second": (520, 80), "third": (540, 420), "fourth": (80, 400), "middle": (300, 240),
}  # fmt: skip


def at_paper(script):
    script.check_in([SHOOT_IN])
    script.inspect()
    script.baseline()
    script.back_to_spec()
    script.on_the_bow("arrow", **OWN_ARROW)


def photographed(page, script, about=ON_PAPER):
    target = io.BytesIO()
    Image.new("RGB", (640, 480), "white").save(target, "JPEG")
    file = SimpleUploadedFile("sheet.jpg", target.getvalue(), "image/jpeg")
    answer = post(page, "keep_sheet_photo", script.job, about=about, photo=file)
    return answer, Photo.objects.filter(about=about).last()


def corners(tapped=TAPPED, **more):
    typed = {f"{name}_x": str(x) for name, (x, _) in tapped.items()}
    typed |= {f"{name}_y": str(-y) for name, (_, y) in tapped.items()}
    return typed | {"wide": "8 1/2", "high": "11"} | more


def lay_flat(page, script, photo, **typed):
    return post(page, "lay_flat", script.job, photo.pk, **(typed or corners()))


def paper(page, script):
    return page.get(reverse("step", args=[script.job.pk, "paper"])).content.decode()


def test_a_photo_is_laid_flat_and_kept_with_the_shot(page, script):
    at_paper(script)
    answer, photo = photographed(page, script)
    assert answer.url == reverse("corners", args=[script.job.pk, photo.pk])
    assert "Tap the four corners of the sheet" in page.get(answer.url).content.decode()
    assert lay_flat(page, script, photo).status_code == 302
    sheet = FlatSheet.objects.get()
    address = reverse("flat_sheet", args=[script.job.pk, sheet.pk])
    assert address in paper(page, script)
    picture = Image.open(io.BytesIO(page.get(address).content))
    assert picture.size == (600, 600)
    post(page, "write_shot", script.job, **HOLES, sheet=str(sheet.pk))
    assert ShotFired.objects.get().sheet == sheet
    again = page.get(reverse("corners", args=[script.job.pk, photo.pk])).content.decode()
    assert 'value="100.0"' in again and 'value="-60.0"' in again  # as it was tapped before
    shown = paper(page, script)
    assert 'name="sheet"' not in shown and address in shown  # the next shot is another sheet


def test_corners_that_cross_or_are_missing_are_said_and_nothing_is_kept(page, script):
    at_paper(script)
    _, photo = photographed(page, script)
    crossed = TAPPED | {"first": TAPPED["second"], "second": TAPPED["first"]}
    for typed in (
        corners(crossed),
        corners(wide="abc"),
        corners(high="900"),
        {"wide": "8", "high": "11"},
    ):
        answer = lay_flat(page, script, photo, **typed)
        assert answer.status_code == 422 and 'role="alert"' in answer.content.decode()
    assert not FlatSheet.objects.exists()


def test_a_photo_of_a_butt_stays_for_every_impact(page, script):
    at_paper(script)
    _, photo = photographed(page, script, ON_BUTT)
    lay_flat(page, script, photo)
    sheet = FlatSheet.objects.get()
    shot = {
        "test": "french",
        "distance": "20",
        "kind": "fletched",
        "impact_x": "1",
        "impact_y": "0",
    }
    for _ in range(2):
        post(page, "write_butt_shot", script.job, **shot, sheet=str(sheet.pk))
    shown = page.get(reverse("butt", args=[script.job.pk])).content.decode()
    assert f'name="sheet" value="{sheet.pk}"' in shown and sheet.shots.count() == 2


def test_what_is_no_photo_and_a_photo_of_something_else_are_refused(page, script):
    at_paper(script)
    wrong = SimpleUploadedFile("x.jpg", b"no picture", "image/jpeg")
    answer = post(page, "keep_sheet_photo", script.job, about=ON_PAPER, photo=wrong)
    assert answer.status_code == 422 and "not a photo" in answer.content.decode()
    for about in (ON_PAPER, ON_BUTT):
        shown = post(page, "keep_sheet_photo", script.job, about=about).content.decode()
        assert "Choose a photo first" in shown and "Tap both holes" not in shown
    _, photo = photographed(page, script, "string")
    assert lay_flat(page, script, photo).status_code == 422
    post(page, "write_shot", script.job, **HOLES, sheet="99999")
    assert ShotFired.objects.get().sheet is None
