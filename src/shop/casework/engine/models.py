"""What the engine has computed: caches, any row of which may be thrown away."""

from django.conf import settings
from django.db import models

from shop.schema.measurements.models import DrawCurve
from shop.schema.tenancy.here import OfThisShop


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


class CurveFitTask(models.Model):
    """A fit of a twin to a measured curve: its progress, and what it found. It can be done again.

    `task` is the id of the background task that does it.
    """

    WORKING, DONE, FAILED, CANCELLED = "working", "done", "failed", "cancelled"

    curve = models.OneToOneField(DrawCurve, models.CASCADE, related_name="fit")
    state = models.CharField(max_length=10, default=WORKING)
    begun_at = models.DateTimeField(auto_now_add=True)
    begun_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+"
    )
    task = models.CharField(max_length=64, blank=True)
    round = models.PositiveSmallIntegerField(default=0)
    message = models.CharField(max_length=300, blank=True)
    data = models.JSONField(null=True)

    SHOP_PATH = "curve__job__shop"
    objects = OfThisShop()

    def __str__(self) -> str:
        return f"fit of curve {self.curve_id}, {self.state}"
