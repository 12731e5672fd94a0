"""What a few typed words find."""

from dataclasses import dataclass

from django.db.models import Count, Q, QuerySet

from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.tenancy.here import shop_worked_for
from shop.search.grams import BEHIND_THE_BEST, digits_of, grams_of, least_shared, words_of
from shop.search.models import Gram

MOST_ROWS = 600
"""That one word may find; more say nothing."""
MOST_SHOWN = 20
LAST_BOWS = 2000
LEAST_DIGITS = 3
"""Fewer digits are not a part of a phone number."""


@dataclass(frozen=True)
class Rows:
    """Ids of the rows that share enough with one word, by kind, the best first."""

    customers: tuple[int, ...] = ()
    entries: tuple[int, ...] = ()
    bows: tuple[int, ...] = ()

    @property
    def of_a_bow(self) -> Q:
        """Bows that the word fits: by owner, by model, by markings."""
        return Q(customer__in=self.customers) | Q(entry__in=self.entries) | Q(pk__in=self.bows)


@dataclass(frozen=True)
class Matches:
    """Customers, the best first, and bows, the newest first, that fit every word of a search."""

    customers: list[Customer]
    bows: list[Bow]


def matches_of(text: str) -> Matches:
    """Customers by name or phone; bows by owner, model and markings. Each word has to fit."""
    words = [_rows_like(word) for word in _typed(text)]
    if not words:
        return Matches([], [])
    both = [pk for pk in words[0].customers if all(pk in one.customers for one in words[1:])]
    bows = Bow.objects.all()
    for word in words:
        bows = bows.filter(word.of_a_bow)
    newest = _newest(bows.filter(pk__gt=_before_the_last()))
    if len(newest) < MOST_SHOWN:
        newest = _newest(bows)
    shown = Bow.objects.filter(pk__in=newest).select_related("customer", "entry")
    return Matches(_in_order(both[:MOST_SHOWN]), list(shown.order_by("-pk")))


def _newest(bows: QuerySet[Bow]) -> list[int]:
    return list(bows.order_by("-pk").values_list("pk", flat=True)[:MOST_SHOWN])


def _before_the_last() -> int:
    """The bow before the last so many: what many bows have is found among those, and the rest is not read."""
    every = Bow.objects.order_by("-pk").values_list("pk", flat=True)
    return next(iter(every[LAST_BOWS : LAST_BOWS + 1]), 0)


def _typed(text: str) -> list[str]:
    """The words of a search; a phone number written with spaces is one word."""
    digits = digits_of(text)
    if len(digits) > LEAST_DIGITS and not any(letter.isalpha() for letter in text):
        return [digits]
    return words_of(text)


def _rows_like(word: str) -> Rows:
    """Rows that share enough runs of letters with a word, of each kind those near its best."""
    grams = grams_of(word)
    indexed, here = Gram.objects.filter(gram__in=grams), shop_worked_for()
    if here is not None:
        indexed = indexed.filter(shop__in=(0, here))
    shared = indexed.values("kind", "row")
    counted = shared.annotate(shares=Count("gram")).filter(shares__gte=least_shared(grams))
    best = counted.order_by("-shares", "-row").values_list("kind", "row", "shares")[:MOST_ROWS]
    by_kind: dict[str, list[tuple[int, int]]] = {Gram.CUSTOMER: [], Gram.ENTRY: [], Gram.BOW: []}
    for kind, row, shares in best:
        by_kind[kind].append((row, shares))
    return Rows(*(_near_the_best(rows, len(grams)) for rows in by_kind.values()))


def _near_the_best(rows: list[tuple[int, int]], all_shares: int) -> tuple[int, ...]:
    most = max((shares for _, shares in rows), default=0)
    least = most if most == all_shares else most - BEHIND_THE_BEST
    return tuple(row for row, shares in rows if shares >= least)


def _in_order(ids: list[int]) -> list[Customer]:
    by_id = Customer.objects.in_bulk(ids)
    return [by_id[pk] for pk in ids if pk in by_id]
