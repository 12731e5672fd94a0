"""Readings, marks and what plugged-in tools show."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render

from bowcore.errors import BadInput
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.stages.baseline.step import BaselineStep
from bowcore.stages.work.step import WorkStep
from bowcore.work_order.services import WORK_MARKS
from shop.casework.action_view import JobActionView, SubmissionForm
from shop.casework.readings import screens
from shop.casework.readings.actions.leave_it import leave_it
from shop.casework.readings.actions.take_reading import (
    cannot_read,
    correct_reading,
    skip_drawn,
    skip_wanted,
    take_readings,
)
from shop.casework.readings.actions.write_mark import marks_as_last_time, write_mark
from shop.casework.readings.forms import (
    LeaveForm,
    MarkForm,
    ReadingForm,
    ReadingsForm,
    SkipForm,
    UnreadableForm,
)
from shop.casework.screens import render_job, state_or_404
from shop.casework.submissions import Submission
from shop.casework.views import log
from shop.schema.measurements.models import Reading


class TakeReadingsView(JobActionView):
    right = "read"
    form_class = ReadingsForm

    def act(self, form: ReadingsForm, submission: Submission) -> None:
        take_readings(self.job_id, form.readings(), submission)


class CannotReadView(JobActionView):
    right = "read"
    form_class = UnreadableForm

    def act(self, form: UnreadableForm, submission: Submission) -> None:
        data = form.cleaned_data
        cannot_read(self.job_id, data["quantity"], data["reason"], submission)


class SkipView(JobActionView):
    """What is wanted and not a must is passed over."""

    right = "read"
    form_class = SkipForm
    screen = BaselineStep.key

    def act(self, form: SkipForm, submission: Submission) -> None:
        skip_wanted(self.job_id, form.cleaned_data["only"], submission)


class LeaveItView(JobActionView):
    """A number stays outside its band on purpose; made on the plan or at the hand-over."""

    right = "leave_it"
    form_class = LeaveForm

    def act(self, form: LeaveForm, submission: Submission) -> None:
        data = form.cleaned_data
        leave_it(self.job_id, data["quantity"], data["reason"], submission)


class SkipDrawnView(JobActionView):
    right = "read"
    form_class = SubmissionForm
    screen = BaselineStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        skip_drawn(self.job_id, submission)


class WriteMarkView(JobActionView):
    right = "read"
    form_class = MarkForm

    @property
    def step(self) -> str:
        """Work is written down at its own step, all else at the baseline."""
        work = self.request.POST.get("mark") in WORK_MARKS
        return WorkStep.key if work else BaselineStep.key

    def act(self, form: MarkForm, submission: Submission) -> None:
        data = form.cleaned_data
        write_mark(self.job_id, data["mark"], data["value"], submission)


class MarksAsLastTimeView(JobActionView):
    """Everything that is still asked for is as it was at the last visit."""

    right = "read"
    form_class = SubmissionForm
    screen = BaselineStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        marks_as_last_time(self.job_id, submission)


class CorrectReadingView(JobActionView):
    """Correct a mistyped reading: a new row that points at the old one."""

    right = "read"
    http_method_names = ["get", "post"]
    form_class = ReadingForm

    def get(self, request: HttpRequest, **_: Any) -> HttpResponse:
        return self.show(200)

    def act(self, form: ReadingForm, submission: Submission) -> None:
        row = get_object_or_404(Reading, pk=self.kwargs["reading_id"], job_id=self.job_id)
        correct_reading(self.job_id, row.pk, form.reading_of(row.quantity), submission)

    def done(self, form: Any) -> HttpResponse:
        return log(self.request, self.job_id)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        rows = Reading.objects.select_related("by")
        row = get_object_or_404(rows, pk=self.kwargs["reading_id"], job_id=self.job_id)
        context = {"row": row, "quantity": QUANTITIES[row.quantity], "here": "log"} | extra
        template = "readings/correct.html"
        return render_job(self.request, state_or_404(self.job_id), template, context, status)


def tool_now(request: HttpRequest, job_id: int, quantity: str) -> HttpResponse:
    """What the tool for a quantity shows now; asks for itself again."""
    state = state_or_404(job_id)
    try:
        shown = screens.tool_context(state, quantity)
    except BadInput:
        shown = {"shown": None}
    return render(request, "readings/tool_now.html", {"job": state.job} | shown)
