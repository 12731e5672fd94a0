"""Members of the shop and the shop itself."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator
from django.db import models

from bowcore.errors import BowcoreError
from bowcore.mechanics.kits import read_sizes
from bowcore.quantities.units import LengthUnit
from bowcore.workflow.press_plan import PressKind
from bowcore.workflow.replacement import ReplacementPolicy
from bowcore.workflow.roles import StaffRole

MOST_DRAWS = 500
"""Nobody draws a bow in more often than this."""


def spacer_sizes(text: str) -> None:
    """Refuses what is not a list of spacer sizes."""
    try:
        read_sizes(text)
    except BowcoreError as error:
        raise ValidationError(str(error)) from None


class Member(AbstractUser):
    """Someone who works here."""

    role = models.CharField(
        max_length=20,
        choices=[(r.value, r.value) for r in StaffRole],
        default=StaffRole.TECHNICIAN.value,
    )
    theme = models.CharField(
        max_length=10, choices=[("light", "daylight"), ("dark", "dim shop")], default="light"
    )

    @property
    def staff_role(self) -> StaffRole:
        return StaffRole(self.role)

    def __str__(self) -> str:
        return self.get_full_name() or self.username


class Shop(models.Model):
    """The shop's own choices; there is one row."""

    name = models.CharField(max_length=80, default="The shop")
    second_eyes = models.BooleanField("gates of an apprentice need a second person", default=True)
    half_twists = models.BooleanField("half twists are allowed", default=True)
    press = models.CharField(
        "the press", max_length=20, choices=[(p.value, p.value) for p in PressKind],
        default=PressKind.LIMB_TIP.value,
    )  # fmt: skip
    back_off = models.BooleanField("back the limb bolts off in every press", default=False)
    replacement = models.CharField(
        "a set is replaced", max_length=40, choices=[(r.value, r.value) for r in ReplacementPolicy],
        default=ReplacementPolicy.ONE_BY_ONE.value,
    )  # fmt: skip
    draw_in = models.PositiveSmallIntegerField(
        "new threads are drawn in before the readings, times",
        default=60,
        validators=[MaxValueValidator(MOST_DRAWS)],
    )
    lengths = models.CharField(
        "lengths are said and typed in", max_length=12, choices=[(u.value, u.value) for u in LengthUnit],
        default=LengthUnit.INCHES.value,
    )  # fmt: skip
    takes = models.JSONField(default=dict, help_text="how often a quantity is read, by its key")
    spacer_sizes = models.CharField(
        "cable spacers in the drawer, in",
        max_length=100,
        blank=True,
        validators=[spacer_sizes],
    )
    shorten_only = models.BooleanField("only ever twist in", default=False)
    keep_length = models.BooleanField("keep axle to axle: one in, one out", default=False)
    leave_buss = models.BooleanField("leave the bottom cam's cable alone", default=False)
    top_first = models.BooleanField("on hybrids the top stop touches a little first", default=False)
    top_open = models.BooleanField("if one stop is open, rather the top", default=False)
    gap_as_was = models.BooleanField("the stop gap is put back as it came in", default=False)
    trial_first = models.BooleanField(
        "one trial step first on a bow that has not answered", default=False
    )
    upright = models.BooleanField("cams upright at full draw", default=False)

    def __str__(self) -> str:
        return self.name

    @property
    def length_unit(self) -> LengthUnit:
        return LengthUnit(self.lengths)

    @classmethod
    def current(cls) -> "Shop":
        """The shop, asked for once in a request."""
        return _OF_THE_REQUEST.get() or cls.objects.first() or cls()

    @contextmanager
    def during(self) -> Iterator[None]:
        """It is the current one as long as the block runs."""
        token = _OF_THE_REQUEST.set(self)
        try:
            yield
        finally:
            _OF_THE_REQUEST.reset(token)


_OF_THE_REQUEST: ContextVar[Shop | None] = ContextVar("shop", default=None)
