"""Bows and their parts."""

from django.db import models

from bowcore.stages.string_set.arrival import LengthKnown
from bowcore.work_order.replacement import OldPart
from shop.schema.accounts.models import OwnedByShop
from shop.schema.book.models import BookEntry
from shop.schema.customers.models import Customer
from shop.schema.tenancy.here import OfThisShop
from shop.ui.model_fields import inches_field, lay_field, pounds_field


class Bow(OwnedByShop):
    """One customer's bow. Marked numbers are what the sticker says, never readings."""

    HANDS = [("right", "right hand"), ("left", "left hand")]

    customer = models.ForeignKey(Customer, models.PROTECT, related_name="bows")
    entry = models.ForeignKey(BookEntry, models.PROTECT, related_name="bows")
    hand = models.CharField(max_length=5, choices=HANDS)
    marked_weight_lbf = pounds_field()
    marked_draw_in = inches_field()
    fitted = models.JSONField(default=list)
    tag = models.CharField(max_length=40, blank=True, help_text="serial number, colour, club mark")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.entry} {self.tag}".strip()


class Part(models.Model):
    """A string or cable that is, or was, on a bow."""

    FITTED, HERE, BACK = "fitted", "here", "sent back"
    OFF, SPARE, SCRAP = (one.value for one in OldPart)

    bow = models.ForeignKey(Bow, models.PROTECT, related_name="parts")
    role = models.CharField(max_length=20)
    label = models.CharField(max_length=40)
    ends = models.CharField(max_length=80)
    length_in = inches_field()
    strands = models.PositiveSmallIntegerField()
    state = models.CharField(max_length=10, default=FITTED)
    note = models.CharField(max_length=120, blank=True)
    lay = lay_field()
    length_known = models.CharField(
        max_length=20,
        choices=[(x.value, x.value) for x in LengthKnown],
        default=LengthKnown.MEASURED.value,
    )

    SHOP_PATH = "bow__shop"
    objects = OfThisShop()

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["state"], name="parts_by_state")]

    def __str__(self) -> str:
        return self.label
