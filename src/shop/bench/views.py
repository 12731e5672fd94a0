"""The screens of a job. Views translate; the acts decide."""

from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.html import escape
from django.views.decorators.http import require_POST

from bowcore.errors import BowcoreError
from shop.bench import before, replacing, screens, set_screen
from shop.bench.acting import act, back_to, job_view, render_job
from shop.bench.actions import press as pressing
from shop.bench.actions import take_reading as reading
from shop.bench.actions.bolts_back import bolts_back
from shop.bench.actions.check_part import check_part
from shop.bench.actions.choose_school import choose_school
from shop.bench.actions.choose_timing import choose_timing
from shop.bench.actions.hand_over import hand_over
from shop.bench.actions.lift_hold import lift_hold
from shop.bench.actions.look_over import Seen, look_over
from shop.bench.forms import (
    CheckForm,
    NewPartForm,
    ReadingForm,
    ReasonForm,
    ReplaceForm,
    SchoolForm,
    StampedForm,
)
from shop.bench.press_forms import GateForm, HandOverForm, OptionForm, StepsForm, TimingForm
from shop.tuning.selectors import View

STEPS = ("look_over", "baseline", "set", "replace", "spec", "hand_over")


def job(request: HttpRequest, job_id: int) -> HttpResponse:
    """The job where it stands: a job found again is exactly where it was."""
    return back_to(job_id, job_view(job_id).course.next.step)


def step(request: HttpRequest, job_id: int, step: str, **extra: Any) -> HttpResponse:
    """One step's screen. `extra`: form, refusal, meanwhile and status after a post."""
    if step == "check_in":
        return back_to(job_id, "look_over")
    if step not in STEPS:
        raise Http404
    view = job_view(job_id)
    status = extra.pop("status", 200)
    template, context = _SCREENS[step](request, view)
    return render_job(request, view, template, context | extra | {"here": step}, status)


