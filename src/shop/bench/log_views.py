"""The log of a job: every deed in order, the ledger, and the correction of a reading."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from bowcore.quantities.catalogue import QUANTITIES
from bowcore.service.other_changes import OTHER_CHANGES
from bowcore.service.take_back import can_take_back
from shop.bench.acting import act, back_to, job_view, render_job
from shop.bench.actions.note_change import note_change
from shop.bench.actions.take_back import take_back
from shop.bench.actions.take_reading import correct_reading
from shop.bench.forms import ReadingForm
from shop.bench.press_forms import BackForm, ChangeForm
from shop.measurements.models import Reading
from shop.records.models import Deed


def log(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Everything that was done, in order; corrections and taking back begin here."""
    view = job_view(job_id)
    deeds = Deed.objects.filter(job=view.job).select_related("by").order_by("-seq")
    corrected = {row.corrects_id for row in view.readings}
    rows = {
        row.seq: row for row in view.readings if row.pk not in corrected and row.value is not None
    }
    lines = [(deed, rows.get(deed.seq)) for deed in deeds]
    changes = view.facts.changes
    firsts = {row.seq: row.pk for row in reversed(view.adjustments)}
    may_go = view.press is None and not view.facts.handed_over
    ledger = [
        (row, may_go and firsts[row.seq] == row.pk and can_take_back(changes, row.seq))
        for row in view.adjustments
    ]
    context = {"lines": lines, "ledger": ledger, "kinds": OTHER_CHANGES, "here": "log"} | extra
    return render_job(request, view, "bench/log.html", context, status)


@require_POST
def post_change(request: HttpRequest, job_id: int) -> HttpResponse:
    """Log a change that is not turned in steps, then go to what it made stale."""

    def do(form: ChangeForm, stamp: Any) -> None:
        data = form.cleaned_data
        note_change(job_id, data["change"], data["note"], stamp)

    def show(status: int = 200, **extra: Any) -> HttpResponse:
        return log(request, job_id, status, **extra)

    return act(request, ChangeForm(request.POST), do, show) or back_to(job_id)


@require_POST
def post_take_back(request: HttpRequest, job_id: int) -> HttpResponse:
    """Take back everything since a change; its reverse goes through press and gate as any other."""

    def do(form: BackForm, stamp: Any) -> None:
        take_back(job_id, form.cleaned_data["since"], stamp)

    def show(status: int = 200, **extra: Any) -> HttpResponse:
        return log(request, job_id, status, **extra)

    return act(request, BackForm(request.POST), do, show) or back_to(job_id)


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
