"""Reads a record into a shop: all of it or nothing."""

import uuid
from dataclasses import dataclass, field
from datetime import timedelta
from io import BytesIO
from typing import Any

from django.db import DataError, IntegrityError, models
from django.utils import timezone

from bowcore.errors import BadInput, BowcoreError, Refused
from bowcore.io.edge import json_from
from bowcore.work_order.roles import require
from shop.book.selectors import entry_named
from shop.book.transfer import as_dict, judged
from shop.casework.photos.shrink import shrink
from shop.casework.state import job_state
from shop.casework.submissions import Submission, without_job
from shop.records.tables import RECORD_FORMAT, Table, tables, taken_from
from shop.schema.accounts.models import Member, Shop
from shop.schema.audit.models import Event
from shop.schema.book.models import BookEntry, BookPart, EntryVersion
from shop.schema.bows.models import Bow
from shop.schema.customers.models import Customer
from shop.schema.inspection.models import Photo
from shop.schema.jobs.models import Job
from shop.setup.invariants import broken_rules

MOST_RECORD = 200_000_000
"""Characters of a file that is read in: a shop of years with its photos."""
CLOCKS_DIFFER = timedelta(hours=1)
_OF_A_MODEL = (BookPart, EntryVersion)
"""Not read where the book has the model already."""


@dataclass
class TakenIn:
    """What a record has brought: the new row for each place of each table."""

    rows: dict[type[models.Model], list[models.Model]] = field(default_factory=dict)
    people: dict[str, Member] = field(default_factory=dict)
    jobs: list[Job] = field(default_factory=list)
    models_here: set[int] = field(default_factory=set)

    def __str__(self) -> str:
        counts = {model: len(self.rows.get(model, ())) for model in (Customer, Bow, Job, Photo)}
        return ", ".join(
            f"{count} {model._meta.verbose_name_plural if count != 1 else model._meta.verbose_name}"
            for model, count in counts.items()
        )


def import_record(text: str, submission: Submission) -> TakenIn:
    """Read a record into the shop that is being worked for.

    Its bows become bows here, under new numbers. A model that the book has already stays as it is; another
    one is of these bows alone until it is confirmed. A customer of the same name and phone is the same one.
    People keep their names, said to be from the file, and cannot log in.

    Raises
    ------
    BadInput
        The file is not a record, or a value cannot be; the message says which.
    Refused
        It is here already, or what it says contradicts itself.
    """
    require(submission.by.staff_role, "move_records")
    data = _parsed(text)
    with without_job("import_record", submission) as event:
        taken = TakenIn()
        _refuse_what_is_here(data)
        for person in data["people"]:
            taken.people[person["username"]] = _person(person)
        try:
            for table in tables():
                _take_in(table, data["tables"][table.name], taken)
        except (IntegrityError, DataError) as error:
            raise Refused(
                f"Two rows of this record contradict each other: {error.args[-1]}"
            ) from None
        _require_sound(taken)
        event.summary = f"read a record in: {taken}"
        return taken


def _parsed(text: str) -> dict[str, Any]:
    """The file as an object with all its tables, each a list of objects."""
    data = json_from(text, most=MOST_RECORD)
    if not isinstance(data, dict) or data.get("format") != RECORD_FORMAT:
        raise BadInput(f"This is not a record of the format {RECORD_FORMAT}.")
    parts, people = data.get("tables"), data.get("people")
    wanted = {table.name for table in tables()}
    if not isinstance(parts, dict) or set(parts) != wanted:
        raise BadInput("Tables are missing from this file, or it has others.")
    lists = [*parts.values(), people]
    if not all(isinstance(rows, list) and all(isinstance(r, dict) for r in rows) for rows in lists):
        raise BadInput("A table of this record is not a list of rows.")
    if not all({"username", "name"} == set(one) for one in data["people"]):
        raise BadInput("The people of this record have no names.")
    return data


def _refuse_what_is_here(data: dict[str, Any]) -> None:
    keys = [str(row.get("key")) for row in data["tables"]["audit.event"]]
    uuid = Event._meta.get_field("key")
    known = Event.objects.filter(
        key__in=[taken_from(uuid, key, "audit.event, key") for key in keys]
    )
    there = known.select_related("job").first()
    if there is not None:
        raise Refused(f"This is on file here already, as job {there.job_id}.")


