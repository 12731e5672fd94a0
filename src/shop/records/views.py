"""Records as files: sent, and read in. For managers."""

from collections.abc import Iterator
from typing import Any

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest, HttpResponse, JsonResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render

from bowcore.work_order.roles import may
from shop.casework.action_view import ActionView
from shop.casework.submissions import Submission
from shop.records.actions.import_record import import_record
from shop.records.actions.later import AT_ONCE_BYTES, keep_for_later, text_of
from shop.records.forms import RecordForm
from shop.records.selectors import files_shown, record_of_bow, record_of_shop
from shop.records.tables import record_form
from shop.schema.accounts.models import shop_here
from shop.schema.bows.models import Bow


class RecordsView(ActionView):
    """The page, and a record that is read in."""

    right = "move_records"
    http_method_names = ["get", "post"]
    form_class = RecordForm

    def get(self, request: HttpRequest, **_: Any) -> HttpResponse:
        _require_right(request)
        return self.show(200)

    def act(self, form: RecordForm, submission: Submission) -> None:
        given = form.cleaned_data["file"]
        if given.size > AT_ONCE_BYTES:
            keep_for_later(given, submission)
            return
        taken = import_record(text_of(given.read()), submission)
        messages.info(self.request, f"Read in: {taken}.")

    def done(self, form: RecordForm) -> HttpResponse:
        return redirect("records")

    def show(self, status: int, **extra: Any) -> HttpResponse:
        context = {"section": "shop", "form": RecordForm(), "files": files_shown()}
        return render(self.request, "records/records.html", context | extra, status=status)


def files_read(request: HttpRequest) -> HttpResponse:
    """What became of long files, as a fragment of the page."""
    _require_right(request)
    return render(request, "records/files.html", {"files": files_shown()})


def bow_record(request: HttpRequest, bow_id: int) -> HttpResponseBase:
    """One bow's record as a file."""
    _require_right(request)
    return _file(record_of_bow(get_object_or_404(Bow, pk=bow_id)), f"bow-{bow_id}.json")


def shop_record(request: HttpRequest) -> HttpResponseBase:
    """The whole shop's record as a file."""
    _require_right(request)
    return _file(record_of_shop(shop_here()), "shop.json")


def record_schema(request: HttpRequest) -> HttpResponse:
    """The schema of a record."""
    return JsonResponse(record_form(), content_type="application/schema+json")


def _require_right(request: HttpRequest) -> None:
    if not may(request.user.staff_role, RecordsView.right):  # type: ignore[union-attr]
        raise PermissionDenied("Only a manager takes records out of the shop or reads them in.")


def _file(text: Iterator[str], name: str) -> StreamingHttpResponse:
    answer = StreamingHttpResponse(text, content_type="application/json; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
