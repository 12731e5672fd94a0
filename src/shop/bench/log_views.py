"""The log of a job: every deed in order, the ledger, and the correction of a reading."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from bowcore.quantities.catalogue import QUANTITIES
from shop.bench.acting import act, job_view, render_job
from shop.bench.actions.take_reading import correct_reading
from shop.bench.forms import ReadingForm
from shop.measurements.models import Reading
from shop.records.models import Deed


def log(request: HttpRequest, job_id: int) -> HttpResponse:
    """Everything that was done, in order; readings can be corrected from here."""
    view = job_view(job_id)
    deeds = Deed.objects.filter(job=view.job).select_related("by").order_by("-seq")
    corrected = {row.corrects_id for row in view.readings}
    rows = {
        row.seq: row for row in view.readings if row.pk not in corrected and row.value is not None
    }
    lines = [(deed, rows.get(deed.seq)) for deed in deeds]
    return render_job(request, view, "bench/log.html", {"lines": lines, "here": "log"})


def correct(request: HttpRequest, job_id: int, reading_id: int) -> HttpResponse:
    """Correct a mistyped reading: a new row that points at the old one."""
    row = get_object_or_404(Reading.objects.select_related("by"), pk=reading_id, job_id=job_id)

    def show(status: int = 200, **extra: Any) -> HttpResponse:
        view = job_view(job_id)
        context = {"row": row, "quantity": QUANTITIES[row.quantity], "here": "log"} | extra
        return render_job(request, view, "bench/correct.html", context, status)

    if request.method != "POST":
        return show()

    def do(form: ReadingForm, stamp: Any) -> None:
        correct_reading(job_id, reading_id, form.typed(), stamp)

    return act(request, ReadingForm(request.POST), do, show) or log(request, job_id)
