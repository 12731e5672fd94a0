"""Press cycles and adjustments: the signed log that lets any step be taken back."""

from django.conf import settings
from django.db import models

from bowcore.adjusters.steps import Steps
from shop.schema.audit.models import AppendOnly
from shop.schema.bows.models import Part
from shop.ui.model_fields import inches_field


class PressCycle(AppendOnly):
    """The press was opened: to replace `parts` (roles), or for planned `steps` by adjuster."""

    REPLACE, HOME, ADJUST, OTHER = "replace", "home", "adjust", "other"
    PURPOSES = [
        (REPLACE, "replace a part"),
        (HOME, "bring a new part home"),
        (ADJUST, "planned change"),
        (OTHER, "other change"),
    ]

    purpose = models.CharField(max_length=10, choices=PURPOSES)
    parts = models.JSONField(default=list)
    steps = models.JSONField(default=dict)
    summary = models.CharField(max_length=300)
    bolts_out = models.JSONField(default=list, help_text="turns backed off, top and bottom")

    class Meta(AppendOnly.Meta):
        pass

    @property
    def planned(self) -> Steps:
        """What was planned."""
        return Steps(self.steps)


class LetDown(AppendOnly):
    """The press was let down, every gate point confirmed; `second` looked too where needed."""

    press = models.OneToOneField(PressCycle, models.PROTECT, related_name="let_down")
    points = models.JSONField()
    second = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+"
    )

    class Meta(AppendOnly.Meta):
        pass


class SmallPart(AppendOnly):
    """Something of this bow that is out of it while the press is open; the gate asks for it."""

    press = models.ForeignKey(PressCycle, models.PROTECT, related_name="tray")
    name = models.CharField(max_length=60)

    class Meta(AppendOnly.Meta):
        pass


class Adjustment(AppendOnly):
    """One ledger entry: steps of an adjuster (signed), a part replaced, or another change.

    `steps` counts what the adjuster counts: half twists, half turns, a kit's small steps. `role` is
    the role of the string or cable that the adjuster belongs to. An entry that `corrects` another one
    holds the steps by which that was written down wrongly; none if it was looked at and is right. One
    that corrects a new part says that the part never went on.
    """

    press = models.ForeignKey(PressCycle, models.PROTECT, null=True, related_name="adjustments")
    change = models.CharField(max_length=30)
    adjuster = models.CharField(max_length=20, blank=True)
    role = models.CharField(max_length=20, blank=True)
    steps = models.SmallIntegerField(default=0)
    part = models.ForeignKey(Part, models.PROTECT, null=True, related_name="+")
    note = models.CharField(max_length=200, blank=True)
    corrects = models.ForeignKey("self", models.PROTECT, null=True, related_name="corrections")

    class Meta(AppendOnly.Meta):
        pass

    @property
    def moment(self) -> int:
        """Its place in the order of the job's facts: a correction is about what it corrects."""
        return self.corrects.moment if self.corrects is not None else self.seq

    @property
    def takes_part_off(self) -> bool:
        """It says that a part that was logged never went on."""
        return self.corrects is not None and self.corrects.replaced

    @property
    def replaced(self) -> bool:
        return self.part_id is not None


class PartCheck(AppendOnly):
    """What the first let-down with a new part showed of its length: the tug test, or why not."""

    part = models.ForeignKey(Part, models.PROTECT, related_name="checks")
    role = models.CharField(max_length=20)
    tug = models.CharField(max_length=10, blank=True)
    off_mark_in = inches_field(null=True)
    steps = models.SmallIntegerField(default=0)
    wrong_part = models.BooleanField(default=False)
    summary = models.CharField(max_length=200)

    class Meta(AppendOnly.Meta):
        pass
