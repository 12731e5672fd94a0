"""The screens over HTTP: who may see what, refusals keep what was typed, few queries."""

import re
import uuid

import pytest
from django.db import connection
from django.test import override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse

from shop.casework.engine.priors import cable_moves_of, drawing_of
from shop.casework.state import job_state
from shop.demo import people
from shop.demo.job_script import CABLE
from shop.demo.saltgate import fill_rack
from shop.schema.accounts.models import Shop
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import Reading
from tests.shop.posting import line

pytestmark = pytest.mark.django_db


def post(client, address, job, **data):
    return client.post(
        address, {"key": uuid.uuid4(), "seen": Job.objects.get(pk=job.pk).version, **data}
    )


def reading(client, job, text, **more):
    data = line("axle_to_axle", text=text) | more
    return post(client, reverse("take_readings", args=[job.pk, "baseline"]), job, **data)


def next_action(body):
    """The words of the one next action, as they are read."""
    found = re.search(r"<(button|a) [^>]*data-next[^>]*>(.*?)<kbd>", body, re.S)
    return " ".join(found.group(2).split())


def test_nothing_is_shown_to_strangers(client, floor):
    for address in ("/", "/book/", "/jobs/new/", "/shop/"):
        assert client.get(address).status_code == 302
    assert client.get("/pulse").status_code == 200


def test_unreadable_input_says_what_and_keeps_it(page, script):
    script.check_in(CABLE)
    answer = reading(page, script.job, "31 1/0")
    assert answer.status_code == 422
    assert "zero below the line" in answer.content.decode()
    assert 'value="31 1/0"' in answer.content.decode()


def test_a_stale_view_gets_409_with_what_the_other_did_and_keeps_the_text(page, script):
    script.check_in(CABLE)
    old = Job.objects.get().version
    script.read("axle_to_axle")
    address = reverse("take_readings", args=[script.job.pk, "baseline"])
    data = line("axle_to_axle", text="31 3/16") | {"key": uuid.uuid4(), "seen": old}
    answer = page.post(address, data)
    assert answer.status_code == 409
    body = answer.content.decode()
    assert "read axle to axle" in body and 'value="31 3/16"' in body
    assert f'name="seen" value="{old + 1}"' in body


def test_a_repeated_post_is_one_reading_and_no_error(page, script):
    script.check_in(CABLE)
    address = reverse("take_readings", args=[script.job.pk, "baseline"])
    data = line("axle_to_axle", text="31") | {"key": uuid.uuid4(), "seen": 1}
    assert page.post(address, data).status_code == 302
    assert page.post(address, data).status_code == 302
    assert Reading.objects.count() == 1


def test_an_odd_value_is_asked_back(page, script):
    script.check_in(CABLE)
    answer = reading(page, script.job, "51")
    assert answer.status_code == 422 and "It is right: save" in answer.content.decode()
    assert reading(page, script.job, "51", sure_of="axle_to_axle 51").status_code == 302


def test_the_check_in_form_asks_for_what_is_missing(page, floor):
    data = {"key": uuid.uuid4(), "seen": 0, "path": "carry_over", "promised_on": "2001-01-01"}
    body = page.post(reverse("check_in"), data).content.decode()
    for words in ("Whose bow is it?", "Which bow is it?", "That day is past.", "here for"):
        assert words in body


def test_a_sticker_outside_the_book_is_asked_back(page, floor):
    from shop.schema.book.models import BookEntry

    entry = BookEntry.objects.get(model="Lark 31")
    data = {"key": uuid.uuid4(), "seen": 0, "path": "carry_over", "promised_on": "2099-01-01",
            "customer_name": "N. Ferreira", "entry": entry.pk, "hand": "left", "services": "back_to_spec",
            "marked_weight_lbf": "95", "marked_draw_in": "28 1/2"}  # fmt: skip
    answer = page.post(reverse("check_in"), data)
    assert "The published specs go from 40 to 70 lbf." in answer.content.decode()
    answer = page.post(reverse("check_in"), data | {"marked_weight_lbf": "55"})
    assert answer.status_code == 302
    assert Job.objects.get().bow.customer.name == "N. Ferreira"


