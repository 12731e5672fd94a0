"""Sheets and readings: facts with a meaning, appended, never overwritten."""

from django.db import models

from bowcore.bow.cam_radii import CamRadii
from shop.schema.audit.models import AppendOnly
from shop.schema.jobs.models import Job
from shop.schema.press.models import PressCycle


class Sheet(models.Model):
    """Readings taken together: the baseline (no press yet), or those after a press cycle."""

    job = models.ForeignKey(Job, models.PROTECT, related_name="sheets")
    after = models.ForeignKey(PressCycle, models.PROTECT, null=True, related_name="sheets")
    opened_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    @property
    def kind(self) -> str:
        return "baseline" if self.after_id is None else f"after press {self.after_id}"


class Reading(AppendOnly):
    """One take of a quantity of the core's catalogue.

    `value` is empty when it could not be read; then `reason` says why.
    """

    sheet = models.ForeignKey(Sheet, models.PROTECT, related_name="readings")
    quantity = models.CharField(max_length=30)
    start = models.CharField(max_length=30, blank=True)
    end = models.CharField(max_length=30, blank=True)
    tool = models.CharField(max_length=20)
    value = models.DecimalField(max_digits=12, decimal_places=6, null=True)
    sigma = models.FloatField(default=0)
    raw = models.CharField(max_length=60, blank=True)
    device = models.CharField(max_length=20, blank=True, help_text="empty: read and typed by hand")
    reason = models.CharField(max_length=200, blank=True)
    corrects = models.OneToOneField("self", models.PROTECT, null=True, related_name="corrected_by")

    class Meta(AppendOnly.Meta):
        constraints = [
            models.CheckConstraint(
                condition=models.Q(value__isnull=False) | ~models.Q(reason=""),
                name="a_reading_has_a_value_or_a_reason",
            )
        ]


class LeftOnPurpose(AppendOnly):
    """A number that is left outside its band on purpose, and why; no reason takes it back. The newest
    of a quantity counts."""

    quantity = models.CharField(max_length=40)
    reason = models.CharField(max_length=200, blank=True)

    class Meta(AppendOnly.Meta):
        pass


class MarkEntry(AppendOnly):
    """A mark of the core's list, as it was written down; the newest of a key counts."""

    mark = models.CharField(max_length=20)
    value = models.CharField(max_length=200)

    class Meta(AppendOnly.Meta):
        pass


class CamByCaliper(AppendOnly):
    """The radii of a bow's cam, by caliper at full draw; the newest counts. [in]"""

    peg_in = models.DecimalField(max_digits=8, decimal_places=4)
    take_up_in = models.DecimalField(max_digits=8, decimal_places=4)
    let_out_in = models.DecimalField(max_digits=8, decimal_places=4)

    class Meta(AppendOnly.Meta):
        pass

    @property
    def radii(self) -> CamRadii:
        """As the core takes them."""
        return CamRadii(float(self.peg_in), float(self.take_up_in), float(self.let_out_in))


class DrawCurve(AppendOnly):
    """A measured force-draw curve on the way up: [draw length in inches, force in lbf] each."""

    points = models.JSONField()
    source = models.CharField(max_length=20)

    class Meta(AppendOnly.Meta):
        pass
