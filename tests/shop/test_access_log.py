"""One line a request, slow pages, and errors that are not written a thousand times."""

import json
import logging
import sys

import pytest
from django.urls import reverse

from shop.ui import access_log
from shop.ui.access_log import OncePerMinute


@pytest.fixture
def lines(caplog, monkeypatch):
    logger = logging.getLogger("fennock.access")
    monkeypatch.setattr(logger, "propagate", True)
    caplog.set_level(logging.INFO, "fennock.access")
    return lambda: [
        (r.levelname, json.loads(r.getMessage())) for r in caplog.records if r.name == logger.name
    ]


def test_a_request_is_a_line(page, script, lines, ines, monkeypatch):
    monkeypatch.setattr(access_log, "SLOW_MS", 60_000.0)
    script.check_in(["back_to_spec"])
    page.get(reverse("step", args=[script.job.pk, "inspection"]), {"q": "a secret"})
    level, line = lines()[-1]
    assert level == "INFO" and line["page"] == "step" and line["job"] == script.job.pk
    assert (
        line["user"] == ines.pk and line["status"] == 200 and line["queries"] > 3 and line["ms"] > 0
    )
    assert "secret" not in str(lines())


def test_a_slow_page_is_said_louder(page, lines, monkeypatch):
    monkeypatch.setattr(access_log, "SLOW_MS", 0.0)
    page.get(reverse("rack"))
    assert lines()[-1][0] == "WARNING"


def test_a_page_that_is_not_there_is_a_line_too(page, lines):
    page.get("/nowhere/")
    assert lines()[-1][1]["status"] == 404 and lines()[-1][1]["page"] == "/nowhere/"


def error(at):
    try:
        raise ValueError("x")
    except ValueError:
        record = logging.LogRecord(
            "django.request", logging.ERROR, "", 0, "broken", (), sys.exc_info()
        )
    record.created = at
    return record


def test_the_same_error_is_written_once_a_minute_with_how_many_there_were():
    once = OncePerMinute()
    assert [once.filter(error(at)) for at in (0, 1, 2, 59)] == [True, False, False, False]
    later = error(61)
    assert once.filter(later) and "and 3 more like it" in later.getMessage()
    plain = logging.LogRecord("x", logging.INFO, "", 0, "said", (), None)
    assert once.filter(plain) and once.filter(plain)
