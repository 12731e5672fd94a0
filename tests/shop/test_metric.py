"""A shop that works in millimetres."""

import pytest
from django.urls import reverse

from shop.schema.accounts.models import Shop
from shop.schema.book.models import BookEntry
from shop.schema.measurements.models import Reading
from tests.shop.posting import post


@pytest.fixture
def metric(floor):
    Shop.objects.update(lengths="millimetres")


def test_a_reading_is_typed_and_shown_in_millimetres(page, script, metric):
    script.check_in(["back_to_spec"])
    script.inspect()
    typed = {
        "line": "axle_to_axle",
        "axle_to_axle-text": "794",
        "axle_to_axle-start": "axle_centre",
        "axle_to_axle-end": "axle_centre",
    }
    assert post(page, "take_readings", script.job, "baseline", **typed).status_code == 302
    reading = Reading.objects.get()
    assert float(reading.value) == pytest.approx(794 / 25.4, abs=1e-5) and reading.raw == "794 mm"
    shown = page.get(reverse("step", args=[script.job.pk, "baseline"])).content.decode()
    assert "794" in shown and '<span class="unit">mm</span>' in shown and "31 1/4" not in shown


def test_the_same_number_in_inches_is_asked_about(page, script, metric):
    script.check_in(["back_to_spec"])
    script.inspect()
    typed = {
        "line": "axle_to_axle",
        "axle_to_axle-text": "31.25",
        "axle_to_axle-start": "axle_centre",
        "axle_to_axle-end": "axle_centre",
    }
    answer = post(page, "take_readings", script.job, "baseline", **typed)
    assert answer.status_code == 422 and "is outside 508 to 1270" in answer.content.decode()


@pytest.mark.parametrize("name", ["rack", "sets", "book", "shop"])
def test_every_list_is_shown_in_millimetres(page, script, metric, name):
    script.check_in(["replace_string", "back_to_spec"])
    assert page.get(reverse(name)).status_code == 200


def test_a_whole_job_reads_plans_and_prints_in_millimetres(page, script, metric):
    script.check_in(["back_to_spec"])
    script.came_in(cable_a=0.06)
    script.inspect()
    script.baseline()
    for name in ("back_to_spec", "baseline", "check_in", "hand_over"):
        shown = page.get(reverse("step", args=[script.job.pk, name]))
        assert shown.status_code == 200
    plan = page.get(reverse("step", args=[script.job.pk, "back_to_spec"])).content.decode()
    assert " mm" in plan
    drawn = page.get(reverse("bow_drawn", args=[script.job.pk])).content.decode()
    assert "open at the stops: top" in drawn and "mm in" not in drawn
    assert " mm" in page.get(reverse("sheet", args=[script.job.pk])).content.decode()


def test_the_agreed_draw_length_comes_back_as_it_was_typed(page, script, metric):
    script.check_in(["back_to_spec"], wanted_draw_in=28)
    shown = page.get(reverse("step", args=[script.job.pk, "check_in"])).content.decode()
    assert 'value="711.2"' in shown and "Wanted draw length, mm" in shown


def test_the_book_stays_in_inches(page, floor, metric):
    shown = page.get(reverse("book")).content.decode()
    assert "793.5" in shown or "794" in shown
    entry = BookEntry.objects.first()
    form = page.get(reverse("entry_edit", args=[entry.pk])).content.decode()
    assert "Axle to axle, in" in form
