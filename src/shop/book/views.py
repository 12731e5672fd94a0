"""The book of bow models: looked up, changed, imported and exported."""

from typing import Any, cast

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from bowcore.errors import BowcoreError
from shop.book.actions import confirm_entry, save_entry, take_in
from shop.book.forms import forms_for, whole
from shop.book.selectors import book_here, to_confirm, versions_shown
from shop.book.shapes import book_schema
from shop.book.transfer import read_csv, read_json, to_csv, to_json
from shop.schema.accounts.models import Member, Shop
from shop.schema.book.models import BookEntry
from shop.ui.pages import page_of

MOST_BOOK_BYTES = 2_000_000
ENTRIES_ON_A_PAGE = 50


def book(request: HttpRequest, status: int = 200, **extra: Any) -> HttpResponse:
    """Every model. `extra`: results and wrong after an import."""
    page = page_of(request, book_here().select_related("shop"), ENTRIES_ON_A_PAGE)
    context = {"section": "book", "page": page, "to_confirm": to_confirm()} | extra
    return render(request, "book/book.html", context, status=status)


def entry(request: HttpRequest, entry_id: int) -> HttpResponse:
    """One model with its parts, measured radii and versions."""
    query = BookEntry.objects.select_related("shop").prefetch_related("parts")
    found = get_object_or_404(query, pk=entry_id)
    context = {
        "section": "book",
        "entry": found,
        "versions": versions_shown(found),
        "own": found.shop_id == Shop.current().pk,
    }
    return render(request, "book/entry.html", context)


def edit(request: HttpRequest, entry_id: int | None = None) -> HttpResponse:
    """Change a model, or write a new one."""
    found = get_object_or_404(BookEntry, pk=entry_id) if entry_id else None
    head, parts = forms_for(found, request.POST or None)
    problems: list[str] = []
    if request.method == "POST":
        data, problems = whole(head, parts)
        try:
            if not problems:
                by, why = cast(Member, request.user), head.cleaned_data["why"]
                saved = save_entry(data, why, by, found)
                return redirect("entry", saved.pk)
        except BowcoreError as error:
            problems = [str(error)]
    context = {
        "section": "book",
        "entry": found,
        "form": head,
        "parts": parts,
        "problems": problems,
    }
    return render(request, "book/edit.html", context, status=422 if problems else 200)


@require_POST
def confirm(request: HttpRequest, entry_id: int) -> HttpResponse:
    """Put a model into the book that an apprentice has guessed or a record has brought."""
    found = get_object_or_404(to_confirm(), pk=entry_id)
    try:
        confirm_entry(found, request.user)  # type: ignore[arg-type]
    except BowcoreError as error:
        return book(request, 422, wrong=str(error))
    return redirect("entry", entry_id)


@require_POST
def book_import(request: HttpRequest) -> HttpResponse:
    """Import a file, row by row."""
    given = request.FILES.get("file")
    try:
        if given is None or given.size is None or given.size > MOST_BOOK_BYTES:
            return book(request, 422, wrong="Choose a file of at most 2 MB.")
        text = given.read().decode("utf-8")
        rows = read_json(text) if str(given.name).lower().endswith(".json") else read_csv(text)
        results = take_in(rows, request.POST.get("why", ""), request.user)  # type: ignore[arg-type]
    except UnicodeDecodeError:
        return book(request, 422, wrong="That file is not text.")
    except BowcoreError as error:
        return book(request, 422, wrong=str(error))
    refused = sum(bool(row.problems) for row, _ in results)
    return book(request, results=results, refused=refused, taken=len(results) - refused)


def book_export(request: HttpRequest, form: str) -> HttpResponse:
    """Every model as a file."""
    entries = list(book_here().prefetch_related("parts"))
    if form not in ("json", "csv"):
        raise Http404
    text = to_json(entries) if form == "json" else to_csv(entries)
    kind = "application/json" if form == "json" else "text/csv; charset=utf-8"
    headers = {"Content-Disposition": f'attachment; filename="book.{form}"'}
    return HttpResponse(text, content_type=kind, headers=headers)


def schema(request: HttpRequest) -> HttpResponse:
    """The schema of the JSON form."""
    return JsonResponse(book_schema(), content_type="application/schema+json")
