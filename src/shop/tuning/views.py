"""Shooting in through paper."""

from django.http import HttpRequest, HttpResponse

from bowcore.diagnosis.tears import say_tear
from bowcore.errors import BadInput
from bowcore.workflow.steps.paper import PaperStep
from shop.audit.submissions import Submission
from shop.jobs.action_view import JobActionView, SubmissionForm
from shop.tuning.actions import (
    do_paper_tap,
    look_at_suspect,
    take_out_last_shot,
    write_down_shot,
)
from shop.tuning.forms import HolesForm, LookedAtForm, ShotForm


def tear_words(request: HttpRequest, job_id: int) -> HttpResponse:
    """Two holes that were tapped, said as a tear."""
    form = HolesForm(request.GET)
    if not form.is_valid():
        return HttpResponse("")
    try:
        return HttpResponse(say_tear(*form.holes().tear))
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


class PaperTapView(JobActionView):
    right = "change"
    form_class = SubmissionForm
    screen = PaperStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        do_paper_tap(self.job_id, submission)
