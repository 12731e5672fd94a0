"""Readings, marks and what plugged-in tools show."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render

from bowcore.errors import BadInput
from bowcore.quantities.catalogue import QUANTITIES
from bowcore.stages.baseline.step import BaselineStep
from bowcore.stages.work.step import WorkStep
from bowcore.work_order.services import WORK_MARKS
from shop.casework.action_view import Given, JobActionView
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
from shop.casework.views import log
from shop.schema.measurements.models import Reading


class TakeReadingsView(JobActionView):
    action = take_readings
    form_class = ReadingsForm

    def given(self, form: ReadingsForm) -> Given:
        return (form.readings(),)


class CannotReadView(JobActionView):
    action = cannot_read
    form_class = UnreadableForm

    def given(self, form: UnreadableForm) -> Given:
        data = form.cleaned_data
        return (data["quantity"], data["reason"])


class SkipView(JobActionView):
    """What is wanted and not a must is passed over."""

    action = skip_wanted
    form_class = SkipForm
    screen = BaselineStep.key


class LeaveItView(JobActionView):
    """A number stays outside its band on purpose; made on the plan or at the hand-over."""

    action = leave_it
    form_class = LeaveForm

    def given(self, form: LeaveForm) -> Given:
        data = form.cleaned_data
        return (data["quantity"], data["reason"])


class SkipDrawnView(JobActionView):
    action = skip_drawn
    screen = BaselineStep.key


class WriteMarkView(JobActionView):
    action = write_mark
    form_class = MarkForm

    @property
    def step(self) -> str:
        """Work is written down at its own step, all else at the baseline."""
        work = self.request.POST.get("mark") in WORK_MARKS
        return WorkStep.key if work else BaselineStep.key


class MarksAsLastTimeView(JobActionView):
    """Everything that is still asked for is as it was at the last visit."""

    action = marks_as_last_time
    screen = BaselineStep.key


class CorrectReadingView(JobActionView):
    """Correct a mistyped reading: a new row that points at the old one."""

    action = correct_reading
    http_method_names = ["get", "post"]
    form_class = ReadingForm

    def get(self, request: HttpRequest, **_: Any) -> HttpResponse:
        return self.show(200)

    def given(self, form: ReadingForm) -> Given:
        row = get_object_or_404(Reading, pk=self.kwargs["reading_id"], job_id=self.job_id)
        return (row.pk, form.reading_of(row.quantity))

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
