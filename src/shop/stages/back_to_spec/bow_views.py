"""The bow on the bench: from its side at any draw, its curve, its parts."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from shop.casework.action_view import JobActionView
from shop.casework.readings.actions.keep_curve import curve_from_board, curve_from_file
from shop.casework.screens import render_job, state_or_404
from shop.casework.submissions import Submission
from shop.stages.back_to_spec import bow_screen
from shop.stages.back_to_spec.actions.fit_to_curve import cancel_fit, fit_to_curve
from shop.stages.back_to_spec.forms import CurveForm, FitForm


def bow(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """The bow's page; what has to be computed is asked for by the page itself."""
    state = state_or_404(job_id)
    context = bow_screen.bow_context(state, request.GET.get("part")) | {"here": "bow"} | extra
    return render_job(request, state, "back_to_spec/bow.html", context, status)


def drawn(request: HttpRequest, job_id: int) -> HttpResponse:
    """The drawing, the curve and the pattern, as a fragment."""
    state = state_or_404(job_id)
    context = bow_screen.drawn_context(state, request.GET.get("part", ""))
    more = {"state": state, "job": state.job}
    return render(request, "back_to_spec/bow_drawn.html", context | more)


def pattern(request: HttpRequest, job_id: int) -> HttpResponse:
    """What the readings point to, as a fragment of the plan."""
    state = state_or_404(job_id)
    context = bow_screen.pattern_context(state)
    return render(request, "back_to_spec/pattern.html", context | {"job": state.job})


class BowActionView(JobActionView):
    """A post that is made on the bow's page."""

    def done(self, form: Any) -> HttpResponse:
        return redirect("bow", self.job_id)

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return bow(self.request, self.job_id, status, **extra)


class KeepCurveView(BowActionView):
    """Take in a curve from a file, or from the draw board where there is no file."""

    right = "read"
    form_class = CurveForm

    def act(self, form: CurveForm, submission: Submission) -> None:
        given = form.cleaned_data["file"]
        if given:
            curve_from_file(self.job_id, given.read(), submission)
        else:
            curve_from_board(self.job_id, submission)


class FitCurveView(BowActionView):
    """Begin to fit the twin to the newest curve, or stop waiting for it."""

    right = "fit_curve"
    form_class = FitForm

    def act(self, form: FitForm, submission: Submission) -> None:
        act = cancel_fit if form.cleaned_data["cancel"] else fit_to_curve
        act(self.job_id, submission)
