"""Sets of arrows as they were weighed: facts, never changed."""

from django.db import models

from shop.schema.audit.models import AppendOnly


class ArrowSet(AppendOnly):
    """A batch of arrows of one customer, each with its number, mass, spine and what flexing it showed.

    The newest of a name counts.
    """

    name = models.CharField(max_length=80)
    arrows = models.JSONField(help_text="number, mass_gr, spine, carbon of each")

    class Meta(AppendOnly.Meta):
        pass
