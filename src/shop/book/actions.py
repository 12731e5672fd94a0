"""Writes the book: every change is a new version, the earlier ones stay."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db import transaction

from bowcore.bow.guess import guessed_let_off, guessed_parts
from bowcore.bow.specification import Family
from bowcore.errors import BadInput, Refused
from bowcore.work_order.roles import may, require
from shop.book.selectors import book_here, entry_named
from shop.book.shapes import entry_fields, part_fields
from shop.book.transfer import EntryRow, as_dict
from shop.schema.accounts.models import Member, Shop, shop_here
from shop.schema.book.models import BookEntry, BookPart, EntryVersion


@dataclass(frozen=True)
class UnknownModel:
    """A model that is not in the book, as far as it is known at the counter. [in]"""

    maker: str
    model: str
    family: Family
    axle_to_axle_in: Decimal
    brace_height_in: Decimal


def guess_entry(unknown: UnknownModel, by: Member) -> BookEntry:
    """A book entry of five numbers: the rest is what is usual for its family, marked as guessed.

    One by somebody who may not change the book is of this bow alone until it is confirmed.

    Raises
    ------
    BadInput
        The book has this model already.
    """
    name = {"maker": unknown.maker.strip(), "model": unknown.model.strip()}
    if book_here().filter(maker__iexact=name["maker"], model__iexact=name["model"]).exists():
        raise BadInput(f"{name['maker']} {name['model']} is in the book: choose it there.", "entry")
    length = float(unknown.axle_to_axle_in)
    parts = [
        {"role": part.role} | {field: getattr(part, field) for field in _GUESSED_OF_PARTS}
        for part in guessed_parts(unknown.family, length)
    ]
    values = name | _USUAL | {
        "family": unknown.family.value,
        "axle_to_axle_in": length,
        "brace_height_in": float(unknown.brace_height_in),
        "let_off": guessed_let_off(unknown.family),
        "lean_by": "none" if unknown.family is Family.BINARY else "yoke",
        "evidence": "guess",
        "note": "Guessed from its family. Complete it when someone has the maker's sheet.",
        "parts": parts,
    }  # fmt: skip
    why = "named at the counter, the rest guessed"
    if may(by.staff_role, "set_book"):
        return save_entry(values, why, by)
    return _write(BookEntry(version=0, listed=None), values, why, by)


@transaction.atomic
def confirm_entry(entry: BookEntry, by: Member) -> BookEntry:
    """Put a model into the book that an apprentice has guessed or a record has brought.

    Raises
    ------
    Refused
        The person may not change the book, or this shop's book has the model.
    """
    require(by.staff_role, "set_book")
    own = BookEntry.objects.filter(shop=shop_here(), maker=entry.maker, model=entry.model)
    if own.filter(listed=True).exclude(pk=entry.pk).exists():
        raise Refused(f"{entry} is in the book. Change it there.")
    entry.listed = True
    entry.save(update_fields=["listed"])
    return entry


def entry_at(shop: Shop, entry: BookEntry) -> BookEntry:
    """A bow's model as another shop sees it: the chain's, its own, or a copy to be confirmed there."""
    if entry.shop.keeps_book and entry.listed:
        return entry
    with shop.during():
        known = entry_named(entry.maker, entry.model)
        copy = BookEntry(version=0, listed=None)
        return known or _write(copy, as_dict(entry), f"came with a bow from {entry.shop}", None)


_GUESSED_OF_PARTS = ("label", "ends", "length_in", "strands", "twists_per_in")
_USUAL = {"draw_from_in": 24.0, "draw_to_in": 32.0, "weight_from_lbf": 20.0, "weight_to_lbf": 80.0}


@transaction.atomic
def save_entry(
    data: dict[str, Any], why: str, by: Member | None, opened: BookEntry | None = None
) -> BookEntry:
    """Write an entry of this shop, new or changed, with its parts; keep the version.

    A change of the chain's entry by another shop makes a copy of its own.

    Parameters
    ----------
    data : dict
        As `transfer.as_dict` gives it, checked before.
    why : str
        Where the numbers come from, in words.
    by : Member or None
        Who; None for what the demo writes.
    opened : BookEntry, optional
        The one that is being changed; else the one of that name.

    Returns
    -------
    BookEntry
        Unchanged, and without a new version, if nothing differs.

    Raises
    ------
    Refused
        The person may not change the book.
    """
    if by is not None:
        require(by.staff_role, "set_book")
    same = opened is not None and (opened.maker, opened.model) == (data["maker"], data["model"])
    entry = opened if same else entry_named(data["maker"], data["model"])
    if entry is not None:
        before = as_dict(entry)
        if before == before | data:
            return entry
    if entry is None or entry.shop_id != shop_here():
        return _write(BookEntry(version=0), data, why, by)
    return _write(BookEntry.objects.select_for_update().get(pk=entry.pk), data, why, by)


def _write(entry: BookEntry, data: dict[str, Any], why: str, by: Member | None) -> BookEntry:
    for name in entry_fields():
        if name in data:
            setattr(entry, name, data[name])
    entry.version += 1
    entry.save()
    _write_parts(entry, data["parts"])
    entry = BookEntry.objects.get(pk=entry.pk)
    EntryVersion.objects.create(
        entry=entry, number=entry.version, data=as_dict(entry), why=why[:200], by=by
    )
    return entry


def take_in(rows: list[EntryRow], why: str, by: Member) -> list[tuple[EntryRow, str]]:
    """Save every row that is sound; each with what became of it, in words."""
    results = []
    for row in rows:
        if row.problems:
            results.append((row, "refused"))
            continue
        before = entry_named(row.data["maker"], row.data["model"])
        entry = save_entry(row.data, why, by)
        if before is None:
            results.append((row, "new"))
        elif before.pk != entry.pk:
            results.append((row, "a copy of this shop's own"))
        elif before.version == entry.version:
            results.append((row, "nothing new"))
        else:
            results.append((row, f"changed, now version {entry.version}"))
    return results


def _write_parts(entry: BookEntry, parts: list[dict[str, Any]]) -> None:
    for part in parts:
        values = {name: part[name] for name in part_fields() if name in part}
        BookPart.objects.update_or_create(entry=entry, role=part["role"], defaults=values)
    entry.parts.exclude(role__in=[part["role"] for part in parts]).delete()
