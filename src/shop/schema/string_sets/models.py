"""Sets on order and here; each component judged when it arrives."""

from django.conf import settings
from django.db import models

from bowcore.stages.string_set.arrival import ArrivalVerdict, LengthKnown
from shop.schema.audit.models import AppendOnly
from shop.schema.bows.models import Part
from shop.schema.jobs.models import Job
from shop.schema.tenancy.here import OfThisShop
from shop.ui.model_fields import inches_field, lay_field


class StringSet(models.Model):
    """A set ordered for a job from a string maker."""

    ORDERED, CONFIRMED, HERE, BACK = "ordered", "confirmed", "here", "sent back"

    job = models.ForeignKey(Job, models.PROTECT, related_name="sets")
    maker = models.CharField(max_length=60)
    state = models.CharField(max_length=12, default=ORDERED)
    ordered_at = models.DateTimeField(auto_now_add=True)
    ordered_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    reference = models.CharField(max_length=40, blank=True)
    ships_on = models.DateField(null=True)
    wishes = models.CharField(
        max_length=200, blank=True, help_text="colours, fibre, serving, loops, peep, weights"
    )
    wanted_by = models.DateField(null=True)
    arrived_at = models.DateTimeField(null=True)

    SHOP_PATH = "job__shop"
    objects = OfThisShop()

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["state", "ships_on"], name="sets_by_state")]

    def __str__(self) -> str:
        return f"Set of {self.maker} for {self.job.bow}"

    @property
    def under_way(self) -> bool:
        """Ordered and not here yet."""
        return self.state in (self.ORDERED, self.CONFIRMED)

    @property
    def goes_back(self) -> bool:
        """Came and was not to length."""
        return self.state == self.BACK

    @property
    def too_late(self) -> bool:
        """It ships after the day on which the bow was promised."""
        return self.ships_on is not None and self.ships_on > self.job.promised_on

    @property
    def source(self) -> str:
        """The maker and the order's reference."""
        return f"{self.maker} {self.reference}".strip()


class Component(models.Model):
    """One string or cable of a set: what was ordered, what came, the verdict on it."""

    set = models.ForeignKey(StringSet, models.PROTECT, related_name="components")
    role = models.CharField(max_length=20)
    label = models.CharField(max_length=40)
    ordered_in = inches_field()
    strands = models.PositiveSmallIntegerField()
    came_in = inches_field(null=True)
    length_known = models.CharField(
        max_length=20,
        choices=[(x.value, x.value) for x in LengthKnown],
        default=LengthKnown.MEASURED.value,
    )
    came_strands = models.PositiveSmallIntegerField(null=True)
    served_top_in = inches_field(null=True)
    served_bottom_in = inches_field(null=True)
    clipped = models.BooleanField(default=True)
    lay = lay_field()
    verdict = models.CharField(max_length=20, blank=True)
    reasons = models.JSONField(default=list)
    part = models.OneToOneField(Part, models.PROTECT, null=True, related_name="component")

    SHOP_PATH = "set__job__shop"
    objects = OfThisShop()

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["set", "role"], name="one_component_a_role")]

    def __str__(self) -> str:
        return self.label

    @property
    def goes_back(self) -> bool:
        """Judged and not to length."""
        return self.verdict == ArrivalVerdict.BACK

    @property
    def good(self) -> bool:
        """Judged and to length."""
        return self.verdict == ArrivalVerdict.GOOD


class MovedOver(AppendOnly):
    """Something reused: it travels from the old set to the new one."""

    fitting = models.CharField(max_length=20)
    note = models.CharField(max_length=120, blank=True)

    class Meta(AppendOnly.Meta):
        pass
