"""Book entries in and out: JSON by a schema, CSV with one line an entry.

An entry is taken in whole or refused, and each refusal names its row and why.
"""

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from bowcore.errors import BadInput
from bowcore.io.edge import json_from, refusals, validated
from shop.book.shapes import (
    BOOK_FORMAT,
    ROLES,
    BookDocument,
    ModelEntry,
    entry_fields,
    part_fields,
)
from shop.schema.book.models import BookEntry
from shop.ui.csv_cells import plain_cell, safe_row

MOST_ENTRIES = 2000
PART_COLUMNS = {f"{role}.{name}": (role, name) for role in ROLES for name in part_fields()}
BOOK_COLUMNS = [*entry_fields(), *PART_COLUMNS]
TEXTS = frozenset({"maker", "model", "modules", "shim_kits", "note", "label", "ends"})


@dataclass(frozen=True)
class EntryRow:
    """One entry of an import: its data, or why it is refused."""

    number: int
    name: str
    data: dict[str, Any]
    problems: tuple[str, ...] = ()


def as_dict(entry: BookEntry) -> dict[str, Any]:
    """An entry with its parts as plain values, as it is exported and as a version keeps it."""
    found = {name: _plain(getattr(entry, name)) for name in entry_fields()}
    parts = [
        {"role": part.role} | {name: _plain(getattr(part, name)) for name in part_fields()}
        for part in entry.parts.all()
    ]
    return found | {"parts": parts}


def to_json(entries: list[BookEntry]) -> str:
    """All entries as one document."""
    document = {"format": BOOK_FORMAT, "entries": [as_dict(entry) for entry in entries]}
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def to_csv(entries: list[BookEntry]) -> str:
    """One line an entry; parts as columns named role.field."""
    target = io.StringIO()
    writer = csv.DictWriter(target, BOOK_COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    for entry in entries:
        data = as_dict(entry)
        by_role = {part["role"]: part for part in data.pop("parts")}
        parts = {
            column: by_role[role][name]
            for column, (role, name) in PART_COLUMNS.items()
            if role in by_role
        }
        writer.writerow(safe_row(data | parts))
    return target.getvalue()


def read_json(text: str) -> list[EntryRow]:
    """Every entry of a document, each judged for itself.

    Raises
    ------
    BadInput
        It is not such a document at all.
    """
    document = validated(BookDocument, json_from(text, "file"))
    return [judged(n, data) for n, data in enumerate(_few(document.entries), 1)]


def read_csv(text: str) -> list[EntryRow]:
    """Every line of a CSV, each judged for itself; the first line names the columns.

    Raises
    ------
    BadInput
        A column is missing or unknown, or the file cannot be read as CSV.
    """
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    named = reader.fieldnames or []
    _require_columns(named)
    try:
        lines = _few(list(reader))
    except csv.Error as error:
        raise BadInput(f"This file is not CSV: {error}.", "file") from None
    return [judged(n, _from_line(line)) for n, line in enumerate(lines, 2)]


def judged(number: int, data: dict[str, Any]) -> EntryRow:
    """One entry of an import, or one typed in, with everything that is wrong with it."""
    name = f"{data.get('maker', '?')} {data.get('model', '?')}"
    try:
        ModelEntry.model_validate(data)
    except ValidationError as error:
        return EntryRow(number, name, data, tuple(map(_problem, refusals(error))))
    return EntryRow(number, name, data)


def _problem(error: BadInput) -> str:
    where = f"{error.path}: " if error.path != "$" else ""
    allowed = f" Allowed: {error.allowed}." if error.allowed else ""
    return f"{where}{error}{allowed}"


def _require_columns(named: Sequence[str]) -> None:
    strange = [name for name in named if name not in BOOK_COLUMNS]
    needed = [n for n, field in ModelEntry.model_fields.items() if field.is_required()]
    absent = [name for name in needed if name not in named and name != "parts"]
    if strange or absent:
        wrong = f"unknown {', '.join(strange)}" if strange else f"missing {', '.join(absent)}"
        raise BadInput(f"The columns do not fit: {wrong}.", "file", ", ".join(BOOK_COLUMNS))


def _few(rows: list[Any]) -> list[Any]:
    if len(rows) > MOST_ENTRIES:
        raise BadInput(f"{len(rows)} rows at once are too many.", "file", f"up to {MOST_ENTRIES}")
    return rows


def _from_line(line: dict[str, Any]) -> dict[str, Any]:
    """A CSV line as an entry; empty cells are left out."""
    data: dict[str, Any] = {}
    parts: dict[str, dict[str, Any]] = {}
    for column in BOOK_COLUMNS:
        text = (line.get(column) or "").strip()
        if not text:
            continue
        if column in PART_COLUMNS:
            role, name = PART_COLUMNS[column]
            parts.setdefault(role, {"role": role})[name] = _value(name, text)
        else:
            data[column] = _value(column, text)
    return data | {"parts": list(parts.values())}


def _value(name: str, text: str) -> Any:
    """A cell's text; a number or a yes where it reads as one."""
    if name in TEXTS:
        return plain_cell(text)
    if text.lower() in ("true", "false"):
        return text.lower() == "true"
    try:
        return int(text)
    except ValueError:
        pass
    try:
        return float(text)
    except ValueError:
        return text


def _plain(value: Any) -> Any:
    return float(value) if isinstance(value, Decimal) else value
