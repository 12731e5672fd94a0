"""Health, headers, uploads, cells of CSV files, the database away, the serving user's rights."""

import errno
import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import InterfaceError, InternalError, OperationalError, ProgrammingError
from django.urls import reverse

from shop.book.transfer import read_csv, to_csv
from shop.schema.audit.models import AppendOnly, Event
from shop.schema.book.models import BookEntry
from shop.schema.jobs.models import Job
from shop.schema.measurements.models import DrawCurve
from shop.setup.management.commands.grants import rights_on
from shop.ui import errors, uploads
from shop.ui.csv_cells import plain_cell, safe_cell
from tests.shop.posting import post


def test_live_and_ready_need_no_login(client, db):
    for name in ("health_live", "health_ready"):
        answer = client.get(reverse(name))
        assert answer.status_code == 200 and "no-store" in answer["Cache-Control"]


@pytest.mark.parametrize("error", [OperationalError(2006, "gone"), InterfaceError(0, "")])
def test_not_ready_while_the_database_is_away(client, monkeypatch, error):
    def gone(*_):
        raise error

    monkeypatch.setattr("shop.setup.health.connection.cursor", gone)
    assert client.get(reverse("health_ready")).status_code == 503
    assert client.get(reverse("health_live")).status_code == 200


@pytest.mark.parametrize(
    ("error", "away"),
    [
        (OperationalError(2013, "lost"), True),
        (OperationalError(1205, "lock wait"), False),
        (InterfaceError(0, ""), True),
        (ProgrammingError(1146, "no table"), False),
        (OperationalError(), False),
        (None, False),
    ],
)
def test_a_lost_connection_is_told_from_a_wrong_question(error, away):
    assert errors.database_away(error) == away


def test_a_page_says_that_the_database_is_away_and_comes_back(page, monkeypatch):
    def gone(*_, **__):
        raise OperationalError(2002, "refused")

    monkeypatch.setattr("shop.rack.views.rack_now", gone)
    page.raise_request_exception = False
    answer = page.get("/?mine=1")
    body = answer.content.decode()
    assert answer.status_code == 503 and answer["Retry-After"] == "3"
    assert "The database cannot be reached" in body and 'content="3;url=/?mine=1"' in body


@pytest.mark.parametrize(
    "error",
    [
        OperationalError(1021, "Disk full (/tmp); waiting for someone to free some space..."),
        OperationalError(1114, "The table 'jobs_job' is full"),
        InternalError(1030, 'Got error 28 "No space left on device" from storage engine InnoDB'),
        OSError(errno.ENOSPC, "No space left on device"),
    ],
)
def test_a_full_disk_is_said_and_what_was_typed_is_kept(page, monkeypatch, error):
    def full(*_, **__):
        raise error

    monkeypatch.setattr("shop.rack.views.rack_now", full)
    page.raise_request_exception = False
    answer = page.get(reverse("rack"))
    assert (
        answer.status_code == 503 and "disk is full" in answer.content.decode()
    )  # the outbox keeps it


@pytest.mark.parametrize("error", [InternalError(1030, "Got error 122"), OSError(2, "x"), None])
def test_another_error_is_not_a_full_disk(error):
    assert not errors.disk_is_full(error)


def test_pages_are_kept_by_nobody_else_and_ask_for_little(page):
    answer = page.get(reverse("rack"))
    assert answer["Cache-Control"].startswith("private")
    assert "microphone=()" in answer["Permissions-Policy"]


def test_an_upload_is_refused_while_it_is_read(page, script, monkeypatch):
    monkeypatch.setattr(uploads, "MOST_UPLOADED", 100_000)
    script.check_in(["back_to_spec"])
    large = SimpleUploadedFile("bow.jpg", b"x" * 400_000, "image/jpeg")
    answer = post(page, "keep_photo", script.job, "inspection", about="string", photo=large)
    assert answer.status_code == 413 and "too large" in answer.content.decode()


@pytest.mark.parametrize("text", ["=1+1", "+31", "-2", "@x", "'quoted", "\tx", "plain", ""])
def test_a_cell_is_never_a_formula_and_comes_back_as_it_was(text):
    cell = safe_cell(text)
    assert not cell.startswith(("=", "+", "-", "@", "\t")) and plain_cell(cell) == text
    assert safe_cell(-0.5) == -0.5


def test_a_formula_in_the_book_goes_out_as_text_and_comes_back(floor):
    entry = BookEntry.objects.first()
    entry.note = '=HYPERLINK("x")'
    text = to_csv([entry])
    assert ",'=HYPERLINK" in text.replace('"', "").replace("'=HYPERLINK", "'=HYPERLINK")
    (row,) = read_csv(text)
    assert row.data["note"] == entry.note and not row.problems


def test_the_serving_user_changes_no_record():
    assert rights_on(Event) == ("UPDATE (`summary`, `result`)",)  # once, as test_permanent shows
    assert all(rights_on(model) == () for model in AppendOnly.__subclasses__())
    assert rights_on(Job) == ("UPDATE",)
    told = io.StringIO()
    call_command("grants", stdout=told)
    lines = told.getvalue().splitlines()
    assert "GRANT UPDATE ON `jobs_job` TO {user};" in lines
    assert not any("DROP" in line or "ALTER" in line for line in lines)
    about_events = [line for line in lines if "audit_event" in line]
    assert about_events == ["GRANT UPDATE (`summary`, `result`) ON `audit_event` TO {user};"]


def test_a_curve_on_file_that_no_bow_draws_is_said_and_hangs_nothing(page, script, ines):
    script.check_in(["back_to_spec"])
    script.inspect()
    points = [[1e5 * n, min(n, 10) * 5.0 if n < 15 else 10.0] for n in range(20)]
    DrawCurve.objects.create(job=script.job, seq=1, by=ines, points=points, source="file")
    shown = page.get(reverse("bow_drawn", args=[script.job.pk])).content.decode()
    assert "The curve on file is not drawn" in shown and "in inches and pounds" in shown
