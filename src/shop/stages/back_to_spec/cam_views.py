"""The cam by caliper: what it would do for the plan, and its page."""

from typing import Any, cast

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from bowcore.stages.back_to_spec.step import BackToSpecStep
from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import render_job, state_or_404
from shop.schema.accounts.models import Member
from shop.stages.back_to_spec.actions.measure_cam import measure_cam
from shop.stages.back_to_spec.cam_screen import cam_context, surer_context
from shop.stages.back_to_spec.forms import CamForm


def surer(request: HttpRequest, job_id: int) -> HttpResponse:
    """What the caliper would do for the plan, as a fragment of it."""
    state = state_or_404(job_id)
    return render(request, "back_to_spec/surer.html", surer_context(state) | {"job": state.job})


def cam(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """The page on which the radii are written down."""
    state = state_or_404(job_id)
    by, from_tool = cast(Member, request.user), "from_tool" in request.GET
    context = cam_context(state, by, extra.get("form"), from_tool)
    context |= {"here": "cam"} | extra
    return render_job(request, state, "back_to_spec/cam.html", context, status)


class MeasureCamView(JobActionView):
    action = measure_cam
    form_class = CamForm

    def given(self, form: CamForm) -> Given:
        return (form.radii(), form.cleaned_data["sure"])

    def done(self, form: Any) -> HttpResponse:
        return redirect("step", self.job_id, BackToSpecStep.key)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return cam(self.request, self.job_id, status, **extra)
