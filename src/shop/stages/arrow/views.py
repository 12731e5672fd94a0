"""Arrows: put together from parts, weighed as a set, labelled."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import render_job, state_or_404
from shop.casework.submissions import Submission
from shop.stages.arrow.actions import write_down_arrow, write_down_set
from shop.stages.arrow.forms import BuildForm, PartsForm, SetForm
from shop.stages.arrow.screens import arrow_context, arrow_plan_context, set_context


def arrow(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """The parts of an arrow, and what it would be on this bow."""
    state = state_or_404(job_id)
    context = arrow_context(state, request.POST) | {"here": "arrow"}
    return render_job(request, state, "arrow/arrow.html", context | extra, status)


def try_arrow(request: HttpRequest, job_id: int) -> HttpResponse:
    """What an arrow of the parts that are being typed would be."""
    state = state_or_404(job_id)
    return render(request, "arrow/plan.html", arrow_plan_context(state, PartsForm(request.GET)))


def arrow_set(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """A set of arrows to be weighed, and which belong together."""
    state = state_or_404(job_id)
    context = set_context(state, request.POST or request.GET) | {"here": "arrow"}
    return render_job(request, state, "arrow/set.html", context | extra, status)


def set_label(request: HttpRequest, job_id: int) -> HttpResponse:
    """The label of a batch, to be printed."""
    state = state_or_404(job_id)
    context = set_context(state, request.GET)
    if not context["best"]:
        raise Http404
    return render_job(request, state, "arrow/label.html", context)


class WriteArrowView(JobActionView):
    right = "read"
    form_class = BuildForm

    def act(self, form: BuildForm, submission: Submission) -> None:
        write_down_arrow(self.job_id, submission, form.built())

    def done(self, form: Any) -> HttpResponse:
        return redirect(reverse("arrow", args=[self.job_id]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return arrow(self.request, self.job_id, status, **extra)


class WriteSetView(JobActionView):
    action = write_down_set
    form_class = SetForm

    def given(self, form: SetForm) -> Given:
        return (form.cleaned_data["name"].strip(), form.arrows())

    def done(self, form: Any) -> HttpResponse:
        return redirect(reverse("arrow_set", args=[self.job_id]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return arrow_set(self.request, self.job_id, status, **extra)