def _person(person: dict[str, Any]) -> Member:
    """Somebody who is nobody here: whoever wrote the file could have written any name.

    The same person of an earlier file of this shop is the same.
    """
    username, name = str(person["username"]), str(person["name"])
    first, _, last = name.partition(" ")
    for key, value in (("username", username), ("first_name", first), ("last_name", last)):
        taken_from(Member._meta.get_field(key), value, f"people, {key}")
    called = {"from_file": username, "first_name": first, "last_name": last, "home": Shop.current()}
    known = Member.objects.filter(**called).first()
    if known is not None:
        return known
    made = Member(username=f"{username[:130]}~{uuid.uuid4().hex[:8]}", is_active=False, **called)
    made.set_unusable_password()
    made.save()
    return made


def _take_in(table: Table, rows: list[dict[str, Any]], taken: TakenIn) -> None:
    mine = taken.rows.setdefault(table.model, [])
    for number, row in enumerate(rows, 1):
        values = _values(table, row, taken, f"{table.name}, row {number}")
        if table.model in _OF_A_MODEL and values["entry"].pk in taken.models_here:
            continue
        known = _known(table.model, values)
        if isinstance(known, BookEntry):
            taken.models_here.add(known.pk)
        mine.append(known or _made(table.model, values))
    taken.jobs = [one for one in taken.rows.get(Job, []) if isinstance(one, Job)]


def _values(table: Table, row: dict[str, Any], taken: TakenIn, where: str) -> dict[str, Any]:
    if set(row) != {one.name for one in table.fields}:
        raise BadInput(f"{where} has not the columns that it should have.", where)
    values = {}
    for column in table.fields:
        value, place = row[column.name], f"{where}, {column.name}"
        if value is not None and column.related_model is Member:
            value = taken.people.get(str(value))
        elif value is not None and column.related_model is not None:
            value = _pointed_at(taken.rows.get(column.related_model, []), value, place)
        else:
            value = taken_from(column, value, place)
        if value is None and not column.null:
            raise BadInput(f"{place} is empty.", place)
        values[column.name] = value
    _require_possible(table.model, values, where)
    return values


def _require_possible(model: type[models.Model], values: dict[str, Any], where: str) -> None:
    """What a column alone does not show: nothing is done tomorrow, a photo is a photo and nothing else."""
    if model is Event and values["at"] > timezone.now() + CLOCKS_DIFFER:
        raise BadInput(f"{where} is of a day that has not come yet.", where)
    if model is Photo:
        jpeg = bytes(values["jpeg"])
        try:
            anew = shrink(BytesIO(jpeg), len(jpeg))
        except BadInput as error:
            raise BadInput(f"{where}: {error}", where) from None
        values |= {"jpeg": anew.jpeg, "width": anew.width, "height": anew.height}


def _pointed_at(rows: list[models.Model], number: Any, where: str) -> models.Model:
    if isinstance(number, bool) or not isinstance(number, int) or not 0 < number <= len(rows):
        raise BadInput(f"{where} points to nothing.", where)
    return rows[number - 1]


def _known(model: type[models.Model], values: dict[str, Any]) -> models.Model | None:
    """What is on file already: a customer, a model of the book."""
    if model is Customer:
        return Customer.objects.filter(name=values["name"], phone=values["phone"]).first()
    if model is BookEntry:
        return entry_named(values["maker"], values["model"])
    return None


def _made(model: type[models.Model], values: dict[str, Any]) -> models.Model:
    made = model(**values)
    if isinstance(made, BookEntry):
        made.listed = None  # of these bows alone until somebody here has looked
    if model is Event:
        made.shop_id = Shop.current().pk  # type: ignore[attr-defined]
    made.save_base(raw=True, force_insert=True)
    return made


def _require_sound(taken: TakenIn) -> None:
    """Every model is one that the book would take, every job can be read, and the facts go together."""
    for entry in taken.rows.get(BookEntry, []):
        if isinstance(entry, BookEntry) and entry.pk not in taken.models_here:
            row = judged(1, as_dict(entry))
            if row.problems:
                raise Refused(f"{row.name} of this record cannot be a bow: {row.problems[0]}")
    for number, job in enumerate(taken.jobs, 1):
        try:
            state = job_state(job)
            _ = state.spec, state.facts, state.course
        except (BowcoreError, KeyError, TypeError, ValueError, AttributeError) as error:
            raise Refused(f"Job {number} of this record cannot be worked with: {error}") from error
    broken = broken_rules()
    if broken:
        raise Refused(f"The record does not go together: not true that {broken[0].rule}.")
