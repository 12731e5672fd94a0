"""A job's set and the shop's: order, arrival, what travels over, spares, makers."""

import json
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_POST

from shop.bench.actions.string_set import Measured, move_over, order_of, order_set, set_arrived
from shop.bench.set_forms import ArrivalForm, MakerForm, MoveForm, measured_of
from shop.bench.views import acted
from shop.devices import string_maker
from shop.sets.models import StringSet
from shop.sets.selectors import maker_records, spares, under_way


@require_POST
def post_order(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: MakerForm, stamp: Any) -> None:
        order_set(job_id, form.cleaned_data["maker"], stamp)

    return acted(request, job_id, "set", MakerForm(request.POST), do)


@require_POST
def post_arrived(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: ArrivalForm, stamp: Any) -> None:
        measured = [Measured(**values) for values in measured_of(form.data)]
        set_arrived(job_id, measured, form.contacts(), stamp)

    return acted(request, job_id, "set", ArrivalForm(request.POST), do)


@require_POST
def post_move(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: MoveForm, stamp: Any) -> None:
        move_over(job_id, request.POST.getlist("fittings"), form.cleaned_data["note"], stamp)

    return acted(request, job_id, "set", MoveForm(request.POST), do)


def order_file(request: HttpRequest, set_id: int, form: str) -> HttpResponse:
    """The order as it was sent."""
    found = get_object_or_404(StringSet.objects.select_related("job__bow__entry"), pk=set_id)
    if form not in ("json", "csv"):
        raise Http404
    sent = order_of(found)
    text = json.dumps(sent, indent=1) if form == "json" else string_maker.as_csv(sent)
    kind = "application/json" if form == "json" else "text/csv; charset=utf-8"
    headers = {"Content-Disposition": f'attachment; filename="order-{set_id}.{form}"'}
    return HttpResponse(text, content_type=kind, headers=headers)


def sets(request: HttpRequest) -> HttpResponse:
    """The shop's sets: under way, spares, makers."""
    context = {"section": "sets", "coming": under_way(), "spares": spares(),
               "makers": maker_records()}  # fmt: skip
    return render(request, "bench/sets.html", context)
