"""A job, its steps, and its log."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse

from bowcore.stages.back_to_spec.other_changes import OTHER_CHANGES
from bowcore.stages.hand_over.step import HandOverStep
from bowcore.stages.inspection.step import InspectionStep
from shop.casework.action_view import Given, JobActionView
from shop.casework.actions.lift_hold import lift_hold
from shop.casework.actions.signature import ask_signature
from shop.casework.forms import ReasonForm
from shop.casework.screens import STEP_SCREENS, render_job, render_step, state_or_404, to_job
from shop.casework.turning import ways_back
from shop.schema.audit.models import Event
from shop.ui.pages import page_of

EVENTS_ON_A_PAGE = 60


def job(request: HttpRequest, job_id: int) -> HttpResponse:
    """The job where it is: a job found again is exactly where it was."""
    return to_job(job_id, state_or_404(job_id).course.next.step)


def step(request: HttpRequest, job_id: int, step: str) -> HttpResponse:
    """One step's screen."""
    if step not in STEP_SCREENS:
        raise Http404
    return render_step(request, job_id, step)


def log(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Everything that was done, in order; corrections and taking back begin here."""
    state = state_or_404(job_id)
    events = Event.objects.filter(job=state.job).select_related("by").order_by("-seq")
    page = page_of(request, events, EVENTS_ON_A_PAGE)
    corrected = {row.corrects_id for row in state.readings}
    readings = {
        row.seq: row for row in state.readings if row.pk not in corrected and row.value is not None
    }
    lines = [(event, readings.get(event.seq)) for event in page]
    context = {
        "lines": lines,
        "page": page,
        "ledger": ways_back(state),
        "just_put_on": () if state.facts.handed_over else {row.pk for row in state.just_put_on},
        "kinds": OTHER_CHANGES,
        "here": "log",
    }
    return render_job(request, state, "casework/log.html", context | extra, status)


class LiftHoldView(JobActionView):
    action = lift_hold  # to lift a hold that is about safety takes more, which the action asks for
    form_class = ReasonForm
    screen = InspectionStep.key

    def given(self, form: ReasonForm) -> Given:
        return (self.kwargs["hold_id"], form.cleaned_data["reason"])


class AskSignatureView(JobActionView):
    """What this person may not decide waits for somebody who may."""

    action = ask_signature
    form_class = ReasonForm
    screen = HandOverStep.key
    stay = True
