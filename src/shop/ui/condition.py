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
    """When the last backup was taken, None where none is known; tasks that wait, and that failed."""

    last_backup: datetime | None
    waiting: int
    failed: int

    @property
    def backup_is_old(self) -> bool:
        """Whether the manager has to hear of it."""
        return self.last_backup is None or timezone.now() - self.last_backup > OLD_AFTER


def condition() -> Condition:
    """As it is now. Backups are looked for in the directory FENNOCK_BACKUPS."""
    tasks = DBTaskResult.objects
    return Condition(
        _last_backup(settings.FENNOCK_BACKUPS),
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
        if now.last_backup is not None:
            age = (timezone.now() - now.last_backup).total_seconds()
            yield GaugeMetricFamily("fennock_backup_age_seconds", "Since the last backup.", age)
        yield GaugeMetricFamily("fennock_tasks_waiting", "In the queue.", now.waiting)
        yield GaugeMetricFamily("fennock_tasks_failed", "Failed in the background.", now.failed)
