"""How old the last backup is and what failed in the background, for the manager and for Prometheus."""

import os
import time

import pytest
from django.urls import reverse
from django.utils import timezone
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult

DAY = 24 * 3600


@pytest.fixture
def backups(settings, tmp_path):
    """Makes a backup that is so many days old."""
    settings.FENNOCK_BACKUPS = str(tmp_path)
    settings.FENNOCK_METRICS_TOKEN = "a-long-word"

    def make(days):
        path = tmp_path / f"fennock-{days}.tar"
        path.touch()
        then = time.time() - days * DAY
        os.utime(path, (then, then))

    return make


def metrics(page):
    answer = page.get("/metrics", headers={"authorization": "Bearer a-long-word"})
    return answer.content.decode()


def shop(page):
    return page.get(reverse("shop")).content.decode().replace("\xa0", " ")


def test_the_newest_backup_counts(page, backups):
    assert "No backup is known here" in shop(page) and "fennock_backup_age" not in metrics(page)
    backups(9)
    assert "Last backup: 1 week" in shop(page) and 'mb-1 warn"' in shop(page)
    backups(1)
    assert "Last backup: 1 day" in shop(page) and 'mb-1 warn"' not in shop(page)
    age = next(row for row in metrics(page).splitlines() if row.startswith("fennock_backup_age"))
    assert float(age.split()[1]) == pytest.approx(DAY, abs=60)


def test_a_second_place_that_is_behind_is_said(page, backups, settings, tmp_path_factory):
    backups(0)
    assert "second place" not in shop(page) and "fennock_copy_age" not in metrics(page)
    second = tmp_path_factory.mktemp("second")
    settings.FENNOCK_BACKUP_COPIES = str(second)
    assert "No copy in the second place" in shop(page) and 'mb-1 warn"' in shop(page)
    (second / "fennock-0.tar").touch()
    assert "Copied to the second place 0" in shop(page) and 'mb-1 warn"' not in shop(page)
    assert "fennock_copy_age_seconds" in metrics(page)


def test_tasks_that_wait_and_that_failed_are_counted(page, backups):
    task = {
        "args_kwargs": {},
        "task_path": "x",
        "backend_name": "default",
        "run_after": timezone.now(),
    }
    for status in (TaskResultStatus.READY, TaskResultStatus.FAILED, TaskResultStatus.FAILED):
        DBTaskResult.objects.create(status=status, exception_class_path="", traceback="", **task)
    assert "2 tasks failed in the background" in shop(page)
    found = metrics(page)
    assert "fennock_tasks_waiting 1.0" in found and "fennock_tasks_failed 2.0" in found


def test_only_a_manager_sees_it(client, tomas, backups):
    client.force_login(tomas)
    assert "Last backup" not in shop(client) and "No backup" not in shop(client)
