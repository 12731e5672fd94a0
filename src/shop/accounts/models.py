"""Members of the shop and the shop itself."""

from collections.abc import Mapping

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.db import models

from bowcore.errors import BowcoreError
from bowcore.mechanics.kits import read_sizes
from bowcore.planning.problem import School
from bowcore.service.order import ReplaceSchool
from bowcore.service.press_plan import Press
from bowcore.service.roles import Role


def spacer_sizes(text: str) -> None:
    """Refuses what is no list of spacer sizes."""
    try:
        read_sizes(text)
    except BowcoreError as error:
        raise ValidationError(str(error)) from None


class Member(AbstractUser):
    """Someone who works here."""

    role = models.CharField(
        max_length=20, choices=[(r.value, r.value) for r in Role], default=Role.TECHNICIAN.value
    )
    theme = models.CharField(
        max_length=10, choices=[("light", "daylight"), ("dark", "dim shop")], default="light"
    )

    @property
    def standing(self) -> Role:
        return Role(self.role)

    def __str__(self) -> str:
        return self.get_full_name() or self.username


class Shop(models.Model):
    """The shop's own choices; there is one row."""

    name = models.CharField(max_length=80, default="The shop")
    second_eyes = models.BooleanField("gates of an apprentice need a second person", default=True)
    half_twists = models.BooleanField("half twists are allowed", default=True)
    press = models.CharField(
        "the press", max_length=20, choices=[(p.value, p.value) for p in Press],
        default=Press.LIMB_TIP.value,
    )  # fmt: skip
    back_off = models.BooleanField("back the limb bolts off for the press", default=True)
    replace_school = models.CharField(
        "a set is replaced", max_length=40, choices=[(r.value, r.value) for r in ReplaceSchool],
        default=ReplaceSchool.ONE_BY_ONE.value,
    )  # fmt: skip
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
    upright = models.BooleanField("cams stand upright at full draw", default=False)

    def __str__(self) -> str:
        return self.name

    @classmethod
    def current(cls) -> "Shop":
        return cls.objects.first() or cls()


SCHOOL = ("half_twists", "shorten_only", "keep_length", "leave_buss", "top_first", "upright")
"""What good technicians differ in; a job may differ from the shop."""
TOP_FIRST_IN = 1 / 16
"""How much the top stop leads where the book does not say (common practice)."""


def school_of(chosen: Mapping[str, bool], book_top_first_in: float = 0.0) -> School:
    """The planner's school from what was ticked; how much the top stop leads is the book's, if told."""
    leave = ("cable_b",) if chosen["leave_buss"] else ()
    leads = (book_top_first_in or TOP_FIRST_IN) if chosen["top_first"] else 0.0
    return School(
        chosen["half_twists"], chosen["shorten_only"], chosen["keep_length"], leave, leads,
        chosen["upright"],
    )  # fmt: skip
