"""Keeps the index: what was saved is found at once."""

from typing import Any

from django.db import transaction
from django.db.models.signals import post_save

from shop.schema.book.models import BookEntry
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.search.grams import digits_of, grams_of_all, words_of
from shop.search.models import Gram


def words_to_find(row: Customer | BookEntry | Bow) -> tuple[str, list[str]]:
    """Of which kind a row is, and the words that it is found by."""
    if isinstance(row, Customer):
        return Gram.CUSTOMER, [*words_of(row.name), *filter(None, [digits_of(row.phone)])]
    if isinstance(row, BookEntry):
        return Gram.ENTRY, words_of(f"{row.maker} {row.model}")
    return Gram.BOW, words_of(row.tag)


@transaction.atomic
def put_in_index(row: Customer | BookEntry | Bow) -> None:
    """Index a row anew; what it was found by before is forgotten."""
    kind, words = words_to_find(row)
    wanted = grams_of_all(words)
    of_all = isinstance(row, BookEntry) and row.shop.keeps_book
    shop = 0 if of_all else row.shop.pk
    Gram.objects.filter(kind=kind, row=row.pk).exclude(shop=shop).delete()
    mine = Gram.objects.filter(kind=kind, row=row.pk)
    known = set(mine.values_list("gram", flat=True))
    if known - wanted:
        mine.filter(gram__in=known - wanted).delete()
    new = [Gram(gram=gram, shop=shop, kind=kind, row=row.pk) for gram in sorted(wanted - known)]
    Gram.objects.bulk_create(new, ignore_conflicts=True)


def _saved(instance: Any, **_: Any) -> None:
    put_in_index(instance)


def keep_index() -> None:
    """Index whatever is saved from now on."""
    for model in (Customer, BookEntry, Bow):
        post_save.connect(_saved, sender=model, dispatch_uid=f"index {model.__name__}")
