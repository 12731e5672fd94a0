"""Jobs, and holds."""

from django.conf import settings
from django.db import models

from bowcore.stages.replace.press_plan import PressKind
from bowcore.work_order.holds import HOLDS
from bowcore.work_order.needs import PATHS
from shop.schema.accounts.models import OwnedByShop
from shop.schema.bows.models import Bow
from shop.schema.tenancy.here import OfThisShop
from shop.ui.model_fields import inches_field, pounds_field


class Job(OwnedByShop):
    """One visit of one bow. `version` counts the accepted events; `spec` is the book as it was then."""

    bow = models.ForeignKey(Bow, models.PROTECT, related_name="jobs")
    services = models.JSONField(default=list)
    path = models.CharField(max_length=12, choices=list(PATHS.items()), default="carry_over")
    promised_on = models.DateField(db_index=True)
    arrow_here = models.BooleanField(default=False)
    release_here = models.BooleanField(default=False)
    wanted_weight_lbf = pounds_field(null=True, blank=True)
    note = models.TextField(blank=True)
    wanted_draw_in = inches_field(null=True, blank=True)
    wanted_gap_in = inches_field(null=True, blank=True)
    fitted = models.JSONField(default=list)
    arrows = models.CharField(max_length=120, blank=True)
    release = models.CharField(max_length=60, blank=True)
    brought = models.CharField(max_length=200, blank=True)
    spec = models.JSONField()
    book_version = models.PositiveIntegerField(default=1)
    policy = models.JSONField(
        default=dict, help_text="where this job differs from the shop's policy"
    )
    replacement = models.CharField(max_length=40, blank=True)
    supply = models.JSONField(default=dict, help_text="where each new part comes from, by role")
    press = models.CharField(
        max_length=20,
        blank=True,
        choices=[(p.value, p.value) for p in PressKind],
        help_text="where this job is not pressed in the shop's usual press",
    )
    opened_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    opened_at = models.DateTimeField(auto_now_add=True)
    inspected = models.BooleanField(default=False)
    handed_over_at = models.DateTimeField(null=True, blank=True, db_index=True)
    cancelled_at = models.DateTimeField(null=True, blank=True, db_index=True)
    cancelled_because = models.CharField(max_length=200, blank=True)
    assigned_to = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, related_name="+", null=True, blank=True
    )
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["promised_on", "pk"]
        indexes = [
            models.Index(fields=["shop", "handed_over_at", "cancelled_at"], name="jobs_of_a_shop")
        ]

    def __str__(self) -> str:
        return f"Job {self.pk}: {self.bow.customer}, {self.bow}"

    @property
    def closed(self) -> bool:
        """Handed over, or cancelled."""
        return self.handed_over_at is not None or self.cancelled_at is not None


class Hold(models.Model):
    """Why a job waits. Lifted with a reason, never deleted."""

    job = models.ForeignKey(Job, models.PROTECT, related_name="holds")
    kind = models.CharField(max_length=20, choices=[(k, h.name) for k, h in HOLDS.items()])
    reason = models.CharField(max_length=200)
    parts = models.JSONField(
        default=list, help_text="roles of the parts that have to be new before it is lifted"
    )
    placed_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    placed_at = models.DateTimeField(auto_now_add=True)
    lifted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, related_name="+", null=True
    )
    lifted_at = models.DateTimeField(null=True, blank=True)
    lifted_because = models.CharField(max_length=200, blank=True)

    SHOP_PATH = "job__shop"
    objects = OfThisShop()

    class Meta:
        ordering = ["pk"]

    @property
    def danger(self) -> bool:
        """Whether it is about safety."""
        return HOLDS[self.kind].danger

    def __str__(self) -> str:
        return f"{HOLDS[self.kind].name}: {self.reason}"
