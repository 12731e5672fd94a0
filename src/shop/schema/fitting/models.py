"""What is on a bow: written down on a job, carried from visit to visit."""

from django.db import models

from bowcore.accessories.on_the_bow import THINGS
from shop.schema.audit.models import AppendOnly


class ThingOnBow(AppendOnly):
    """Something on the bow as it was written down; the newest of a kind on any of the bow's jobs counts."""

    thing = models.CharField(max_length=20, choices=[(one.key, one.name) for one in THINGS])
    details = models.JSONField(help_text="by key, as the core read them")

    class Meta(AppendOnly.Meta):
        pass
