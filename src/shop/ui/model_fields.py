"""Model fields for measured values: exact decimals, in the units of the bench."""

from typing import Any

from django.db import models

from bowcore.bow.lay import LIKE, Lay


def inches_field(**options: Any) -> "models.DecimalField[Any, Any]":
    """A length as an exact decimal of an inch (1/64 in is 0.015625)."""
    return models.DecimalField(max_digits=10, decimal_places=6, **options)


def pounds_field(**options: Any) -> "models.DecimalField[Any, Any]":
    """A force or weight in pounds."""
    return models.DecimalField(max_digits=6, decimal_places=2, **options)


def lay_field() -> "models.CharField[Any, Any]":
    """How the threads of a string or cable run; empty where nobody has looked."""
    return models.CharField(max_length=1, blank=True, choices=[(x.value, LIKE[x]) for x in Lay])
