"""The bow on the bench: from its side at any draw, its curve, its parts."""

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils.html import escape
from django.views.decorators.http import require_POST

from bowcore.errors import BowcoreError
from bowcore.planning.record import problem_record
from shop.bench import bow_screen
from shop.bench.acting import act, back_to, job_view, render_job
from shop.bench.actions.keep_curve import curve_from_board, curve_from_file
from shop.bench.press_forms import CurveForm
from shop.measurements.models import DrawCurve
from shop.tuning import fitting


def bow(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """The bow's screen; what has to be computed is asked for by the page itself."""
    view = job_view(job_id)
    context = bow_screen.bow(view, request.GET.get("part"))
    return render_job(request, view, "bench/bow.html", context | {"here": "bow"} | extra, status)


def drawn(request: HttpRequest, job_id: int) -> HttpResponse:
    """The drawing, the curve and the pattern, as a fragment."""
    view = job_view(job_id)
    role = request.GET.get("part", "")
    context = bow_screen.drawn(view, role) | {"view": view, "job": view.job}
    return render(request, "bench/bow_drawn.html", context)


def pattern(request: HttpRequest, job_id: int) -> HttpResponse:
    """What the readings point to, as a fragment of the plan."""
    view = job_view(job_id)
    context = bow_screen.pattern(view) | {"job": view.job}
    return render(request, "bench/pattern.html", context)


def question(request: HttpRequest, job_id: int) -> HttpResponse:
    """The plan's question as the core got it, for `fennock core advice`."""
    try:
        record = problem_record(job_view(job_id).advice.problem)
    except BowcoreError as error:
        return HttpResponse(escape(str(error)), status=409)
    name = f"job-{job_id}-plan.json"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return JsonResponse(record, headers=headers, json_dumps_params={"ensure_ascii": False})


@require_POST
def post_curve(request: HttpRequest, job_id: int) -> HttpResponse:
    """Take in a curve from a file, or from the draw board where there is none."""

    def do(form: CurveForm, stamp: Any) -> None:
        given = form.cleaned_data["file"]
        if given:
            curve_from_file(job_id, given.read(), stamp)
        else:
            curve_from_board(job_id, stamp)

    def show(status: int = 200, **extra: Any) -> HttpResponse:
        return bow(request, job_id, status, **extra)

    return act(request, CurveForm(request.POST, request.FILES), do, show) or back_to(job_id, "bow")


@require_POST
def post_fit(request: HttpRequest, job_id: int) -> HttpResponse:
    """Begin to fit the twin to the newest curve, or stop waiting for it."""
    curve = get_object_or_404(DrawCurve.objects.filter(job_id=job_id).order_by("-seq")[:1])
    if "cancel" in request.POST:
        fitting.cancel(curve)
    else:
        fitting.begin(curve, job_view(job_id).spec)
    return drawn(request, job_id)
