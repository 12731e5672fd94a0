"""The book of bow models."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render

from shop.book.models import BookEntry


def book(request: HttpRequest) -> HttpResponse:
    """Every model."""
    return render(
        request, "book/book.html", {"section": "book", "entries": BookEntry.objects.all()}
    )


def entry(request: HttpRequest, entry_id: int) -> HttpResponse:
    """One model with its parts and measured radii."""
    found = get_object_or_404(BookEntry.objects.prefetch_related("parts"), pk=entry_id)
    return render(request, "book/entry.html", {"section": "book", "entry": found})
