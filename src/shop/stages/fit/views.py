"""The fit, and what is on the bow."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from bowcore.adjusters.steps import NO_STEPS
from bowcore.stages.baseline.step import BaselineStep
from bowcore.stages.fit.step import FitStep
from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import render_job, state_or_404, to_job
from shop.casework.submissions import Submission
from shop.stages.fit.actions import do_fit_act, name_arrow, write_down_thing
from shop.stages.fit.forms import ArrowForm, BeingTypedForm, FitActForm, ThingForm, TriedForm
from shop.stages.fit.screens import fit_drawn_context, sight_context, things_context


def on_the_bow(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Everything that is on this bow, to be written down."""
    state = state_or_404(job_id)
    opened = request.POST.get("thing") or request.GET.get("thing", "")
    context = things_context(state, opened, request.POST) | {"here": "on_the_bow"}
    return render_job(request, state, "fit/on_the_bow.html", context | extra, status)


def sight(request: HttpRequest, job_id: int) -> HttpResponse:
    """Where the customer's marks go, and a new tape."""
    state = state_or_404(job_id)
    context = sight_context(state) | {"here": "sight"}
    return render_job(request, state, "fit/sight.html", context)


def sight_svg(request: HttpRequest, job_id: int) -> HttpResponse:
    """The tape by itself, at true scale, to be printed."""
    drawn = sight_context(state_or_404(job_id))["tape"]
    if not drawn:
        raise Http404
    answer = HttpResponse(drawn, content_type="image/svg+xml")
    answer["Content-Disposition"] = f'attachment; filename="sight-tape-{job_id}.svg"'
    return answer


def try_fit(request: HttpRequest, job_id: int) -> HttpResponse:
    """The drawing as it would be after some taps, or with a reading that is being typed."""
    taps, reading = TriedForm(request.GET), BeingTypedForm(request.GET)
    steps = taps.steps() if taps.is_valid() else NO_STEPS
    typed = reading.typed() if reading.is_valid() else {}
    drawn = fit_drawn_context(state_or_404(job_id), steps, typed)
    return render(request, "fit/drawn.html", drawn)


class WriteThingView(JobActionView):
    action = write_down_thing
    form_class = ThingForm

    def given(self, form: ThingForm) -> Given:
        return (form.cleaned_data["thing"], form.typed())

    def done(self, form: Any) -> HttpResponse:
        state = state_or_404(self.job_id)
        if state.course.next.step in (FitStep.key, BaselineStep.key):
            return to_job(self.job_id, state.course.next.step)
        return on_the_bow(self.request, self.job_id)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return on_the_bow(self.request, self.job_id, status, **extra)


class NameArrowView(JobActionView):
    action = name_arrow
    form_class = ArrowForm
    screen = FitStep.key
    stay = True


class FitActView(JobActionView):
    right = "change"
    form_class = FitActForm
    screen = FitStep.key

    def act(self, form: FitActForm, submission: Submission) -> None:
        do_fit_act(self.job_id, submission, form.cleaned_data["sets"])
