"""Members of the shop and the shop itself."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import cached_property

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator
from django.db import models

from bowcore.bow.kits import read_sizes
from bowcore.errors import BowcoreError, Refused
from bowcore.evidence.shooting_policy import (
    LAST_TESTS,
    PAPER_POLICIES,
    SIDE_FIRST,
    UP_FIRST,
    PaperPolicy,
    ShootingPolicy,
    SideFirst,
    UpFirst,
)
from bowcore.evidence.shots import ShotTest
from bowcore.evidence.tears import TearWords
from bowcore.quantities.units import LengthUnit
from bowcore.stages.replace.press_plan import PressKind
from bowcore.work_order.replacement import ReplacementPolicy
from bowcore.work_order.roles import StaffRole
from shop.schema.accounts.sessions import LoginSession  # noqa: F401  one of its tables
from shop.schema.tenancy.here import OfThisShop, working_for

MOST_DRAWS = 500
"""Nobody draws a bow in more often than this."""


def spacer_sizes(text: str) -> None:
    """Refuses what is not a list of spacer sizes."""
    try:
        read_sizes(text)
    except BowcoreError as error:
        raise ValidationError(str(error)) from None


class Member(AbstractUser):
    """Someone who works in one shop or in several, in each with a role; or whom a record named that was
    read in, who is nobody here, even with a known name."""

    theme = models.CharField(
        max_length=10, choices=[("light", "daylight"), ("dark", "dim shop")], default="light"
    )
    password_made = models.BooleanField(
        default=False, help_text="Fennock made the password; it is changed at the next login"
    )
    from_file = models.CharField(
        max_length=150, blank=True, help_text="the login name in the record that named this person"
    )
    home = models.ForeignKey(
        "Shop", models.PROTECT, null=True, related_name="+",
        help_text="the shop whose manager gives a new password and stops the code at login",
    )  # fmt: skip

    @classmethod
    def of_this_shop(cls) -> models.QuerySet["Member"]:
        """Whoever works, or has worked, in the shop that is being worked for."""
        return cls.objects.filter(memberships__shop=Shop.current()).order_by("first_name")

    @classmethod
    def working_here(cls) -> models.QuerySet["Member"]:
        """Whoever works there now."""
        here = {"memberships__shop": Shop.current(), "memberships__active": True}
        return cls.objects.filter(is_active=True, **here).order_by("first_name")

    @property
    def staff_role(self) -> StaffRole:
        """The role in the shop that is being worked for.

        Raises
        ------
        Refused
            The person does not work there.
        """
        here = Shop.current().pk
        for held in self.works_in:
            if held.shop_id == here:
                return StaffRole(held.role)
        raise Refused(f"{self} does not work in this shop.")

    @cached_property
    def _held(self) -> list["Membership"]:
        """Where somebody works or is asked to, the first one first; looked up once."""
        held = self.memberships.filter(models.Q(active=True) | models.Q(asked=True))
        return list(held.select_related("shop").order_by("pk"))

    @property
    def works_in(self) -> list["Membership"]:
        """The shops where somebody works now."""
        return [held for held in self._held if held.active]

    @property
    def asked_in(self) -> list["Membership"]:
        """The shops that ask whether somebody works there too, and wait for an answer."""
        return [held for held in self._held if held.asked]

    def __str__(self) -> str:
        name = self.get_full_name() or self.username
        return f"{name} (from the file)" if self.from_file else name


class Shop(models.Model):
    """A shop and its own choices."""

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
    tears = models.CharField(
        "a tear is named by the arrow's", max_length=8, choices=[(w.value, w.value) for w in TearWords],
        default=TearWords.NOCK.value,
    )  # fmt: skip
    paper = models.CharField(
        "a bow is shot through paper", max_length=12, default=PaperPolicy.ALWAYS.value,
        choices=[(one.value, words) for one, words in PAPER_POLICIES.items()],
    )  # fmt: skip
    last_test = models.CharField(
        "then at the butt", max_length=20, blank=True,
        choices=[("", "nothing more"), *((one.value, words) for one, words in LAST_TESTS.items())],
    )  # fmt: skip
    up_first = models.CharField(
        "behind a high or a low tear look first at", max_length=12, blank=True,
        choices=[(one.value, words) for one, words in UP_FIRST.items()],
    )  # fmt: skip
    side_first = models.CharField(
        "behind a tear to one side look first at", max_length=12, blank=True,
        choices=[(one.value, words) for one, words in SIDE_FIRST.items()],
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
    keeps_book = models.BooleanField(
        default=False, help_text="its book is the chain's: every shop sees it, this one changes it"
    )
    share_models = models.BooleanField(
        "what bows of a model have shown is shared with the other shops", default=True
    )

    def __str__(self) -> str:
        return self.name

    @property
    def tear_words(self) -> TearWords:
        return TearWords(self.tears)

    @property
    def shooting_policy(self) -> ShootingPolicy:
        """How bows are shot in here."""
        return ShootingPolicy(
            PaperPolicy(self.paper or PaperPolicy.ALWAYS),
            ShotTest(self.last_test) if self.last_test else None,
            UpFirst(self.up_first),
            SideFirst(self.side_first),
        )

    @property
    def length_unit(self) -> LengthUnit:
        return LengthUnit(self.lengths)

    @classmethod
    def current(cls) -> "Shop":
        """The shop that is being worked for; outside of a request the first one."""
        return _OF_THE_REQUEST.get() or cls.objects.order_by("pk").first() or cls()

    @contextmanager
    def during(self) -> Iterator[None]:
        """It is the current one as long as the block runs."""
        token = _OF_THE_REQUEST.set(self)
        try:
            with working_for(self.pk):
                yield
        finally:
            _OF_THE_REQUEST.reset(token)


_OF_THE_REQUEST: ContextVar[Shop | None] = ContextVar("shop", default=None)


def shop_here() -> int:
    """The id of the shop that a new row belongs to.

    Raises
    ------
    Refused
        No shop has been opened.
    """
    shop = Shop.current()
    if shop.pk is None:
        raise Refused("No shop has been opened yet.")
    return shop.pk


class Membership(models.Model):
    """That somebody works in a shop, and in which role."""

    member = models.ForeignKey(Member, models.CASCADE, related_name="memberships")
    shop = models.ForeignKey(Shop, models.PROTECT, related_name="memberships")
    role = models.CharField(
        max_length=20,
        choices=[(r.value, r.value) for r in StaffRole],
        default=StaffRole.TECHNICIAN.value,
    )
    active = models.BooleanField(default=True)
    asked = models.BooleanField(
        default=False, help_text="asked to work there too, and has not answered"
    )

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["member", "shop"], name="one_membership_a_shop")
        ]

    def __str__(self) -> str:
        return f"{self.member}, {self.role} of {self.shop}"


class OwnedByShop(models.Model):
    """A row that one shop has."""

    shop = models.ForeignKey(Shop, models.PROTECT, related_name="+", default=shop_here)

    SHOP_PATH = "shop"
    objects = OfThisShop()

    class Meta:
        abstract = True
