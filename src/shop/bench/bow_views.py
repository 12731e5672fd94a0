"""The bow on the bench: from its side at any draw, its curve, its parts."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from shop.bench import bow_screen
from shop.bench.acting import job_view, render_job


def bow(request: HttpRequest, job_id: int) -> HttpResponse:
    """The bow's screen; what has to be computed is asked for by the page itself."""
    view = job_view(job_id)
    context = bow_screen.bow(view, request.GET.get("part"))
    return render_job(request, view, "bench/bow.html", context | {"here": "bow"})


def drawn(request: HttpRequest, job_id: int) -> HttpResponse:
    """The drawing, the curve and the pattern, as a fragment."""
    view = job_view(job_id)
    role = request.GET.get("part", "")
    context = bow_screen.drawn(view, role) | {"view": view, "job": view.job}
    return render(request, "bench/bow_drawn.html", context)