def test_what_the_bow_does_not_have_cannot_be_replaced(page, floor):
    from shop.schema.book.models import BookEntry

    entry = BookEntry.objects.get(family="single")
    data = {"key": uuid.uuid4(), "seen": 0, "path": "carry_over", "promised_on": "2099-01-01",
            "customer_name": "N. Ferreira", "entry": entry.pk, "hand": "left", "marked_weight_lbf": "50",
            "marked_draw_in": "28", "services": "replace_cable_a"}  # fmt: skip
    assert "has no such part" in page.post(reverse("check_in"), data).content.decode()
    assert page.post(reverse("check_in"), data | {"services": "back_to_spec"}).status_code == 302
    job = Job.objects.get()
    assert page.get(f"/jobs/{job.pk}/inspection/").status_code == 200


def test_a_single_cam_is_told_by_its_mark(page, script):
    script.check_in(["back_to_spec"], model="Sarn 35")
    script.inspect()
    script.came_in(cable_b=0.05)
    script.baseline()
    body = page.get(f"/jobs/{script.job.pk}/baseline/?at=stop_gap").content.decode()
    assert "Timing mark" in body and "Short of it" in body and "Which stop" not in body
    body = page.get(f"/jobs/{script.job.pk}/back_to_spec/").content.decode()
    assert "short of the mark" in body and "Buss cable" in body


@pytest.mark.parametrize(
    ("services", "action"),
    [(CABLE, "Off with it: order another"), (["back_to_spec"], "Order a new top take-up cable")],
)
def test_what_cannot_be_reached_is_said_and_still_has_a_next_action(page, script, services, action):
    script.check_in(services)
    script.inspect()
    if services == CABLE:
        script.baseline()
        script.replace("cable_a", 0.4)
        script.read_asked()
    else:
        script.came_in(cable_a=0.9)
        script.baseline()
    script.read_until_sure()
    body = page.get(f"/jobs/{script.job.pk}/back_to_spec/").content.decode()
    if services == CABLE:
        assert "Cannot be reached with this top take-up cable" in body and "in short." in body
    else:
        assert "Cannot be reached" in body
    assert next_action(body) == action
    assert "As near as it goes:" in body


def test_a_broken_page_is_drawn_even_without_a_database():
    from shop.ui.errors import broken

    answer = broken(None)
    assert answer.status_code == 500
    assert "Something went wrong in the program" in answer.content.decode()


def test_a_job_found_again_is_where_it_was(page, script):
    script.check_in(CABLE)
    script.inspect()
    script.baseline()
    assert page.get(f"/jobs/{script.job.pk}/").url.endswith("/replace/")
    script.replace("cable_a", 0.0, gate=False)
    assert page.get(f"/jobs/{script.job.pk}/").url.endswith("/replace/")
    assert (
        "In the press: UNDER LOAD" in page.get(f"/jobs/{script.job.pk}/baseline/").content.decode()
    )
    script.let_down()
    assert page.get(f"/jobs/{script.job.pk}/").url.endswith("/replace/")  # what the part says
    script.judge("cable_a", 0.0)
    assert page.get(f"/jobs/{script.job.pk}/").url.endswith("/back_to_spec/")


def test_the_sheet_as_page_and_pdf(page, script):
    script.check_in(CABLE)
    script.inspect(servings=("watch", "end serving worn"))
    script.baseline()
    script.replace("cable_a", 0.0625)
    script.read_asked()
    post(page, reverse("hand_over", args=[script.job.pk]), script.job, override="the customer insists",
         not_done="sight")  # fmt: skip
    body = page.get(reverse("sheet", args=[script.job.pk])).content.decode()
    for words in (
        "end serving worn",
        "New top take-up cable",
        "sight",
        "Never dry-fire",
        "recheck",
    ):
        assert words in body
    pdf = page.get(reverse("sheet_pdf", args=[script.job.pk]))
    assert pdf.content.startswith(b"%PDF-")


