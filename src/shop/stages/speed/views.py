"""The chronograph."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from shop.casework.action_view import Given, JobActionView
from shop.casework.screens import render_job, state_or_404
from shop.casework.submissions import Submission
from shop.stages.speed.actions import bring_in_shots, take_out_last_speed, write_down_speed
from shop.stages.speed.forms import ShotsFileForm, SpeedForm
from shop.stages.speed.screens import shots_csv, speed_context


def speed(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Strings over the chronograph: what was shot, what it says, the next shot."""
    state = state_or_404(job_id)
    context = speed_context(state, request.POST) | {"here": "speed"}
    return render_job(request, state, "speed/speed.html", context | extra, status)


def shots_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """Every shot of a job as CSV."""
    answer = HttpResponse(shots_csv(state_or_404(job_id)), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="shots-{job_id}.csv"'
    return answer


class SpeedPageView(JobActionView):
    """Whatever is posted from the chronograph comes back to it."""

    def done(self, form: Any) -> HttpResponse:
        return redirect(reverse("speed", args=[self.job_id]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return speed(self.request, self.job_id, status, **extra)


class WriteSpeedView(SpeedPageView):
    right = "read"
    form_class = SpeedForm

    def act(self, form: SpeedForm, submission: Submission) -> None:
        write_down_speed(self.job_id, submission, form.speed())


class TakeOutSpeedView(SpeedPageView):
    action = take_out_last_speed


class BringInShotsView(SpeedPageView):
    action = bring_in_shots
    form_class = ShotsFileForm

    def given(self, form: ShotsFileForm) -> Given:
        return (form.cleaned_data["file"].read(),)
