"""Book entries: what a maker publishes of a model, and what was measured on it here.

A chain has one book, kept by one of its shops. Another shop's own entry stands before the chain's for it.
"""

from decimal import Decimal

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import Q

from bowcore.bow.specification import Family
from bowcore.stages.replace.press_plan import LimbKind
from shop.schema.accounts.models import Shop, shop_here
from shop.schema.tenancy.here import shop_worked_for
from shop.ui.model_fields import inches_field, pounds_field


class InTheBook(models.Manager["BookEntry"]):
    """Entries that the shop which is being worked for sees: its own, and the chain's."""

    def get_queryset(self) -> models.QuerySet["BookEntry"]:
        rows, here = super().get_queryset(), shop_worked_for()
        if here is None:
            return rows
        return rows.filter(Q(shop=here) | Q(shop__keeps_book=True, listed=True))


class BookEntry(models.Model):
    """One bow model."""

    shop = models.ForeignKey(Shop, models.PROTECT, related_name="+", default=shop_here)
    listed = models.BooleanField(
        null=True, default=True, help_text="empty: of the bows alone that it was written for"
    )
    maker = models.CharField(max_length=40)
    model = models.CharField(max_length=40)
    family = models.CharField(max_length=10, choices=[(f.value, f.value) for f in Family])
    axle_to_axle_in = inches_field()
    brace_height_in = inches_field()
    draw_from_in = inches_field()
    draw_to_in = inches_field()
    weight_from_lbf = pounds_field()
    weight_to_lbf = pounds_field()
    let_off = models.DecimalField(
        max_digits=4, decimal_places=3, validators=[MinValueValidator(0.3), MaxValueValidator(0.95)]
    )
    peg_radius_in = inches_field(null=True, blank=True)
    take_up_radius_in = inches_field(null=True, blank=True)
    let_out_radius_in = inches_field(null=True, blank=True)
    bolt_turns_max = models.DecimalField(max_digits=4, decimal_places=1, default=6)
    limbs = models.CharField(
        max_length=20,
        choices=[(x.value, x.value) for x in LimbKind],
        default=LimbKind.ORDINARY.value,
    )
    two_stage = models.BooleanField(
        default=False, help_text="the maker allows a portable press in two stages"
    )
    back_off = models.BooleanField(
        default=False, help_text="the maker wants the limb bolts backed off in any press"
    )
    stop_on = models.CharField(
        max_length=10, choices=[("cable", "cable"), ("limb", "limb")], default="cable"
    )
    lean_by = models.CharField(
        max_length=10, choices=[("yoke", "yoke"), ("shims", "shims"), ("none", "none")],
        default="none",
    )  # fmt: skip
    guard = models.CharField(
        max_length=10, choices=[("guard", "bar or roller"), ("none", "no guard")], default="guard"
    )
    rest_hole = models.CharField(
        max_length=10, choices=[("centre", "centre"), ("edge", "lower edge")], default="centre"
    )
    centre_shot_in = inches_field(null=True, blank=True)
    shim_kits = models.TextField(
        blank=True, help_text="a kit a line, thinnest first: name, then left/right pairs"
    )
    modules = models.CharField(
        max_length=200, blank=True, help_text="module or hole and its draw length, A 26, B 26 1/2"
    )
    top_first_in = inches_field(default=0)
    ata_tolerance_in = inches_field(default=Decimal("0.125"))
    brace_tolerance_in = inches_field(default=Decimal("0.125"))
    weight_tolerance_lbf = pounds_field(default=Decimal("2"))
    evidence = models.CharField(
        max_length=10, choices=[("sheet", "maker's sheet"), ("here", "measured here"), ("guess", "guessed")],
        default="sheet",
    )  # fmt: skip
    note = models.TextField(blank=True)
    version = models.PositiveIntegerField(default=1)

    objects = InTheBook()

    class Meta:
        ordering = ["maker", "model"]
        verbose_name_plural = "book entries"
        constraints = [
            models.UniqueConstraint(
                fields=["maker", "model", "shop", "listed"], name="one_listed_entry_a_model"
            )
        ]

    def __str__(self) -> str:
        return f"{self.maker} {self.model}"

    @property
    def guessed(self) -> bool:
        """Only family, axle to axle and brace height are known; the rest is what is usual."""
        return self.evidence == "guess"


class BookPart(models.Model):
    """A string or cable of a model, identified by its two ends."""

    entry = models.ForeignKey(BookEntry, models.CASCADE, related_name="parts")
    role = models.CharField(max_length=20)
    label = models.CharField(max_length=40)
    ends = models.CharField(max_length=80)
    length_in = inches_field()
    strands = models.PositiveSmallIntegerField()
    twists_per_in = models.DecimalField(max_digits=4, decimal_places=2)
    served_top_in = inches_field(default=0)
    served_bottom_in = inches_field(default=0)
    axle_out = models.BooleanField(
        default=False, help_text="an axle has to come out before it can be changed"
    )

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["entry", "role"], name="one_part_a_role")]

    def __str__(self) -> str:
        return self.label


class EntryVersion(models.Model):
    """A book entry as it was: written with every change, never changed."""

    entry = models.ForeignKey(BookEntry, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    data = models.JSONField()
    why = models.CharField(max_length=200)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["entry", "number"], name="one_row_a_version")
        ]

    def __str__(self) -> str:
        return f"{self.entry}, version {self.number}"
