"""Before the press: marks, photographs, and what the tools on the bench show."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_POST

from bowcore.errors import BadInput
from shop.bench import before
from shop.bench.acting import job_view
from shop.bench.actions.keep_photo import keep_photo
from shop.bench.actions.note_mark import note_mark
from shop.bench.forms import MarkForm, PhotoForm
from shop.bench.views import acted, posted
from shop.devices.actions import set_tool
from shop.devices.bench import tool_rows
from shop.jobs.models import Photo


@require_POST
def post_mark(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: MarkForm, stamp: Any) -> None:
        note_mark(job_id, form.cleaned_data["mark"], form.cleaned_data["value"], stamp)

    return posted(request, job_id, "baseline", MarkForm(request.POST), do)


@require_POST
def post_photo(request: HttpRequest, job_id: int, step: str) -> HttpResponse:
    """Keep a photo and stay on the screen where it was taken."""

    def do(form: PhotoForm, stamp: Any) -> None:
        given = form.cleaned_data["photo"]
        keep_photo(job_id, form.cleaned_data["about"], given, given.size, stamp)

    return acted(request, job_id, step, PhotoForm(request.POST, request.FILES), do)


@cache_control(private=True, max_age=86400, immutable=True)
def photo(request: HttpRequest, job_id: int, photo_id: int) -> HttpResponse:
    """A photograph as it is kept."""
    kept = get_object_or_404(Photo, pk=photo_id, job_id=job_id)
    headers = {"Content-Disposition": "inline", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg", headers=headers)


def live(request: HttpRequest, job_id: int, quantity: str) -> HttpResponse:
    """What the tool for a quantity shows now; asks for itself again."""
    view = job_view(job_id)
    try:
        shown = before.live_now(view, quantity)
    except BadInput:
        shown = {"live": None}
    return render(request, "bench/live.html", {"job": view.job} | shown)


def tools(request: HttpRequest) -> HttpResponse:
    """The simulated tools of the bench, and how each is made to behave."""
    context: dict[str, Any] = {"section": "shop", "rows": tool_rows()}
    if request.method == "POST":
        try:
            set_tool(request.POST.get("tool", ""), request.POST.get("state", ""))
            return redirect("tools")
        except BadInput as error:
            return render(request, "bench/tools.html", context | {"wrong": str(error)}, status=422)
    return render(request, "bench/tools.html", context)
