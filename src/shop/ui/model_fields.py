"""Model fields for measured values: exact decimals, in the units of the bench."""

from typing import Any

from django.db import models


def inches_field(**options: Any) -> "models.DecimalField[Any, Any]":
    """A length as an exact decimal of an inch (1/64 in is 0.015625)."""
    return models.DecimalField(max_digits=10, decimal_places=6, **options)


def pounds_field(**options: Any) -> "models.DecimalField[Any, Any]":
    """A force or weight in pounds."""
    return models.DecimalField(max_digits=6, decimal_places=2, **options)
