"""Uploads are refused while they are read, not after."""

from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.core.files.uploadhandler import FileUploadHandler

MOST_UPLOADED = 15 * 1024 * 1024
"""A photograph from a telephone is smaller."""


class LimitedUpload(FileUploadHandler):
    """Counts what comes in and stops at the limit; the handlers after it keep the bytes."""

    def __init__(self, request: Any = None):
        super().__init__(request)
        self._seen = 0

    def receive_data_chunk(self, raw_data: bytes, start: int) -> bytes:
        self._seen += len(raw_data)
        if self._seen > MOST_UPLOADED:
            raise RequestDataTooBig(f"More than {MOST_UPLOADED // 2**20} MB.")
        return raw_data

    def file_complete(self, file_size: int) -> None:
        return None
