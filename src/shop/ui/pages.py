"""Long lists, a page at a time."""

from collections.abc import Sequence
from typing import Any

from django.core.paginator import Page, Paginator
from django.db.models import QuerySet
from django.http import HttpRequest


def page_of(
    request: HttpRequest, items: "Sequence[Any] | QuerySet[Any]", size: int, name: str = "page"
) -> "Page[Any]":
    """The page that the address asks for; the nearest one where that does not exist."""
    return Paginator(items, size).get_page(request.GET.get(name))
