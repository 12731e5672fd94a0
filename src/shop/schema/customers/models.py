"""Customers: the people whose bows these are."""

from django.db import models

from shop.schema.accounts.models import OwnedByShop


class Customer(OwnedByShop):
    """A person or club that brings bows."""

    name = models.CharField(max_length=80, db_index=True)
    phone = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name