def test_only_a_manager_changes_the_shop(client, tomas, ines):
    data = {
        "name": "Ours",
        "half_twists": "on",
        "press": "limb tip",
        "replacement": "one at a time, let down between",
        "spacer_sizes": "1/8",
        "draw_in": "40",
        "lengths": "inches",
        "tears": "nock",
        "paper": "always",
    }
    client.force_login(tomas)
    assert client.post("/shop/", data).status_code == 422
    client.force_login(ines)
    assert client.post("/shop/", data).status_code == 302
    assert Shop.current().name == "Ours" and not Shop.current().second_eyes


@override_settings(AXES_ENABLED=True)
def test_a_login_locks_after_failed_tries(client, floor):
    address = reverse("login")
    for _ in range(6):
        client.post(address, {"username": "ines", "password": "wrong"})
    answer = client.post(address, {"username": "ines", "password": people.PASSWORD})
    assert answer.status_code == 429
    assert "Too many wrong passwords" in answer.content.decode()


def test_production_hashes_with_argon2():
    from shop.settings import base

    assert base.PASSWORD_HASHERS == ["django.contrib.auth.hashers.Argon2PasswordHasher"]


def test_the_policy_allows_no_inline_and_no_eval(page):
    policy = page.get("/")["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy


@pytest.mark.parametrize(
    "address", ["/jobs/999/", "/jobs/999/back_to_spec/", "/nowhere/", "/book/999999/"]
)
def test_what_is_not_there_is_said_in_our_own_words(page, address):
    answer = page.get(address)
    assert answer.status_code == 404
    assert "This page does not exist." in answer.content.decode()


def test_pages_ask_the_database_few_times(page, django_assert_max_num_queries):
    fill_rack()
    for job in Job.objects.select_related("bow__entry"):
        drawing_of(job_state(job).spec)  # computed at check-in, in the background
        assert job_state(job).prior  # and this
        assert job_state(job).facts.shooting_policy.shares == {}  # and this once a job
        cable_moves_of(job_state(job).spec)  # and this once in each process
    for address in ["/", "/book/", "/find/?q=lark", "/jobs/sets/", "/jobs/tools/"]:
        with django_assert_max_num_queries(17):
            assert page.get(address).status_code == 200
    for job in Job.objects.all():
        for step in (
            "inspection",
            "baseline",
            "string_set",
            "replace",
            "back_to_spec",
            "hand_over",
            "log",
            "bow",
        ):
            with django_assert_max_num_queries(18):  # one of them finds the last visit
                assert page.get(f"/jobs/{job.pk}/{step}/").status_code == 200


def test_find_knows_names_models_and_job_numbers(page, script):
    script.check_in(CABLE, tag="red riser")
    for words in ("okafor", "lark", "red", str(script.job.pk)):
        assert f"/jobs/{script.job.pk}/" in page.get("/find/", {"q": words}).content.decode()
    assert "Nothing found by that name" in page.get("/find/", {"q": "zzz"}).content.decode()
    assert "Another bow of R. Okafor" in page.get("/jobs/new/", {"q": "oka"}).content.decode()


def test_what_a_browser_asks_for_unbidden_sets_no_cookie(client, floor):
    answer = client.get("/favicon.ico")
    assert answer.status_code == 302 and answer["Location"].endswith("icon.svg")
    assert not answer.cookies


def test_the_rack_reads_a_job_once_and_shows_whatever_changes(page, script, ines):
    script.check_in(CABLE)
    assert "Inspect it" in page.get("/").content.decode()
    with CaptureQueriesContext(connection) as asked:
        page.get("/")
    assert not [q for q in asked.captured_queries if "FROM `measurements_reading`" in q["sql"]]
    script.inspect()
    assert "Inspect it" not in page.get("/").content.decode()
    script.customer.name = "R. Okafor-Lund"
    script.customer.save()
    assert "R. Okafor-Lund" in page.get("/").content.decode()
    Shop.objects.update(draw_in=61)
    with CaptureQueriesContext(connection) as asked:
        page.get("/")
    assert [q for q in asked.captured_queries if "FROM `measurements_reading`" in q["sql"]]
