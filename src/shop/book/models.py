"""Book entries: what a maker publishes of a model, and what was measured on it here."""

from typing import Any

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from bowcore.mechanics.specification import Family


def inches(**options: Any) -> "models.DecimalField[Any, Any]":
    """A length as an exact decimal of an inch (1/64 in is 0.015625)."""
    return models.DecimalField(max_digits=10, decimal_places=6, **options)


def pounds(**options: Any) -> "models.DecimalField[Any, Any]":
    return models.DecimalField(max_digits=6, decimal_places=2, **options)


class BookEntry(models.Model):
    """One bow model."""

    maker = models.CharField(max_length=40)
    model = models.CharField(max_length=40)
    family = models.CharField(max_length=10, choices=[(f.value, f.value) for f in Family])
    guided = models.BooleanField(default=False, help_text="Fennock can plan for this bow")
    axle_to_axle_in = inches()
    brace_height_in = inches()
    draw_from_in = inches()
    draw_to_in = inches()
    weight_from_lbf = pounds()
    weight_to_lbf = pounds()
    let_off = models.DecimalField(
        max_digits=4, decimal_places=3, validators=[MinValueValidator(0.3), MaxValueValidator(0.95)]
    )
    peg_radius_in = inches(null=True, blank=True)
    take_up_radius_in = inches(null=True, blank=True)
    let_out_radius_in = inches(null=True, blank=True)
    bolt_turns_max = models.DecimalField(max_digits=4, decimal_places=1, default=6)
    note = models.TextField(blank=True)
    version = models.PositiveIntegerField(default=1)

    class Meta:
        ordering = ["maker", "model"]
        verbose_name_plural = "book entries"
        constraints = [models.UniqueConstraint(fields=["maker", "model"], name="one_entry_a_model")]

    def __str__(self) -> str:
        return f"{self.maker} {self.model}"


class BookPart(models.Model):
    """A string or cable of a model, told apart by its two ends."""

    entry = models.ForeignKey(BookEntry, models.CASCADE, related_name="parts")
    role = models.CharField(max_length=20)
    label = models.CharField(max_length=40)
    ends = models.CharField(max_length=80)
    length_in = inches()
    strands = models.PositiveSmallIntegerField()
    twists_per_in = models.DecimalField(max_digits=4, decimal_places=2)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["entry", "role"], name="one_part_a_role")]

    def __str__(self) -> str:
        return self.label
