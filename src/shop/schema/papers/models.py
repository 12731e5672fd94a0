"""The hand-over as it was made: what was open, who allowed it, what was not done."""

from django.db import models

from shop.schema.audit.models import AppendOnly


class HandOver(AppendOnly):
    """One for each time that a job goes out; it may be opened again."""

    open_points = models.JSONField(default=list)
    override = models.CharField(max_length=300, blank=True)
    not_done = models.TextField(blank=True)

    class Meta(AppendOnly.Meta):
        constraints = [
            models.UniqueConstraint(fields=["job", "seq"], name="one_hand_over_a_moment")
        ]
