"""How the records are kept and how the work in the background stands: for the manager and for Prometheus."""

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.utils import timezone
from django_tasks.base import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from prometheus_client import Metric
from prometheus_client.core import GaugeMetricFamily

OLD_AFTER = timedelta(days=2)
"""A shop loses no more than so much work with its disk: our figure."""


@dataclass(frozen=True)
class Condition:
    """When the last backup was taken, None where none is known, and copied to a second place, where one is
    named; tasks that wait, and that failed."""

    last_backup: datetime | None
    last_copy: datetime | None
    second_place: bool
    waiting: int
    failed: int

    @property
    def backup_is_old(self) -> bool:
        """Whether the manager has to hear of it."""
        return _is_old(self.last_backup)

    @property
    def copy_is_old(self) -> bool:
        """Whether the second place is behind."""
        return self.second_place and _is_old(self.last_copy)


def _is_old(moment: datetime | None) -> bool:
    return moment is None or timezone.now() - moment > OLD_AFTER


def condition() -> Condition:
    """As it is now. Backups are looked for in the directories FENNOCK_BACKUPS and FENNOCK_BACKUP_COPIES."""
    tasks = DBTaskResult.objects
    return Condition(
        _last_backup(settings.FENNOCK_BACKUPS),
        _last_backup(settings.FENNOCK_BACKUP_COPIES),
        bool(settings.FENNOCK_BACKUP_COPIES),
        tasks.filter(status=TaskResultStatus.READY).count(),
        tasks.filter(status=TaskResultStatus.FAILED).count(),
    )


def _last_backup(place: str) -> datetime | None:
    if not place:
        return None
    moments = []
    for path in Path(place).glob("fennock-*.tar"):
        with suppress(FileNotFoundError):  # one that is deleted just now
            moments.append(path.stat().st_mtime)
    return datetime.fromtimestamp(max(moments), UTC) if moments else None


class ConditionCollector:
    """The condition as Prometheus takes it."""

    def collect(self) -> Iterator[Metric]:
        """Gauges; the backup's age only where a backup is known."""
        now = condition()
        yield from _age_of("fennock_backup_age_seconds", "Since the last backup.", now.last_backup)
        yield from _age_of("fennock_copy_age_seconds", "Since the last copy of one.", now.last_copy)
        yield GaugeMetricFamily("fennock_tasks_waiting", "In the queue.", now.waiting)
        yield GaugeMetricFamily("fennock_tasks_failed", "Failed in the background.", now.failed)


def _age_of(name: str, what: str, moment: datetime | None) -> Iterator[Metric]:
    if moment is not None:
        yield GaugeMetricFamily(name, what, (timezone.now() - moment).total_seconds())
