"""The screens of a job: its frame, and the screen of each step, registered by the apps that own it."""

from collections.abc import Callable
from typing import Any

from django.db.models import Prefetch
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from shop.casework.rail import rail, strip
from shop.casework.state import JobState, job_state
from shop.schema.jobs.models import Hold, Job

Context = dict[str, Any]
StepScreen = Callable[[HttpRequest, JobState], tuple[str, Context]]
STEP_SCREENS: dict[str, StepScreen] = {}
"""By the key of the step; filled when the apps are loaded."""


def step_screen(key: str) -> Callable[[StepScreen], StepScreen]:
    """Register a function as the screen of a step: request and state in, template and context out."""

    def register(screen: StepScreen) -> StepScreen:
        STEP_SCREENS[key] = screen
        return screen

    return register


def state_or_404(job_id: int) -> JobState:
    """The job with what every screen shows of it, or 404."""
    query = Job.objects.select_related("bow__customer", "bow__entry", "opened_by", "shop")
    holds = Prefetch("holds", Hold.objects.select_related("placed_by"))
    return job_state(get_object_or_404(query.prefetch_related(holds), pk=job_id))


def render_job(
    request: HttpRequest, state: JobState, template: str, context: Context, status: int = 200
) -> HttpResponse:
    """A screen of a job: its own context with rail and strip."""
    shared = {
        "job": state.job,
        "bow": state.job.bow,
        "state": state,
        "course": state.course,
        "section": "rack",
        "rail": rail(state),
        "strip": strip(state),
    }
    answer = render(request, template, shared | context, status=status)
    if status >= 400:
        # the address stays that of the screen, so that it can be reloaded
        answer["HX-Push-Url"] = "false"
    return answer


def render_step(
    request: HttpRequest, job_id: int, key: str, status: int = 200, **extra: Any
) -> HttpResponse:
    """One step's screen. `extra`: form, refusal and meanwhile after a post."""
    state = state_or_404(job_id)
    template, context = STEP_SCREENS[key](request, state)
    return render_job(request, state, template, context | extra | {"here": key}, status)


def to_job(job_id: int, step: str = "") -> HttpResponse:
    """To a step of the job, or to whichever is next."""
    return redirect(job_address(job_id, step))


def job_address(job_id: int, step: str = "") -> str:
    """The address of a step of the job, or of whichever is next."""
    return reverse("step", args=[job_id, step]) if step else reverse("job", args=[job_id])
