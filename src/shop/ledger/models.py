"""Press cycles and adjustments: the signed log that lets any step be taken back."""

from django.conf import settings
from django.db import models

from bowcore.planning.words import say_adjuster, say_steps
from bowcore.service.other_changes import other_change
from shop.book.models import inches
from shop.bows.models import Part
from shop.records.models import AppendOnly


class PressCycle(AppendOnly):
    """The press was opened. `planned` lists [role, half twists] where a plan said what to do."""

    PURPOSES = [
        ("replace", "replace a part"),
        ("adjust", "planned change"),
        ("other", "other change"),
    ]

    purpose = models.CharField(max_length=10, choices=PURPOSES)
    planned = models.JSONField(default=list)
    said = models.CharField(max_length=300)
    bolts_out = models.JSONField(default=list, help_text="turns backed off, top and bottom")

    class Meta(AppendOnly.Meta):
        pass


class LetDown(AppendOnly):
    """The press was let down, every gate point confirmed; `second` looked too where needed."""

    press = models.OneToOneField(PressCycle, models.PROTECT, related_name="let_down")
    points = models.JSONField()
    second = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+"
    )

    class Meta(AppendOnly.Meta):
        pass


class Adjustment(AppendOnly):
    """One ledger entry: steps of an adjuster (signed), or a part replaced.

    `role` is the adjuster's key; `half_twists` counts its steps: half twists of a string, cable or
    yoke leg, half turns out of limb bolts, a kit's small steps of spacers and shims.
    """

    press = models.ForeignKey(PressCycle, models.PROTECT, null=True, related_name="adjustments")
    change = models.CharField(max_length=30)
    role = models.CharField(max_length=20)
    half_twists = models.SmallIntegerField(default=0)
    part = models.ForeignKey(Part, models.PROTECT, null=True, related_name="+")
    note = models.CharField(max_length=200, blank=True)

    class Meta(AppendOnly.Meta):
        pass

    @property
    def said(self) -> str:
        """The entry in words, with the part's name in this job's book."""
        if not self.half_twists:
            return f"{other_change(self.change).name}: {self.note}"
        if self.note and self.change in ("shim", "spacer"):
            return f"{self._of}: {self.note}"
        return f"{self._of}: {say_steps(self.role, self.half_twists)}"

    @property
    def _of(self) -> str:
        """The adjuster's name, with the part's own in this job's book."""
        labels = {part["role"]: part["label"] for part in self.job.spec["parts"]}
        return say_adjuster(self.role, labels)

    @property
    def replaced(self) -> bool:
        return self.part_id is not None


class PartCheck(AppendOnly):
    """What the first let-down with a new part said of its length: the tug test, or why not."""

    part = models.ForeignKey(Part, models.PROTECT, related_name="checks")
    role = models.CharField(max_length=20)
    tug = models.CharField(max_length=10, blank=True)
    off_mark_in = inches(null=True)
    half_twists = models.SmallIntegerField(default=0)
    wrong_part = models.BooleanField(default=False)
    said = models.CharField(max_length=200)

    class Meta(AppendOnly.Meta):
        pass
