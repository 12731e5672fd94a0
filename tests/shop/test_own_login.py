"""A code besides the password, where somebody is logged in, and what Prometheus may read.

The codes are checked against RFC 6238: its reference algorithm is written out here anew.
"""

import re
import time
import uuid

from django.test import Client
from django.urls import reverse
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from shop.demo.people import PASSWORD
from shop.schema.accounts.sessions import LoginSession
from tests.shop.conftest import code_at


def test_the_algorithm_here_gives_the_rfcs_own_values():
    """RFC 6238, appendix B, its eight digits cut to the last six: 94287082 and 07081804."""
    secret = b"12345678901234567890"
    assert (code_at(secret, 59), code_at(secret, 1111111109)) == ("287082", "081804")


def half_way(name="ines"):
    client = Client()
    answer = client.post(
        reverse("login") + "?next=/book/", {"username": name, "password": PASSWORD}
    )
    return client, answer


def test_the_password_alone_lets_nobody_in_who_has_set_it_up(coded):
    client, answer = half_way()
    assert answer.url == reverse("login_code")
    assert client.get(reverse("rack")).status_code == 302
    assert client.post(reverse("login_code"), {"token": "000000"}).status_code == 422
    assert client.get(reverse("rack")).status_code == 302


def test_a_code_from_paper_lets_in_once(coded):
    _, paper = coded
    assert len(paper) == 10
    client, _ = half_way()
    answer = client.post(reverse("login_code"), {"token": paper[0]})
    assert answer.status_code == 302 and answer.url == "/book/"
    assert client.get(reverse("rack")).status_code == 200
    again, _ = half_way()
    assert again.post(reverse("login_code"), {"token": paper[0]}).status_code == 422


def test_the_phones_next_code_lets_in_and_not_twice(coded):
    secret, _ = coded
    code = code_at(secret, time.time() + 30)  # the one of the set-up is used
    client, _ = half_way()
    assert client.post(reverse("login_code"), {"token": code}).status_code == 302
    again, _ = half_way()
    assert again.post(reverse("login_code"), {"token": code}).status_code == 422


def test_half_way_in_lasts_five_minutes(coded, monkeypatch):
    client, _ = half_way()
    later = time.time() + 301
    monkeypatch.setattr("shop.accounts.views.time.time", lambda: later)
    assert client.get(reverse("login_code")).url == reverse("login")


def test_nobody_is_half_way_without_a_password(client, floor):
    assert client.get(reverse("login_code")).url == reverse("login")
    assert client.post(reverse("login_code"), {"token": "1"}).url == reverse("login")


def test_a_wrong_code_sets_nothing_up(page, ines):
    page.get(reverse("second_step"))
    assert page.post(reverse("second_step"), {"token": "12"}).status_code == 422
    _, answer = half_way()
    assert answer.url == "/book/"


def test_it_is_stopped_with_a_code_only(page, coded):
    assert page.post(reverse("second_step"), {"token": "999999"}).status_code == 422
    assert half_way()[1].url == reverse("login_code")
    page.post(reverse("second_step"), {"token": coded[1][3]})
    assert half_way()[1].url == reverse("login_code")  # too soon after the wrong one
    for devices in (StaticDevice.objects, TOTPDevice.objects):
        devices.update(throttling_failure_count=0)
    page.post(reverse("second_step"), {"token": coded[1][3]})
    assert half_way()[1].url == "/book/"


def test_a_manager_stops_it_for_whoever_lost_the_phone(client, page, coded, tomas, ines):
    ask = {"key": uuid.uuid4(), "seen": 0}
    client.force_login(tomas)
    address = reverse("forget_second_step", args=[ines.pk])
    assert client.post(address, ask).status_code == 422
    assert half_way()[1].url == reverse("login_code")
    client.force_login(ines)
    assert client.post(address, ask).status_code == 302
    assert half_way()[1].url == "/book/"


def test_logins_are_listed_and_ended_one_by_one(page, ines, tomas):
    other, stranger = Client(headers={"user-agent": "Phone of the bench"}), Client()
    other.post(reverse("login"), {"username": "ines", "password": PASSWORD})
    stranger.post(reverse("login"), {"username": "tomas", "password": PASSWORD})
    body = page.get(reverse("own_login")).content.decode()
    assert "Phone of the bench" in body and body.count("Log out there") == 1
    keys = LoginSession.objects.values_list("session_key", flat=True)
    assert not any(key in body for key in keys)
    page.post(
        reverse("end_one_login"), {"login": re.search(r'name="login" value="(\w+)"', body)[1]}
    )
    assert other.get(reverse("rack")).status_code == 302
    assert page.get(reverse("rack")).status_code == 200


def test_nobody_ends_the_login_of_somebody_else(page, tomas):
    from shop.accounts.selectors import handle_of

    other = Client()
    other.force_login(tomas)
    theirs = LoginSession.objects.get(member=tomas)
    page.post(reverse("end_one_login"), {"login": handle_of(theirs)})
    assert other.get(reverse("rack")).status_code == 200


def test_the_pages_that_show_it_are_for_whoever_is_logged_in(client, floor):
    for name in ("own_login", "second_step"):
        assert client.get(reverse(name)).status_code == 302


def test_metrics_answer_to_their_token_only(client, page, settings):
    page.get(reverse("rack"))
    assert client.get("/metrics").status_code == 404
    settings.FENNOCK_METRICS_TOKEN = "a-long-word"
    assert client.get("/metrics").status_code == 404
    assert client.get("/metrics", headers={"authorization": "Bearer other"}).status_code == 404
    text = client.get("/metrics", headers={"authorization": "Bearer a-long-word"}).content.decode()
    assert 'fennock_requests_total{method="GET",page="rack",status="200"}' in text
    assert "fennock_request_seconds_bucket" in text


def test_nobody_makes_up_names_in_the_metrics(client, floor, settings):
    settings.FENNOCK_METRICS_TOKEN = "a-long-word"
    client.get("/made-up-by-a-stranger/")
    client.generic("BREW", "/login/")
    text = client.get("/metrics", headers={"authorization": "Bearer a-long-word"}).content.decode()
    assert "made-up" not in text and "BREW" not in text
