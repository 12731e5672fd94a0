"""A record as text, row by row."""

import json
from collections.abc import Iterator
from typing import Any

from shop.records.models import RecordFile
from shop.records.tables import RECORD_FORMAT, Table, as_json, tables
from shop.schema.accounts.models import Member, Shop
from shop.schema.bows.models import Bow

ROWS_AT_ONCE = 500


def files_shown(most: int = 5) -> list[RecordFile]:
    """The last files of this shop."""
    here = RecordFile.objects.filter(shop=Shop.current()).select_related("by")
    return list(here[:most])


def record_of_bow(bow: Bow) -> Iterator[str]:
    """All that is on file of one bow: its owner, its model, its parts, its jobs and their facts."""
    return _record("bow", [(table, table.of_bow(bow.pk)) for table in tables()])


def record_of_shop(shop_id: int) -> Iterator[str]:
    """All that is on file of a shop's bows and customers."""
    return _record("shop", [(table, table.of_shop(shop_id)) for table in tables()])


def _record(of: str, parts: list[tuple[Table, Any]]) -> Iterator[str]:
    """The queries are made when this is called, the rows are read while the text is sent."""
    return _text(of, parts, _people())


def _people() -> dict[int, dict[str, str]]:
    """How a record names each person; who came with a record keeps that login name where it is free."""
    named: dict[int, dict[str, str]] = {}
    taken: set[str] = set()
    for member in sorted(
        Member.objects.all(), key=lambda member: (bool(member.from_file), member.pk)
    ):
        wanted = member.from_file or member.username
        login = member.username if wanted in taken else wanted
        taken.add(login)
        named[member.pk] = {"username": login, "name": member.get_full_name()}
    return named


def _text(
    of: str, parts: list[tuple[Table, Any]], people: dict[int, dict[str, str]]
) -> Iterator[str]:
    places: dict[type, dict[int, int]] = {}
    named: set[int] = set()
    yield f'{{"format": "{RECORD_FORMAT}", "of": "{of}", "tables": {{\n'
    for number, (table, rows) in enumerate(parts):
        yield f'{"," if number else ""}"{table.name}": ['
        mine = places.setdefault(table.model, {})
        for row in rows.iterator(chunk_size=ROWS_AT_ONCE):
            mine[row.pk] = len(mine) + 1
            yield ("\n" if len(mine) == 1 else ",\n") + _line(table, row, places, people, named)
        yield "]\n"
    who = sorted((people[pk] for pk in named), key=lambda person: person["username"])
    yield f'}}, "people": {json.dumps(who, ensure_ascii=False)}}}\n'


def _line(
    table: Table,
    row: Any,
    places: dict[type, dict[int, int]],
    people: dict[int, dict[str, str]],
    named: set[int],
) -> str:
    shown: dict[str, Any] = {}
    for field in table.fields:
        value = getattr(row, field.attname)
        if value is not None and field.related_model is Member:
            named.add(value)
            value = people[value]["username"]
        elif value is not None and field.related_model is not None:
            value = places[field.related_model][value]
        else:
            value = as_json(field, value)
        shown[field.name] = value
    return json.dumps(shown, ensure_ascii=False, sort_keys=True)
