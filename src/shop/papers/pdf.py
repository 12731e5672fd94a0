"""The sheet as PDF: made in the background, because its layout takes seconds."""

import hashlib
import io

from django.contrib.staticfiles import finders
from django_tasks import task

from shop.casework.engine.kept_answers import answer_or_begin, keep_answer, kept_answer

LOOK_AGAIN_S = 1
"""After so long the page that waits for a PDF asks for it again."""


def pdf_or_begin(html: str) -> bytes:
    """The PDF of a sheet, if it is there already; else it is begun. The same sheet is made once.

    Raises
    ------
    BeingComputed
        It is not there yet.
    """
    digest = hashlib.sha256(html.encode()).hexdigest()
    if not kept_answer(_source_key(digest)).ready:
        keep_answer(_source_key(digest), html)
    made: bytes = answer_or_begin(_key(digest), lay_out, digest)
    return made


@task()
def lay_out(digest: str) -> None:
    """Keep the PDF of the sheet that is kept under this digest."""
    source = kept_answer(_source_key(digest))
    if source.ready:
        keep_answer(_key(digest), _pdf_of(source.value))


def _key(digest: str) -> str:
    return f"pdf-{digest}"


def _source_key(digest: str) -> str:
    return f"sheet-{digest}"


def _pdf_of(html: str) -> bytes:
    """An HTML page with the sheet's own style as PDF."""
    from weasyprint import CSS, HTML  # slow to import, needed only here

    styles = [
        CSS(filename=finders.find(f"css/{name}.css")) for name in ("base", "drawings", "paper")
    ]
    target = io.BytesIO()
    HTML(string=html).write_pdf(target, stylesheets=styles)
    return target.getvalue()
