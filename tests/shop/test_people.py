"""People of the shop: invited, let in again, sent away; guessing passwords; proxies."""

import uuid
from datetime import timedelta
from io import StringIO

import pytest
from axes.middleware import AxesMiddleware
from axes.models import AccessAttemptExpiration
from django.core.management import CommandError, call_command
from django.http import HttpResponse
from django.test import Client, RequestFactory
from django.urls import reverse
from django.utils import timezone

from shop.accounts.actions import let_in_again
from shop.accounts.lockout import client_address, locked_names
from shop.demo.people import PASSWORD
from shop.schema.accounts.models import Member
from shop.schema.accounts.sessions import LoginSession
from shop.schema.audit.models import Event
from shop.stages.replace.forms import GateForm


@pytest.fixture
def guarded(settings):
    """Failures of a login are counted."""
    settings.AXES_ENABLED = True


def act(page, name, *args, **data):
    return page.post(reverse(name, args=args), {"key": uuid.uuid4(), "seen": 0} | data)


def logs_in(client, name, word=PASSWORD, **headers):
    return client.post(reverse("login"), {"username": name, "password": word}, **headers)


def changes_password(client, old, new="another-long-word"):
    data = {"old_password": old, "new_password1": new, "new_password2": new}
    return client.post(reverse("own_password"), data)


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
    assert client.get(reverse("rack")).url == reverse("own_password")
    assert act(client, "invite", username="x").url == reverse("own_password")
    changes_password(client, word)
    assert client.get(reverse("rack")).status_code == 200
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
    assert changes_password(client, PASSWORD, PASSWORD).status_code == 200  # not the same again
    assert changes_password(client, PASSWORD).status_code == 302
    client.logout()
    assert logs_in(client, "tomas", "another-long-word").status_code == 302


def locks(client, name, **where):
    for _ in range(6):
        logs_in(client, name, "wrong", **where)


def test_a_name_is_locked_wherever_the_guesses_come_from(guarded, page, tomas):
    locks(Client(), "tomas", REMOTE_ADDR="10.0.0.7")
    assert logs_in(Client(), "tomas", REMOTE_ADDR="10.0.0.8").status_code == 429
    assert locked_names(["tomas", "pia"]) == {"tomas"}
    assert "login locked" in page.get(reverse("people")).content.decode()
    act(page, "let_in", tomas.pk)
    assert logs_in(Client(), "tomas").status_code == 302


def test_other_spellings_that_the_database_takes_for_a_name_share_its_count(guarded, tomas):
    client = Client()
    for name in ("tomas", "TOMAS", "tomás", "Tómas", "tomas", "tömas"):
        logs_in(client, name, "wrong")
    assert logs_in(client, "tomas").status_code == 429


def test_a_browser_known_from_before_is_let_through_and_counts_by_itself(guarded, tomas):
    known, stranger = Client(), Client()
    assert logs_in(known, "tomas").status_code == 302
    known.post(reverse("logout"))
    locks(stranger, "tomas")
    assert logs_in(stranger, "tomas").status_code == 429
    stranger.cookies["browser"] = known.cookies["browser"].value[:-1] + "x"  # not signed here
    assert logs_in(stranger, "tomas").status_code == 429
    assert logs_in(known, "tomas").status_code == 302
    known.post(reverse("logout"))
    locks(known, "tomas")
    assert logs_in(known, "tomas").status_code == 429


def test_a_browser_is_known_for_those_who_logged_in_with_it_alone(guarded, tomas, pia):
    known = Client()
    logs_in(known, "tomas")
    known.post(reverse("logout"))
    locks(Client(), "pia")
    assert logs_in(known, "pia").status_code == 429


def test_tries_while_it_is_locked_do_not_lengthen_it_and_each_lock_of_a_day_does(guarded, floor):
    client = Client()
    locks(client, "pia")
    (until,) = AccessAttemptExpiration.objects.values_list("expires_at", flat=True)
    locks(client, "pia")
    assert list(AccessAttemptExpiration.objects.values_list("expires_at", flat=True)) == [until]
    waits = []
    for _ in range(3):
        AccessAttemptExpiration.objects.update(expires_at=timezone.now() - timedelta(seconds=1))
        locks(client, "pia")
        row = AccessAttemptExpiration.objects.get()
        waits.append(row.expires_at - row.access_attempt.attempt_time)
    assert [round(wait / timedelta(minutes=1)) for wait in waits] == [2, 4, 8]


def test_many_names_from_one_address_are_stopped_there_and_said(guarded, page, caplog):
    client = Client()
    logs_in(Client(), "pia", REMOTE_ADDR="10.0.0.9")  # works there every day
    act(page, "invite", username="nil", full_name="Nil Aberg", role="technician")
    word = shown_password(page)
    for number in range(10):
        logs_in(client, f"guess{number}", "wrong", REMOTE_ADDR="10.0.0.9")
    assert logs_in(client, "tomas", REMOTE_ADDR="10.0.0.9").status_code == 429
    assert "names were tried from 10.0.0.9" in caplog.text
    assert logs_in(client, "tomas", REMOTE_ADDR="10.0.0.10").status_code == 302
    assert logs_in(Client(), "pia", REMOTE_ADDR="10.0.0.9").status_code == 302
    assert logs_in(Client(), "nil", word, REMOTE_ADDR="10.0.0.9").status_code == 302  # a newcomer


def test_a_password_that_fennock_made_is_never_locked(guarded, page, tomas):
    act(page, "reset_password", tomas.pk)
    locks(Client(), "tomas")
    assert logs_in(Client(), "tomas", shown_password(page)).status_code == 302


def test_the_server_gives_a_sole_manager_a_way_back(guarded, coded):
    client = Client()
    locks(client, "ines")
    assert "./fennock new-password" in logs_in(client, "ines").content.decode()
    said = StringIO()
    call_command("new_password", "ines", without_code=True, stdout=said)
    word = said.getvalue().strip().split("Password: ")[1]
    assert logs_in(client, "ines", word).url == reverse("rack")
    assert client.get(reverse("rack")).url == reverse("own_password")
    with pytest.raises(CommandError, match="Nobody"):
        call_command("new_password", "nobody")


def test_a_second_signature_has_a_count_of_its_own(guarded, client, ines):
    def signs(word):
        data = {"key": uuid.uuid4(), "seen": 0, "second_name": "ines", "second_password": word}
        request = RequestFactory().post("/", data)
        request.session = client.session
        AxesMiddleware(lambda _: HttpResponse())(request)
        form = GateForm(request.POST, request=request)
        form.is_valid()
        return form

    for _ in range(6):
        assert "do not belong" in str(signs("wrong").errors) or "cannot sign" in str(
            signs("wrong").errors
        )
    assert "cannot sign for a while" in str(signs(PASSWORD).errors)
    assert logs_in(client, "ines").status_code == 302
    locks(Client(), "ines")
    let_in_again("ines")
    assert signs(PASSWORD).cleaned_data["second"] == ines


def test_a_second_signature_asks_for_the_code_of_whoever_logs_in_with_one(ines, coded):
    def signs(**more):
        data = {"key": uuid.uuid4(), "seen": 0, "second_name": "ines", "second_password": PASSWORD}
        request = RequestFactory().post("/", data | more)
        form = GateForm(request.POST, request=request)
        form.is_valid()
        return form

    assert "second_code" in signs().errors and signs().cleaned_data["second"] is None
    paper = coded[1]
    assert signs(second_code=paper[0]).cleaned_data["second"] == ines
    assert "second_code" in signs(second_code=paper[0]).errors  # each works once


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
