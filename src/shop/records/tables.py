"""Which tables a record has, in an order in which each row comes after those that it points to; and how a
value is written and read.

A row has no number of its own: it is the nth of its table. A row that points to another says which one of
which table it is; a person is a login name. Shops are left out: a record belongs to the one that reads it.
"""

import base64
import binascii
import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.apps import apps
from django.core.exceptions import ValidationError
from django.db import models

from bowcore.errors import BadInput
from shop.schema.accounts.models import Member, Shop
from shop.schema.audit.models import AppendOnly, Event
from shop.schema.book.models import BookEntry, BookPart, EntryVersion
from shop.schema.bows.models import Bow, Part
from shop.schema.customers.models import Customer
from shop.schema.jobs.models import Hold, Job
from shop.schema.measurements.models import Sheet
from shop.schema.string_sets.models import Component, StringSet

RECORD_FORMAT = "fennock-record/1"

_TO_ITS_BOW: dict[type[models.Model], str] = {
    Customer: "bows", BookEntry: "bows", BookPart: "entry__bows", EntryVersion: "entry__bows", Bow: "pk",
    Part: "bow", Job: "bow", Hold: "job__bow", Event: "job__bow", Sheet: "job__bow", StringSet: "job__bow",
    Component: "set__job__bow",
}  # fmt: skip
"""How a row leads to the bow whose record it is in."""


@dataclass(frozen=True)
class Table:
    """One table of a record."""

    model: type[models.Model]

    @property
    def name(self) -> str:
        return self.model._meta.label_lower

    @cached_property
    def fields(self) -> tuple[Any, ...]:
        """What is written of a row: all but its number, its shop, and whether the book there lists it."""
        return tuple(
            f for f in self.model._meta.concrete_fields
            if not f.primary_key and f.related_model is not Shop and f.name != "listed"
        )  # fmt: skip

    @property
    def points_to(self) -> set[type[models.Model]]:
        """Other tables whose rows these rows name."""
        links = {f.related_model for f in self.fields if f.related_model is not None}
        if issubclass(self.model, AppendOnly):
            links.add(Event)
        return links - {Member, self.model}

    @property
    def _to_its_bow(self) -> str:
        return _TO_ITS_BOW.get(self.model, "job__bow")

    def of_bow(self, bow_id: int) -> models.QuerySet[Any]:
        """Its rows in the record of one bow, the oldest first."""
        return self._rows(self._to_its_bow, bow_id)

    def of_shop(self, shop_id: int) -> models.QuerySet[Any]:
        """Its rows in the record of a shop; of the book, the models of its bows."""
        own = self.model in (Customer, Bow)
        return self._rows("shop" if own else f"{self._to_its_bow}__shop", shop_id)

    def _rows(self, path: str, value: int) -> models.QuerySet[Any]:
        every = self.model._base_manager  # a bow's model may be in another shop's book
        return every.filter(pk__in=every.filter(**{path: value}).values("pk")).order_by("pk")


def tables() -> tuple[Table, ...]:
    """Every table of a record, each after those that its rows point to."""
    facts = [m for m in apps.get_models() if issubclass(m, AppendOnly) and m not in _TO_ITS_BOW]
    left = [Table(model) for model in (*_TO_ITS_BOW, *facts)]
    known = {table.model for table in left}
    ordered: list[Table] = []
    while left:
        done = {table.model for table in ordered}
        ready = next(t for t in left if not (t.points_to & known) - done)
        ordered.append(ready)
        left.remove(ready)
    return tuple(ordered)


def as_json(field: Any, value: Any) -> Any:
    """A value of a column as JSON has it."""
    if value is None or isinstance(field, models.JSONField):
        return value
    if isinstance(field, models.BinaryField):
        return base64.b64encode(bytes(value)).decode()
    if isinstance(field, models.DateField):
        return value.isoformat()
    if isinstance(field, (models.DecimalField, models.UUIDField)):
        return str(value)
    return value


def taken_from(field: Any, value: Any, where: str) -> Any:
    """A value of JSON as its column takes it.

    Raises
    ------
    BadInput
        The column does not take it; the message says in which row.
    """
    if value is None:
        if field.null:
            return None
        raise BadInput(f"{where} is empty.", where)
    try:
        if isinstance(field, models.BinaryField):
            return base64.b64decode(str(value), validate=True)
        taken = field.to_python(value)
        field.run_validators(taken)
    except (ValidationError, TypeError, ValueError, OverflowError, binascii.Error):
        raise BadInput(f"{where} cannot be “{str(value)[:40]}”.", where) from None
    choices = {key for key, _ in field.flatchoices}
    odd = isinstance(taken, float) and not math.isfinite(taken)
    if odd or (choices and taken not in choices and taken != ""):
        raise BadInput(f"{where} cannot be “{str(value)[:40]}”.", where)
    return taken


def record_form() -> dict[str, Any]:
    """The JSON schema of a record."""
    rows = {
        table.name: {"type": "array", "items": {"$ref": f"#/$defs/{table.name}"}}
        for table in tables()
    }
    person = {"username": {"type": "string"}, "name": {"type": "string"}}
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "The record of a bow or of a shop",
        **_object(
            {
                "format": {"const": RECORD_FORMAT},
                "of": {"enum": ["bow", "shop"]},
                "tables": _object(rows),
                "people": {"type": "array", "items": _object(person)},
            }
        ),
        "$defs": {table.name: _object(dict(_columns(table))) for table in tables()},
    }


def _object(properties: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "object", "properties": properties, "required": list(properties),
        "additionalProperties": False,
    }  # fmt: skip


def _columns(table: Table) -> Iterator[tuple[str, dict[str, Any]]]:
    for field in table.fields:
        kind = _kind(field)
        yield field.name, {"anyOf": [kind, {"type": "null"}]} if field.null and kind else kind


def _kind(field: Any) -> dict[str, Any]:
    if field.related_model is Member:
        return {"type": "string", "description": "a login name"}
    if field.related_model is not None:
        other = field.related_model._meta.label_lower
        return {"type": "integer", "minimum": 1, "description": f"which row of {other}"}
    if isinstance(field, models.JSONField):
        return {}
    if isinstance(field, models.BooleanField):
        return {"type": "boolean"}
    if isinstance(field, models.IntegerField):
        return {"type": "integer"}
    if isinstance(field, models.FloatField):
        return {"type": "number"}
    if isinstance(field, models.DateTimeField):
        return {"type": "string", "format": "date-time"}
    if isinstance(field, models.DateField):
        return {"type": "string", "format": "date"}
    if isinstance(field, models.UUIDField):
        return {"type": "string", "format": "uuid"}
    if isinstance(field, models.BinaryField):
        return {"type": "string", "contentEncoding": "base64"}
    return {"type": "string"}
