"""From a post to an act: parse, call one function, and show what came of it."""

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from bowcore.errors import BowcoreError
from shop.bench import screens
from shop.bench.forms import StampedForm
from shop.jobs.models import Job
from shop.records.deeds import AlreadyDone, SomeoneElse, Stamp
from shop.tuning.selectors import View, view_of

Show = Callable[..., HttpResponse]


def act(
    request: HttpRequest, form: StampedForm, do: Callable[[Any, Stamp], Any], show: Show
) -> HttpResponse | None:
    """Run one act of a form.

    None when it is done (or had been done by the same post before); otherwise the screen again,
    with what was typed and the reason: 422 for what is wrong, 409 for what someone else did.
    """
    if not form.is_valid():
        return show(form=form, status=422)
    try:
        do(form, form.stamp(request.user))  # type: ignore[arg-type]
    except AlreadyDone:
        return None
    except SomeoneElse as error:
        return show(form=form, meanwhile=error.meanwhile, status=409)
    except BowcoreError as error:
        form.add_error(None, str(error))
        return show(form=form, refusal=error, status=422)
    return None


def job_view(job_id: int) -> View:
    """The job with what every screen shows of it, or 404."""
    query = Job.objects.select_related("bow__customer", "bow__entry").prefetch_related("holds")
    return view_of(get_object_or_404(query, pk=job_id))


def render_job(
    request: HttpRequest, view: View, template: str, context: dict[str, Any], status: int = 200
) -> HttpResponse:
    """A screen of a job: the step's own context with rail and strip."""
    shared = {
        "job": view.job, "bow": view.job.bow, "view": view, "course": view.course,
        "section": "rack", "rail": screens.rail(view), "strip": screens.strip(view),
    }  # fmt: skip
    answer = render(request, template, shared | context, status=status)
    if status >= 400:
        answer["HX-Push-Url"] = (
            "false"  # the address stays that of the screen, so it can be reloaded
        )
    return answer


def back_to(job_id: int, step: str = "") -> HttpResponse:
    """To a step of the job, or to whichever is next."""
    return redirect("step", job_id, step) if step else redirect("job", job_id)
