"""Findings and photographs of an inspection."""

from django.db import models

from bowcore.stages.inspection.places import OUTCOMES, PLACES
from shop.schema.audit.models import AppendOnly

AS_IT_CAME, ON_PAPER, ON_BUTT = "check_in", "paper", "butt"
"""What a photograph may be about besides places and marks."""


class Finding(AppendOnly):
    """What was seen at one place of the bow. The newest one of a place counts."""

    place = models.CharField(max_length=20, choices=[(p.key, p.name) for p in PLACES])
    outcome = models.CharField(max_length=10, choices=list(OUTCOMES.items()))
    note = models.CharField(max_length=200, blank=True)
    parts = models.JSONField(default=list, help_text="roles of the strings and cables it is about")

    class Meta(AppendOnly.Meta):
        pass


class Photo(AppendOnly):
    """A photograph of a place or a routing, shrunk and without its metadata; kept with the facts.

    `about` is the key of an inspection place or of a mark, or one of those above.
    """

    about = models.CharField(max_length=20)
    jpeg = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    note = models.CharField(max_length=120, blank=True)

    class Meta(AppendOnly.Meta):
        pass
