"""Events and append-only tables: what makes a repeated post one fact and a fact permanent."""

from typing import Any

from django.conf import settings
from django.db import models

from shop.schema.tenancy.here import OfThisShop


class Event(models.Model):
    """One accepted act: its key makes a repeated post one fact, its place orders the job's facts.

    `seq` is the job's version after the act; facts written by it carry the same number.
    """

    key = models.UUIDField(unique=True)
    job = models.ForeignKey("jobs.Job", models.PROTECT, null=True, related_name="events")
    seq = models.PositiveIntegerField(default=0)
    verb = models.CharField(max_length=40)
    summary = models.CharField(max_length=300)
    result = models.CharField(max_length=200, blank=True)
    digest = models.CharField(max_length=64, blank=True, help_text="of what was posted")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="events")
    shop = models.ForeignKey(
        "accounts.Shop", models.PROTECT, related_name="+", help_text="where it was done"
    )
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["job", "seq"], name="one_event_per_version")]
        indexes = [
            models.Index(fields=["shop", "verb"], name="acts_by_verb"),
            models.Index(fields=["shop", "at"], name="acts_by_time"),
        ]
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.summary


class Permanent(Exception):
    """Someone tried to change or delete a fact. A correction is a new row."""


class AppendOnly(models.Model):
    """A fact: written once. The database refuses changes as well (audit.triggers)."""

    job = models.ForeignKey("jobs.Job", models.PROTECT, related_name="%(class)s_set")
    seq = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    SHOP_PATH = "job__shop"
    objects = OfThisShop()

    class Meta:
        abstract = True
        ordering = ["seq", "pk"]

    def save(self, *args: Any, **kwargs: Any) -> None:
        if self.pk is not None and not self._state.adding:
            raise Permanent(f"{self._meta.verbose_name} {self.pk} is on record and stays as it is.")
        super().save(*args, **kwargs)

    def delete(self, *args: Any, **kwargs: Any) -> tuple[int, dict[str, int]]:
        raise Permanent(f"{self._meta.verbose_name} {self.pk} is on record and stays.")
