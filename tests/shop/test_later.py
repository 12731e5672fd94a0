"""What takes seconds is made by the background worker: the page holds its place and asks again."""

import pytest
from django.core.cache import caches
from django.urls import reverse
from django_tasks import task_backends

from shop.papers.pdf import lay_out
from shop.stages.back_to_spec.tasks import work_out_bow, work_out_surer
from tests.shop.test_back_to_spec import to_spec

NOT_AT_ONCE = {"default": {"BACKEND": "django_tasks.backends.dummy.DummyBackend"}}


@pytest.fixture
def worker_is_busy(settings):
    """Tasks are only queued."""
    settings.TASKS = NOT_AT_ONCE
    yield task_backends["default"]


def fetch(page, name, job, **asked):
    """A fragment, as the page asks for it."""
    return page.get(reverse(name, args=[job.pk]), asked, headers={"HX-Request": "true"})


@pytest.mark.parametrize(
    ("name", "work"),
    [("pattern", work_out_bow), ("bow_drawn", work_out_bow), ("surer", work_out_surer)],
)
def test_a_place_is_held_until_the_worker_has_made_it(page, script, worker_is_busy, name, work):
    to_spec(script, cable_a=-0.12)
    first, second = fetch(page, name, script.job), fetch(page, name, script.job)
    for held in (first, second):
        assert "Being computed" in held.content.decode()
        assert f'hx-get="{reverse(name, args=[script.job.pk])}?waits=' in held.content.decode()
    mine = [one for one in worker_is_busy.results if one.task.name == work.name]
    assert len(mine) == 1  # asked for twice, begun once
    work.func(script.job.pk)
    assert "Being computed" not in fetch(page, name, script.job).content.decode()


def test_asking_again_costs_no_more_than_to_see_that_it_is_not_there(
    page, script, worker_is_busy, django_assert_max_num_queries
):
    to_spec(script, cable_a=-0.12)
    body = fetch(page, "pattern", script.job).content.decode()
    key = body.split("?waits=")[1].split('"')[0]
    with django_assert_max_num_queries(5):
        assert "Being computed" in fetch(page, "pattern", script.job, waits=key).content.decode()
    work_out_bow.func(script.job.pk)
    assert "Being computed" not in fetch(page, "pattern", script.job, waits=key).content.decode()


def test_the_pdf_is_waited_for_on_a_page_and_made_once(page, script, worker_is_busy):
    to_spec(script)
    waiting = fetch(page, "sheet_pdf", script.job)
    assert waiting["Content-Type"].startswith("text/html") and waiting["Refresh"]
    assert "The PDF is being made" in waiting.content.decode()
    (result,) = [one for one in worker_is_busy.results if one.task.name == lay_out.name]
    lay_out.func(*result.args)
    assert fetch(page, "sheet_pdf", script.job).content[:5] == b"%PDF-"


def test_work_that_came_to_nothing_is_asked_for_again(page, script, worker_is_busy):
    to_spec(script)
    fetch(page, "pattern", script.job)
    caches["shared"].clear()  # as after the time in which it should have been made
    fetch(page, "pattern", script.job)
    assert [one.task.name for one in worker_is_busy.results].count(work_out_bow.name) == 2
