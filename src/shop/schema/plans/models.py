"""Advice as given: inputs, answer and the core's version, so that it can be reproduced."""

from django.db import models

from shop.schema.audit.models import AppendOnly
from shop.schema.press.models import PressCycle


class GivenAdvice(AppendOnly):
    """A plan that was acted on, or passed over for another change."""

    press = models.OneToOneField(PressCycle, models.PROTECT, null=True, related_name="advice")
    core_version = models.CharField(max_length=20)
    inputs = models.JSONField()
    answer = models.JSONField()
    taken = models.CharField(max_length=300)

    class Meta(AppendOnly.Meta):
        verbose_name_plural = "advice"
