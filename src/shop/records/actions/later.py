"""A long record is kept in pieces, and read in by the background worker."""

from typing import Any

from django.db import transaction
from django_tasks import task

from bowcore.errors import BadInput, BowcoreError
from bowcore.quantities.units import lengths_in
from shop.casework.submissions import DuplicateSubmission, Submission
from shop.records.actions.import_record import import_record
from shop.records.models import RecordChunk, RecordFile
from shop.schema.tenancy.here import every_shop

AT_ONCE_BYTES = 1_000_000
"""A longer file would keep its reader waiting for more than a few seconds."""
_CHUNK_BYTES = 1_000_000


@transaction.atomic
def keep_for_later(given: Any, submission: Submission) -> RecordFile:
    """Keep an uploaded file; the worker reads it in. The same post keeps it once."""
    row, new = RecordFile.objects.get_or_create(
        key=submission.key,
        defaults={"name": str(given.name)[:120], "size": given.size or 0, "by": submission.by},
    )
    if new:
        for number, piece in enumerate(given.chunks(_CHUNK_BYTES)):
            RecordChunk.objects.create(file=row, number=number, data=piece)
        transaction.on_commit(lambda: read_in.enqueue(row.pk))
    return row


@task()
def read_in(file_id: int) -> None:
    """Read a kept file into its shop, in the name of whoever sent it; say what became of it."""
    with every_shop():
        row = RecordFile.objects.select_related("shop", "by").get(pk=file_id)
        whole = b"".join(bytes(chunk.data) for chunk in row.chunks.all())
    if row.state != RecordFile.WAITING:
        return
    with row.shop.during(), lengths_in(row.shop.length_unit):
        row.state, row.said = _read(row, whole)
        row.save(update_fields=["state", "said"])
        row.chunks.all().delete()


def _read(row: RecordFile, whole: bytes) -> tuple[str, str]:
    try:
        taken = import_record(text_of(whole), Submission(row.by, row.key))
    except DuplicateSubmission:  # the worker was stopped between reading and saying so
        return RecordFile.DONE, "all of it"
    except BowcoreError as error:
        return RecordFile.REFUSED, str(error)[:500]
    return RecordFile.DONE, str(taken)[:500]


def text_of(given: bytes) -> str:
    """A file's text.

    Raises
    ------
    BadInput
        It is not text.
    """
    try:
        return given.decode("utf-8")
    except UnicodeDecodeError:
        raise BadInput("That file is not text.", "file") from None


def resume_reading() -> None:
    """Begin again what was waiting when the workers were stopped."""
    with every_shop():
        for row in RecordFile.objects.filter(state=RecordFile.WAITING):
            read_in.enqueue(row.pk)
