"""Book entries in and out: JSON by a schema, CSV with one line an entry.

Nothing is half taken in: an entry is whole or refused, and each refusal names its row and why.
"""

import csv
import io
import json
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any

from jsonschema import Draft202012Validator

from bowcore.errors import BadInput, BowcoreError
from bowcore.mechanics.kits import read_kits
from bowcore.mechanics.modules import read_modules
from bowcore.mechanics.specification import BowSpec, Family, PartSpec
from shop.book.models import BookEntry

FORMAT = "fennock-book/1"
ROLES = ("string", "cable_a", "cable_b")
PART_FIELDS = (
    "label", "ends", "length_in", "strands", "twists_per_in", "served_top_in", "served_bottom_in",
)  # fmt: skip
MOST_ROWS = 2000


@dataclass(frozen=True)
class Row:
    """One entry of an import: its data, or why it is refused."""

    number: int
    name: str
    data: dict[str, Any]
    problems: tuple[str, ...] = ()


def as_dict(entry: BookEntry) -> dict[str, Any]:
    """An entry with its parts as plain values, as it is exported and as a version keeps it."""
    found = {name: _plain(getattr(entry, name)) for name in entry_fields()}
    parts = [
        {"role": part.role} | {name: _plain(getattr(part, name)) for name in PART_FIELDS}
        for part in entry.parts.all()
    ]
    return found | {"parts": parts}


def to_json(entries: list[BookEntry]) -> str:
    """All entries as one document."""
    document = {"format": FORMAT, "entries": [as_dict(entry) for entry in entries]}
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def to_csv(entries: list[BookEntry]) -> str:
    """One line an entry; parts as columns named role.field."""
    target = io.StringIO()
    writer = csv.DictWriter(target, columns(), lineterminator="\r\n")
    writer.writeheader()
    for entry in entries:
        data = as_dict(entry)
        parts = data.pop("parts")
        flat = {f"{part['role']}.{name}": part[name] for part in parts for name in PART_FIELDS}
        writer.writerow(data | flat)
    return target.getvalue()


def columns() -> list[str]:
    """The CSV's columns, in order."""
    return [*entry_fields(), *(f"{role}.{name}" for role in ROLES for name in PART_FIELDS)]


def read_json(text: str) -> list[Row]:
    """Every entry of a document, each judged for itself.

    Raises
    ------
    BadInput
        It is no such document at all.
    """
    try:
        document = json.loads(text)
    except ValueError as error:
        raise BadInput(f"This is no JSON: {error}.", "file") from None
    wrong = next(Draft202012Validator(_schema()).iter_errors(document), None)
    if wrong is not None:
        raise BadInput(f"This is no book: {wrong.message}.", "file", FORMAT)
    return [judged(n, data) for n, data in enumerate(_few(document["entries"]), 1)]


def read_csv(text: str) -> list[Row]:
    """Every line of a CSV, each judged for itself; the first line names the columns.

    Raises
    ------
    BadInput
        A column is missing or unknown, or the file cannot be read as CSV.
    """
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    named = reader.fieldnames or []
    strange = [name for name in named if name not in columns()]
    needed = _schema()["$defs"]["entry"]["required"]
    absent = [name for name in needed if name not in named and name != "parts"]
    if strange or absent:
        told = f"unknown {', '.join(strange)}" if strange else f"missing {', '.join(absent)}"
        raise BadInput(f"The columns do not fit: {told}.", "file", ", ".join(columns()))
    try:
        lines = _few(list(reader))
    except csv.Error as error:
        raise BadInput(f"This is no CSV: {error}.", "file") from None
    return [judged(n, _unflat(line)) for n, line in enumerate(lines, 2)]


def entry_fields() -> list[str]:
    """Fields of an entry that travel, in order."""
    return [name for name in _schema()["$defs"]["entry"]["properties"] if name != "parts"]


def _few(rows: list[Any]) -> list[Any]:
    if len(rows) > MOST_ROWS:
        raise BadInput(f"{len(rows)} rows at once are too many.", "file", f"up to {MOST_ROWS}")
    return rows


def judged(number: int, data: Any) -> Row:
    """One entry of an import, or one typed in, with everything that is wrong with it."""
    validator = Draft202012Validator(_schema()["$defs"]["entry"] | {"$defs": _schema()["$defs"]})
    problems = [_said(error) for error in validator.iter_errors(data)]
    name = f"{data.get('maker', '?')} {data.get('model', '?')}" if isinstance(data, dict) else "?"
    if not problems:
        problems = list(_makes_a_bow(data))
    return Row(number, name, data if isinstance(data, dict) else {}, tuple(problems))


def _said(error: Any) -> str:
    where = ".".join(str(step) for step in error.absolute_path)
    return f"{where}: {error.message}" if where else str(error.message)


def _makes_a_bow(data: dict[str, Any]) -> list[str]:
    """What a schema cannot see: order of ranges, parts of the family, numbers that make a bow."""
    family, roles = Family(data["family"]), [part["role"] for part in data["parts"]]
    wanted = {"string", "cable_b"} if family is Family.SINGLE else set(ROLES)
    if sorted(roles) != sorted(wanted):
        return [f"parts: a {family} bow has {', '.join(sorted(wanted))}, not {', '.join(roles)}"]
    for low, high in (("draw_from_in", "draw_to_in"), ("weight_from_lbf", "weight_to_lbf")):
        if data[low] > data[high]:
            return [f"{low} is above {high}"]
    parts = tuple(
        PartSpec(p["role"], p["label"], p["ends"], p["length_in"], p["strands"], p["twists_per_in"])
        for p in data["parts"]
    )
    try:
        BowSpec(
            data["model"], family, data["axle_to_axle_in"], data["brace_height_in"],
            data["draw_to_in"], data["weight_to_lbf"], data["let_off"], parts,
            shim_kits=read_kits(data.get("shim_kits", "")),
            modules=read_modules(data.get("modules", "")),
        )  # fmt: skip
    except BowcoreError as error:
        return [str(error)]
    return []


def _unflat(line: dict[str | None, Any]) -> dict[str, Any]:
    """A CSV line as an entry; text becomes a number or a yes where the schema wants one."""
    data: dict[str, Any] = {}
    parts: dict[str, dict[str, Any]] = {}
    for name, text in line.items():
        if not name or text is None or not str(text).strip():
            continue
        role, dot, field = name.partition(".")
        if dot:
            parts.setdefault(role, {"role": role})[field] = _value(str(text))
        else:
            data[name] = _value(
                str(text), words=name in ("maker", "model", "modules", "shim_kits", "note")
            )
    return data | {"parts": list(parts.values())}


def _value(text: str, words: bool = False) -> Any:
    text = text.strip()
    if words:
        return text
    if text.lower() in ("true", "false"):
        return text.lower() == "true"
    try:
        return int(text) if text.lstrip("-").isdigit() else float(text)
    except ValueError:
        return text


def _plain(value: Any) -> Any:
    return float(value) if isinstance(value, Decimal) else value


@cache
def _schema() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "book.schema.json").read_text())
    return found
