"""Speeds over the chronograph beside the readings of the job's own arrow: facts, never changed."""

from django.db import models

from shop.schema.audit.models import AppendOnly


class ArrowSpeed(AppendOnly):
    """One arrow over the chronograph: another arrow than the job's own, a shot that was called bad, or one
    with the string weights at a place of a trial.

    `weights_in` is that place, from each cam. One that was entered wrong is taken out by a row that
    `takes_out` it; both stay.
    """

    fps = models.FloatField()
    mass_gr = models.FloatField()
    arrow = models.CharField(max_length=80, blank=True)
    weights_in = models.FloatField(null=True, blank=True)
    good = models.BooleanField(default=True)
    takes_out = models.OneToOneField(
        "self", models.PROTECT, null=True, blank=True, related_name="taken_out_by"
    )

    class Meta(AppendOnly.Meta):
        pass
