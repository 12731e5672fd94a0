"""People of the shop: invited, let in again, sent away; guessing passwords; proxies."""

import uuid
from datetime import timedelta

import pytest
from django.test import Client, RequestFactory
from django.urls import reverse

from shop.accounts.lockout import client_address, lock_time, locked_names
from shop.demo.people import PASSWORD
from shop.schema.accounts.models import Member
from shop.schema.accounts.sessions import LoginSession
from shop.schema.audit.models import Event


@pytest.fixture
def guarded(settings):
    """Failures of a login are counted."""
    settings.AXES_ENABLED = True


def act(page, name, *args, **data):
    return page.post(reverse(name, args=args), {"key": uuid.uuid4(), "seen": 0} | data)


def logs_in(client, name, word=PASSWORD, **headers):
    return client.post(reverse("login"), {"username": name, "password": word}, **headers)


def shown_password(page):
    body = page.get(reverse("people")).content.decode()
    return body.split("The password is ")[1].split(". It is")[0]


def test_somebody_is_invited_and_the_password_is_shown_once(page, client, floor):
    answer = act(page, "invite", username="nil", full_name="Nil Aberg", role="technician")
    assert answer.status_code == 302
    word = shown_password(page)
    assert "The password is" not in page.get(reverse("people")).content.decode()
    assert word not in str(list(Event.objects.values_list("summary", "result")))
    page.logout()
    assert logs_in(client, "nil", word).status_code == 302
    assert act(client, "invite", username="x", full_name="X", role="manager").status_code == 422


def test_a_name_is_taken_once(page, floor):
    said = {"username": "tomas", "full_name": "T", "role": "technician"}
    assert act(page, "invite", **said).status_code == 422


def test_who_leaves_is_logged_out_and_what_they_did_stays(page, tomas):
    other = Client()
    other.force_login(tomas)
    assert LoginSession.objects.count() == 2
    assert act(page, "set_active", tomas.pk).status_code == 302
    assert other.get(reverse("rack")).status_code == 302
    assert logs_in(other, "tomas").status_code == 200
    act(page, "set_active", tomas.pk, active="on")
    assert logs_in(other, "tomas").status_code == 302


def test_the_last_manager_stays_one(page, ines):
    assert act(page, "change_role", ines.pk, role="technician").status_code == 422
    assert act(page, "set_active", ines.pk).status_code == 422
    assert Member.objects.get(pk=ines.pk).is_active


def test_a_new_password_ends_what_was_open_with_the_old(page, tomas):
    other = Client()
    other.force_login(tomas)
    act(page, "reset_password", tomas.pk)
    assert other.get(reverse("rack")).status_code == 302
    assert logs_in(other, "tomas", shown_password(page)).status_code == 302


def test_everybody_changes_their_own_password(client, tomas):
    client.force_login(tomas)
    new = "another-long-word"
    data = {"old_password": PASSWORD, "new_password1": new, "new_password2": new}
    assert client.post(reverse("own_password"), data).status_code == 302
    client.logout()
    assert logs_in(client, "tomas", new).status_code == 302


def test_a_name_is_locked_for_the_address_that_failed_and_for_no_other(guarded, page, tomas):
    client = Client()
    near, far = {"REMOTE_ADDR": "10.0.0.7"}, {"REMOTE_ADDR": "10.0.0.8"}
    for _ in range(6):
        logs_in(client, "tomas", "wrong", **near)
    assert logs_in(client, "tomas", **near).status_code == 429
    assert logs_in(client, "tomas", **far).status_code == 302
    client.logout()
    assert locked_names() == {"tomas"}
    act(page, "let_in", tomas.pk)
    assert logs_in(client, "tomas", **near).status_code == 302


def test_every_further_failure_doubles_the_wait(guarded, client, floor):
    request = RequestFactory().post("/login/", {"username": "pia"}, REMOTE_ADDR="10.0.0.7")
    waits = []
    for _ in range(9):
        logs_in(client, "pia", "wrong", REMOTE_ADDR="10.0.0.7")
        waits.append(lock_time(request))
    assert waits[5] == timedelta(minutes=1) and waits[-1] == timedelta(minutes=8)


def test_many_names_from_one_address_are_stopped_there_and_said(guarded, client, floor, caplog):
    logs_in(Client(), "pia", REMOTE_ADDR="10.0.0.9")  # works there every day
    for number in range(10):
        logs_in(client, f"guess{number}", "wrong", REMOTE_ADDR="10.0.0.9")
    assert logs_in(client, "tomas", REMOTE_ADDR="10.0.0.9").status_code == 429
    assert "names were tried from 10.0.0.9" in caplog.text
    assert logs_in(client, "tomas", REMOTE_ADDR="10.0.0.10").status_code == 302
    assert logs_in(Client(), "pia", REMOTE_ADDR="10.0.0.9").status_code == 302


@pytest.mark.parametrize(
    ("proxies", "passed", "address"),
    [
        (0, "1.1.1.1", "10.0.0.1"),
        (1, "1.1.1.1", "1.1.1.1"),
        (1, "6.6.6.6, 1.1.1.1", "1.1.1.1"),
        (2, "6.6.6.6, 1.1.1.1, 10.0.0.2", "1.1.1.1"),
        (2, "1.1.1.1", "10.0.0.1"),
        (1, "", "10.0.0.1"),
    ],
)
def test_an_address_is_what_the_nearest_trusted_proxy_saw(settings, proxies, passed, address):
    settings.FENNOCK_PROXIES = proxies
    request = RequestFactory().get("/", HTTP_X_FORWARDED_FOR=passed, REMOTE_ADDR="10.0.0.1")
    assert client_address(request) == address


def test_the_log_of_all_jobs_is_narrowed_and_given_out(page, script, tomas):
    script.check_in(["back_to_spec"])
    script.inspect()
    address = reverse("who_did_what")
    assert "checked in" in page.get(address).content.decode()
    only = page.get(address, {"verb": "inspect"}).content.decode()
    assert "inspected it" in only and "checked in R." not in only
    assert "Nothing like that" in page.get(address, {"words": "zebra"}).content.decode()
    for odd in ({"job": "9" * 30}, {"since": "x"}, {"by": "y"}, {"verb": "z"}, {"page": "²"}):
        assert page.get(address, odd).status_code == 200
    sent = page.get(address, {"as": "csv", "verb": "inspect"})
    lines = b"".join(sent.streaming_content).decode().splitlines()
    assert lines[0] == "at,by,job,bow,verb,what" and len(lines) == 2 and "inspected it" in lines[1]


def test_only_a_manager_reads_it(client, tomas):
    client.force_login(tomas)
    assert client.get(reverse("who_did_what")).status_code == 403
