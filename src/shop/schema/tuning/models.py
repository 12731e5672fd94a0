"""Shots, and suspects that somebody looked at: facts, never changed."""

from django.db import models

from bowcore.evidence.shots import ShaftKind, ShotTest
from bowcore.stages.shooting_in.suspects import SUSPECTS
from shop.schema.audit.models import AppendOnly


class FlatSheet(AppendOnly):
    """A photo of a sheet or a butt laid flat by four corners tapped in it, and what they enclose. [in]"""

    photo = models.ForeignKey("inspection.Photo", models.PROTECT, related_name="+")
    corners = models.JSONField(help_text="in the photo, pixels: the four corners, then the middle")
    wide_in = models.FloatField()
    high_in = models.FloatField()
    jpeg = models.BinaryField()

    class Meta(AppendOnly.Meta):
        pass


class ShotFired(AppendOnly):
    """One shot, seen from behind the bow: x to the right, y up [in]; on paper nock's hole less point's.

    A shot that was entered wrong is taken out by a row that `takes_out` it; both stay.
    """

    test = models.CharField(max_length=20, choices=[(x.value, x.value) for x in ShotTest])
    distance_yd = models.FloatField()
    x_in = models.FloatField()
    y_in = models.FloatField()
    kind = models.CharField(
        max_length=20,
        choices=[(x.value, x.value) for x in ShaftKind],
        default=ShaftKind.FLETCHED.value,
    )
    arrow = models.CharField(max_length=80, blank=True)
    shooter = models.CharField(max_length=80, blank=True)
    good = models.BooleanField(default=True)
    spine = models.FloatField(default=0.0, help_text="the arrow's class; 0 where nobody said")
    sheet = models.ForeignKey(
        FlatSheet, models.PROTECT, null=True, blank=True, related_name="shots",
        help_text="the photo on which its holes were tapped",
    )  # fmt: skip
    takes_out = models.OneToOneField(
        "self", models.PROTECT, null=True, blank=True, related_name="taken_out_by"
    )

    class Meta(AppendOnly.Meta):
        pass


class SuspectLookedAt(AppendOnly):
    """A suspect that was looked at and found, or was not; or that was mended."""

    suspect = models.CharField(max_length=20, choices=[(one.key, one.name) for one in SUSPECTS])
    found = models.BooleanField()
    mended = models.BooleanField(default=False)

    class Meta(AppendOnly.Meta):
        pass
