"""Long lists, a page at a time. Nothing is counted: a long list opens as fast as a short one."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest

from shop.ui.ids import row_id

MOST_PAGES = 10_000


@dataclass(frozen=True)
class ListPage:
    """One page of a list, and whether there are others."""

    items: list[Any]
    number: int
    has_next: bool

    @property
    def has_previous(self) -> bool:
        return self.number > 1

    @property
    def has_other_pages(self) -> bool:
        return self.has_previous or self.has_next

    @property
    def previous_page_number(self) -> int:
        return self.number - 1

    @property
    def next_page_number(self) -> int:
        return self.number + 1

    def __iter__(self) -> Iterator[Any]:
        return iter(self.items)

    def __len__(self) -> int:
        return len(self.items)


def page_of(
    request: HttpRequest, items: "Sequence[Any] | QuerySet[Any]", size: int, name: str = "page"
) -> ListPage:
    """The page that the address asks for; the first one where that does not exist."""
    number = min(max(row_id(request.GET.get(name)) or 1, 1), MOST_PAGES)
    found = _some(items, (number - 1) * size, size + 1)
    if not found and number > 1:
        number, found = 1, _some(items, 0, size + 1)
    return ListPage(found[:size], number, len(found) > size)


def _some(items: "Sequence[Any] | QuerySet[Any]", first: int, count: int) -> list[Any]:
    """So many from the first on. Of a query the ids are asked for by themselves: what the rows are joined
    with would otherwise be read for all that pass, and then sorted."""
    if not isinstance(items, QuerySet):
        return list(items[first : first + count])
    ids = list(items.select_related(None).values_list("pk", flat=True)[first : first + count])
    by_id = items.order_by().in_bulk(ids) if ids else {}
    return [by_id[pk] for pk in ids if pk in by_id]
