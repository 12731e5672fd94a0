"""Advice as given: inputs, answer and the core's version, so that it can be reproduced."""

from django.db import models

from shop.ledger.models import PressCycle
from shop.measurements.models import DrawCurve
from shop.records.models import AppendOnly


class ModelPrior(models.Model):
    """What the core believes of a bow before it has shown anything: computed once per book
    numbers and core version. A cache: any row may be thrown away. Empty data: no model."""

    fingerprint = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=90)
    data = models.JSONField(null=True)
    drawing = models.JSONField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class BowState(models.Model):
    """A bow's twin pulled to its readings, frame by frame along the draw. A cache: any row may be
    thrown away. Empty data: no twin."""

    fingerprint = models.CharField(max_length=64, unique=True)
    data = models.JSONField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.fingerprint[:12]


class CurveFit(models.Model):
    """A twin fitted to a measured curve, or on the way there. A cache: it can be done again."""

    WORKING, DONE, FAILED, CANCELLED = "working", "done", "failed", "cancelled"

    curve = models.OneToOneField(DrawCurve, models.CASCADE, related_name="fit")
    state = models.CharField(max_length=10, default=WORKING)
    begun_at = models.DateTimeField(auto_now_add=True)
    said = models.CharField(max_length=300, blank=True)
    data = models.JSONField(null=True)

    def __str__(self) -> str:
        return f"fit of curve {self.curve_id}, {self.state}"


class Advice(AppendOnly):
    """A plan that was acted on, or passed over for another change."""

    press = models.OneToOneField(PressCycle, models.PROTECT, null=True, related_name="advice")
    core_version = models.CharField(max_length=20)
    inputs = models.JSONField()
    answer = models.JSONField()
    taken = models.CharField(max_length=300)

    class Meta(AppendOnly.Meta):
        verbose_name_plural = "advice"