def _look_over(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    return "bench/look_over.html", before.look_over(view)


def _baseline(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    at = request.POST.get("quantity") or request.GET.get("at")
    return "bench/readings.html", before.baseline(view, at)


def _set(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    return "bench/set.html", set_screen.screen(view, request.POST)


def _replace(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    if view.press is not None:
        return "bench/press.html", replacing.press(view, request.user)  # type: ignore[arg-type]
    if view.facts.bolts_away:
        return "bench/bolts.html", {}
    if view.facts.unchecked:
        at = request.POST.get("quantity") or request.GET.get("at")
        shown = replacing.check(view, at)
        return ("bench/readings.html" if shown["asked"] else "bench/check.html"), shown
    return "bench/replace.html", replacing.replace(view)


def _spec(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    if view.press is not None:
        return "bench/press.html", replacing.press(view, request.user)  # type: ignore[arg-type]
    if view.facts.bolts_away:
        return "bench/bolts.html", {}
    at = request.POST.get("quantity") or request.GET.get("at")
    if at or view.course.to_read or view.course.unread:
        return "bench/readings.html", before.read_again(view, at)
    return "bench/plan.html", screens.plan(view)


def _hand_over(request: HttpRequest, view: View) -> tuple[str, dict[str, Any]]:
    return "bench/hand_over.html", screens.hand_over(view, request.user)  # type: ignore[arg-type]


_SCREENS: dict[str, Callable[[HttpRequest, View], tuple[str, dict[str, Any]]]] = {
    "look_over": _look_over, "baseline": _baseline, "set": _set, "replace": _replace, "spec": _spec,
    "hand_over": _hand_over,
}  # fmt: skip


def posted(
    request: HttpRequest, job_id: int, at: str, form: StampedForm, do: Callable[[Any, Any], Any]
) -> HttpResponse:
    """Act, then go to whichever step is next; on refusal stay at `at` with what was typed."""
    refused = act(request, form, do, lambda **extra: step(request, job_id, at, **extra))
    return refused or back_to(job_id, job_view(job_id).course.next.step)


def acted(
    request: HttpRequest, job_id: int, at: str, form: StampedForm, do: Callable[[Any, Any], Any]
) -> HttpResponse:
    """Act, and stay on the step's screen."""
    refused = act(request, form, do, lambda **extra: step(request, job_id, at, **extra))
    return refused or back_to(job_id, at)


@require_POST
def post_look_over(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: StampedForm, stamp: Any) -> None:
        data = form.data
        names = [name.removeprefix("outcome-") for name in data if name.startswith("outcome-")]
        seen = [Seen(n, data[f"outcome-{n}"], data.get(f"note-{n}", "")) for n in names]
        look_over(job_id, seen, stamp)

    return posted(request, job_id, "look_over", StampedForm(request.POST), do)


@require_POST
def post_reading(request: HttpRequest, job_id: int, step: str) -> HttpResponse:
    def do(form: ReadingForm, stamp: Any) -> None:
        reading.take_reading(job_id, form.typed(), stamp)

    return posted(request, job_id, step, ReadingForm(request.POST), do)


@require_POST
def post_unreadable(request: HttpRequest, job_id: int, step: str) -> HttpResponse:
    def do(form: ReasonForm, stamp: Any) -> None:
        data = form.cleaned_data
        reading.cannot_read(job_id, data["quantity"], data["reason"], stamp)

    return posted(request, job_id, step, ReasonForm(request.POST), do)


@require_POST
def post_replace(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: ReplaceForm, stamp: Any) -> None:
        pressing.open_press_to_replace(job_id, form.cleaned_data["role"], stamp)

    return posted(request, job_id, "replace", ReplaceForm(request.POST), do)


@require_POST
def post_swap(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: NewPartForm, stamp: Any) -> None:
        data = form.cleaned_data
        part = pressing.NewPart(data["length_in"], data["strands"], data["note"])
        pressing.swap(job_id, part, stamp)

    return posted(request, job_id, "replace", NewPartForm(request.POST), do)


@require_POST
def post_school(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: SchoolForm, stamp: Any) -> None:
        choose_school(job_id, form.cleaned_data["school"], stamp)

    return acted(request, job_id, "replace", SchoolForm(request.POST), do)


def schools(request: HttpRequest, job_id: int) -> HttpResponse:
    """Other schools with their plans, as a fragment."""
    view = job_view(job_id)
    try:
        shown = screens.schools(view)
    except BowcoreError as error:
        return HttpResponse(escape(str(error)))
    return render(request, "bench/schools.html", shown | {"job": view.job})


@require_POST
def post_timing(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: TimingForm, stamp: Any) -> None:
        data = form.cleaned_data
        choose_timing(job_id, {data["name"]: data["value"]}, stamp)

    return acted(request, job_id, "spec", TimingForm(request.POST), do)


@require_POST
def post_bolts(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: StampedForm, stamp: Any) -> None:
        bolts_back(job_id, stamp)

    return posted(request, job_id, "spec", StampedForm(request.POST), do)


@require_POST
def post_check(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: CheckForm, stamp: Any) -> None:
        check_part(job_id, form.tugged(), stamp)

    return posted(request, job_id, "replace", CheckForm(request.POST), do)


@require_POST
def post_accept(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: OptionForm, stamp: Any) -> None:
        pressing.accept_advice(job_id, form.cleaned_data["option"], stamp)

    return posted(request, job_id, "spec", OptionForm(request.POST), do)


@require_POST
def post_otherwise(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: StepsForm, stamp: Any) -> None:
        pressing.change_otherwise(job_id, form.steps(), form.cleaned_data["note"], stamp)

    return posted(request, job_id, "spec", StepsForm(request.POST), do)


@require_POST
def post_turn(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: StepsForm, stamp: Any) -> None:
        pressing.turn(job_id, form.steps(), stamp)

    return posted(request, job_id, "spec", StepsForm(request.POST), do)


@require_POST
def post_no_press(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: StepsForm, stamp: Any) -> None:
        pressing.turn_without_press(job_id, form.steps(), stamp)

    return posted(request, job_id, "spec", StepsForm(request.POST), do)


@require_POST
def post_gate(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: GateForm, stamp: Any) -> None:
        data = form.cleaned_data
        points = request.POST.getlist("points")
        gate = pressing.Gate(points, data["second"], data["nothing_done"])
        pressing.let_down(job_id, gate, stamp)

    return posted(request, job_id, "spec", GateForm(request.POST, request=request), do)


@require_POST
def post_lift(request: HttpRequest, job_id: int, hold_id: int) -> HttpResponse:
    def do(form: ReasonForm, stamp: Any) -> None:
        lift_hold(job_id, hold_id, form.cleaned_data["reason"], stamp)

    return posted(request, job_id, "look_over", ReasonForm(request.POST), do)


@require_POST
def post_hand_over(request: HttpRequest, job_id: int) -> HttpResponse:
    def do(form: HandOverForm, stamp: Any) -> None:
        data = form.cleaned_data
        hand_over(job_id, data["override"], data["not_done"], stamp)

    return posted(request, job_id, "hand_over", HandOverForm(request.POST), do)
