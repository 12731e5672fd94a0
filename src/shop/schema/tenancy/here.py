"""The one place that keeps shops apart: a manager that leaves out the rows of other shops.

In a request the shop is the one in which the person works (accounts.middleware). Where no shop is set no
rows are seen: commands and background tasks say `every_shop` where they mean all of them.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

from django.db import models

NOWHERE = 0
"""No shop has this id."""
_HERE: ContextVar[int | None] = ContextVar("shop_id", default=NOWHERE)
M = TypeVar("M", bound=models.Model)


def shop_worked_for() -> int | None:
    """The shop's id; `NOWHERE` where none is set, None for every shop."""
    return _HERE.get()


@contextmanager
def working_for(shop_id: int) -> Iterator[None]:
    """As long as the block runs only this shop's rows are seen."""
    token = _HERE.set(shop_id)
    try:
        yield
    finally:
        _HERE.reset(token)


@contextmanager
def every_shop() -> Iterator[None]:
    """As long as the block runs the rows of all shops are seen."""
    token = _HERE.set(None)
    try:
        yield
    finally:
        _HERE.reset(token)


class OfThisShop(models.Manager[M]):
    """Only rows of the shop that is being worked for; the model's `SHOP_PATH` leads from a row to its shop.

    The filter is put in when the query is begun. A query that is kept for later, as in the fields of a
    form, has to begin where it is used.
    """

    def get_queryset(self) -> models.QuerySet[M]:
        rows = super().get_queryset()
        here = shop_worked_for()
        if here is None:
            return rows
        path: str = self.model.SHOP_PATH  # type: ignore[attr-defined]
        return rows.filter(**{path: here})
