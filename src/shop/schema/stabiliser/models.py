"""Holds with bars and weights: facts, never changed."""

from django.db import models

from bowcore.stages.stabiliser.bars import PinFloat
from shop.schema.audit.models import AppendOnly


class FloatHeld(AppendOnly):
    """A hold at a dot with some bars: what the pin did, rated from 1 to 5. Lengths [in], masses [oz]."""

    front_in = models.FloatField()
    front_oz = models.FloatField()
    back_in = models.FloatField(default=0.0)
    back_oz = models.FloatField(default=0.0)
    back_deg = models.FloatField(default=0.0)
    pin = models.CharField(max_length=20, choices=[(one.value, one.value) for one in PinFloat])
    rating = models.PositiveSmallIntegerField()

    class Meta(AppendOnly.Meta):
        pass
