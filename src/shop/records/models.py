"""Files of records that are too long to be read in while somebody waits."""

from django.conf import settings
from django.db import models

from shop.schema.accounts.models import OwnedByShop


class RecordFile(OwnedByShop):
    """A file that the background worker reads in, and what became of it."""

    WAITING, DONE, REFUSED = "waiting", "done", "refused"

    key = models.UUIDField(unique=True)
    name = models.CharField(max_length=120)
    size = models.PositiveIntegerField(help_text="bytes")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, default=WAITING)
    said = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.name}, {self.state}"


class RecordChunk(models.Model):
    """A piece of such a file, small enough for any database; gone once the file has been read."""

    file = models.ForeignKey(RecordFile, models.CASCADE, related_name="chunks")
    number = models.PositiveSmallIntegerField()
    data = models.BinaryField()

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["file", "number"], name="one_chunk_a_number")
        ]

    def __str__(self) -> str:
        return f"{self.file}, {self.number}"
