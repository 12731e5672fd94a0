"""Shooting in through paper."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from bowcore.diagnosis.shots import ShotTest
from bowcore.diagnosis.tears import say_tear
from bowcore.errors import BadInput
from bowcore.workflow.steps.paper import PaperStep
from shop.accounts.models import Shop
from shop.audit.submissions import Submission
from shop.jobs.action_view import JobActionView, SubmissionForm
from shop.jobs.screens import render_job, state_or_404
from shop.tuning.actions import (
    do_butt_tap,
    do_paper_tap,
    look_at_suspect,
    take_out_last_shot,
    write_down_shot,
)
from shop.tuning.forms import ButtShotForm, ButtTapForm, HolesForm, LookedAtForm, ShotForm
from shop.tuning.screens import butt_context


def tear_words(request: HttpRequest, job_id: int) -> HttpResponse:
    """Two holes that were tapped, said as a tear."""
    state_or_404(job_id)
    form = HolesForm(request.GET)
    if not form.is_valid():
        return HttpResponse("")
    try:
        return HttpResponse(say_tear(*form.holes().tear, Shop.current().tear_words))
    except BadInput as error:
        return HttpResponse(str(error))


class ShotView(JobActionView):
    right = "read"
    form_class = ShotForm
    screen = PaperStep.key

    def act(self, form: ShotForm, submission: Submission) -> None:
        write_down_shot(self.job_id, form.shot(), submission)


class TakeOutView(JobActionView):
    right = "read"
    form_class = SubmissionForm
    screen = PaperStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        take_out_last_shot(self.job_id, submission)


class LookedAtView(JobActionView):
    right = "read"
    form_class = LookedAtForm
    screen = PaperStep.key

    def act(self, form: LookedAtForm, submission: Submission) -> None:
        data = form.cleaned_data
        look_at_suspect(self.job_id, data["suspect"], data["found"], data["mended"], submission)


def butt(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Groups on a butt: what was shot, what it says, the next shot."""
    state = state_or_404(job_id)
    opened = request.POST.get("test") or request.GET.get("test", "")
    context = butt_context(state, opened, request.POST) | {"here": "butt"}
    return render_job(request, state, "tuning/butt.html", context | extra, status)


class ButtView(JobActionView):
    """Whatever is posted from the butt comes back to it."""

    def done(self, form: Any) -> HttpResponse:
        address = reverse("butt", args=[self.job_id])
        return redirect(f"{address}?test={form.cleaned_data['test']}")

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return butt(self.request, self.job_id, status, **extra)


class ButtShotView(ButtView):
    right = "read"
    form_class = ButtShotForm

    def act(self, form: ButtShotForm, submission: Submission) -> None:
        write_down_shot(self.job_id, form.shot(), submission)


class ButtTapView(ButtView):
    right = "change"
    form_class = ButtTapForm

    def act(self, form: ButtTapForm, submission: Submission) -> None:
        do_butt_tap(self.job_id, ShotTest(form.cleaned_data["test"]), submission)


class PaperTapView(JobActionView):
    right = "change"
    form_class = SubmissionForm
    screen = PaperStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        do_paper_tap(self.job_id, submission)
