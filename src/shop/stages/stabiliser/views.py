"""The stabiliser."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import render_job, state_or_404
from shop.stages.stabiliser.actions import write_down_float
from shop.stages.stabiliser.forms import FloatForm
from shop.stages.stabiliser.screens import stabiliser_context


def stabiliser(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """The next hold, and what was held so far."""
    state = state_or_404(job_id)
    context = stabiliser_context(state, request.POST) | {"here": "stabiliser"}
    return render_job(request, state, "stabiliser/stabiliser.html", context | extra, status)


class WriteFloatView(JobActionView):
    action = write_down_float
    form_class = FloatForm

    def given(self, form: FloatForm) -> Given:
        return (form.held(),)

    def done(self, form: Any) -> HttpResponse:
        return redirect(reverse("stabiliser", args=[self.job_id]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return stabiliser(self.request, self.job_id, status, **extra)
