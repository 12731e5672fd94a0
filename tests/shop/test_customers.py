"""A customer's page, what is offered for the bow that was chosen, sets of five pieces."""

import uuid

import pytest
from django.urls import reverse

from shop.casework.engine.models import ModelPrior
from shop.schema.audit.models import Event
from shop.schema.book.models import BookEntry
from shop.schema.customers.models import Customer
from shop.schema.inspection.models import Photo
from tests.shop.posting import post
from tests.shop.test_first_half import picture, sent


def change(page, customer, **facts):
    data = {"key": uuid.uuid4(), "seen": 0, "name": customer.name} | facts
    return page.post(reverse("customer", args=[customer.pk]), data)


def test_a_customers_page_has_their_bows_and_their_jobs(page, script):
    script.check_in(["back_to_spec"])
    customer = script.customer
    shown = page.get(reverse("customer", args=[customer.pk])).content.decode()
    assert f"Job {script.job.pk} is open" in shown and "Lark 31" in shown
    assert f"?customer={customer.pk}" in shown
    assert customer.name in page.get(reverse("find"), {"q": customer.name}).content.decode()
    assert page.get(reverse("customer", args=[10**9])).status_code == 404


def test_what_is_known_of_a_customer_is_changed_and_logged(page, script):
    customer = script.customer
    assert (
        change(page, customer, phone="0555 014 999", note="rings in the evening").status_code == 302
    )
    assert Customer.objects.get(pk=customer.pk).note == "rings in the evening"
    assert customer.phone in Event.objects.latest("pk").summary
    assert (
        change(page, customer, phone="0555 014 999", note="rings in the evening").status_code == 422
    )
    assert change(page, customer, name=" ").status_code == 422


@pytest.mark.parametrize(
    ("model", "offered", "not_offered"),
    [
        ("Sarn 35", "replace_cable_b", "replace_cable_a"),
        ("Reed 38", "replace_harness_a", None),
        ("Quill 34", "replace_cable_a", "replace_harness_a"),
    ],
)
def test_only_what_the_chosen_bow_has_is_offered(page, floor, model, offered, not_offered):
    entry = BookEntry.objects.get(model=model)
    shown = page.get(reverse("services_for"), {"entry": entry.pk}).content.decode()
    assert offered in shown and (not_offered is None or not_offered not in shown)


def test_what_was_ticked_stays_ticked_when_another_bow_is_chosen(page, floor):
    entry = BookEntry.objects.get(model="Sarn 35")
    asked = {"entry": entry.pk, "services": ["replace_string", "back_to_spec"]}
    shown = page.get(reverse("services_for"), asked).content.decode()
    assert shown.count("checked") == 2
    assert page.get(reverse("services_for"), {"entry": "x" * 300}).status_code == 200


def test_a_photo_of_the_bow_as_it_came(page, script):
    script.check_in(["back_to_spec"])
    given = {"about": "check_in", "photo": sent(picture())}
    assert post(page, "keep_photo", script.job, "check_in", **given).status_code == 302
    assert Photo.objects.get().about == "check_in"
    shown = page.get(reverse("step", args=[script.job.pk, "check_in"])).content.decode()
    assert reverse("photo", args=[script.job.pk, Photo.objects.get().pk]) in shown


def test_a_set_of_five_pieces_from_check_in_to_the_press(page, script):
    script.check_in(["whole_set"], model="Reed 38")
    script.inspect()
    script.baseline()
    facts = script.state().facts
    assert set(facts.to_replace) == {"string", "cable_a", "cable_b", "harness_a", "harness_b"}
    shown = page.get(reverse("step", args=[script.job.pk, "string_set"])).content.decode()
    assert "Top yoke harness" in shown
    script.replace("harness_a", 0.0)
    state = script.state()
    assert state.facts.replaced == ("harness_a",) and not state.facts.unchecked
    assert "harness_a" not in state.facts.still_to_replace
    script.replace("cable_a", 0.02)
    assert set(script.state().facts.still_to_replace) == {"string", "cable_b", "harness_b"}


def test_a_guardless_bow_asks_for_no_guard(page, script):
    script.check_in(["replace_cable_a"], model="Nomad 30")
    shown = page.get(reverse("step", args=[script.job.pk, "inspection"])).content.decode()
    assert "Cable guard" not in shown
    script.inspect()
    script.baseline()
    script.have_parts()
    post(page, "open_to_replace", script.job, role="cable_a")
    shown = page.get(reverse("step", args=[script.job.pk, "replace"])).content.decode()
    assert "The axle has to come out for this part" in shown
    assert "A 0.105" in shown or "axle" in shown


def test_the_stop_gap_is_put_back_where_the_shop_wants_that(page, script):
    script.check_in(["back_to_spec"])
    script.came_in(cable_a=0.05)
    script.inspect()
    script.baseline()
    before = script.state().facts.baseline("stop_gap").summary.value
    assert script.state().bands["stop_gap"].target == 0
    post(page, "choose_policy", script.job, name="gap_as_was", value="on")
    band = script.state().bands["stop_gap"]
    assert band.target == before and band.because.startswith("as it came in")


def test_the_first_look_at_a_bow_waits_for_no_computation(page, script, monkeypatch):
    def never(*_):
        raise AssertionError("computed while somebody waits")

    script.check_in(["back_to_spec"])
    ModelPrior.objects.all().delete()
    monkeypatch.setattr("shop.casework.engine.priors.computed_once", never)
    shown = page.get(reverse("step", args=[script.job.pk, "inspection"])).content.decode()
    assert 'class="inspection-map' in shown
