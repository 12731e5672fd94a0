"""Shooting in through paper."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.cache import cache_control

from bowcore.errors import BadInput
from bowcore.evidence.shots import ShotTest
from bowcore.evidence.tears import say_tear
from bowcore.stages.shooting_in.step import PaperStep
from shop.casework.action_view import Given, JobActionView, SubmissionForm
from shop.casework.photos.views import KeepPhotoView
from shop.casework.screens import render_job, render_step, state_or_404, to_job
from shop.casework.submissions import Submission
from shop.schema.accounts.models import Shop
from shop.schema.inspection.models import ON_BUTT, ON_PAPER, Photo
from shop.schema.tuning.models import FlatSheet
from shop.schema.tuning.selectors import newest_photo
from shop.stages.shooting_in.actions import (
    do_butt_steps,
    do_paper_steps,
    lay_flat,
    look_at_suspect,
    mend_suspect,
    take_out_last_shot,
    write_down_shot,
)
from shop.stages.shooting_in.forms import (
    ButtShotForm,
    ButtTapForm,
    CornersForm,
    HolesForm,
    LookedAtForm,
    ShotForm,
)
from shop.stages.shooting_in.screens import butt_context, corners_context


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


@cache_control(private=True, max_age=86400, immutable=True)
def flat_sheet_jpg(request: HttpRequest, job_id: int, sheet_id: int) -> HttpResponse:
    """A photo laid flat, as it is kept."""
    kept = get_object_or_404(FlatSheet, pk=sheet_id, job_id=job_id)
    headers = {"Content-Disposition": "inline", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg", headers=headers)


def corners(
    request: HttpRequest, job_id: int, photo_id: int, status: int = 200, **extra: Any
) -> HttpResponse:
    """A photo of the paper or the butt, to tap its corners."""
    state = state_or_404(job_id)
    photo = get_object_or_404(Photo.objects.defer("jpeg"), pk=photo_id, job_id=job_id)
    here = PaperStep.key if photo.about == ON_PAPER else "butt"
    context = corners_context(state, photo, request.POST) | {"here": here}
    return render_job(request, state, "shooting_in/corners.html", context | extra, status)


class KeepSheetPhotoView(KeepPhotoView):
    """A photo of the paper or the butt is kept; then its corners are tapped."""

    def done(self, form: Any) -> HttpResponse:
        photo = newest_photo(self.job_id, form.cleaned_data["about"])
        return redirect(reverse("corners", args=[self.job_id, photo.pk]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        extra["photo_form"] = extra.pop("form", None)
        if self.request.POST.get("about") == ON_BUTT:
            return butt(self.request, self.job_id, status, **extra)
        return render_step(self.request, self.job_id, PaperStep.key, status, **extra)


class LayFlatView(JobActionView):
    action = lay_flat
    form_class = CornersForm

    def given(self, form: CornersForm) -> Given:
        return (self.kwargs["photo_id"], form.tapped(), form.middle())

    def done(self, form: Any) -> HttpResponse:
        photo = get_object_or_404(Photo, pk=self.kwargs["photo_id"], job_id=self.job_id)
        if photo.about == ON_PAPER:
            return to_job(self.job_id, PaperStep.key)
        return redirect(reverse("butt", args=[self.job_id]))

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return corners(self.request, self.job_id, self.kwargs["photo_id"], status, **extra)


class ShotView(JobActionView):
    action = write_down_shot
    form_class = ShotForm
    screen = PaperStep.key

    def given(self, form: ShotForm) -> Given:
        return (form.shot(),)


class TakeOutView(JobActionView):
    action = take_out_last_shot
    screen = PaperStep.key


class LookedAtView(JobActionView):
    right = "read"
    form_class = LookedAtForm
    screen = PaperStep.key

    def act(self, form: LookedAtForm, submission: Submission) -> None:
        data = form.cleaned_data
        if data["mended"]:
            mend_suspect(self.job_id, submission, data["suspect"])
        else:
            look_at_suspect(self.job_id, submission, data["suspect"], data["found"])

    def done(self, form: Any) -> HttpResponse:
        test = form.cleaned_data["test"]
        return to_butt(self.job_id, test) if test else super().done(form)


def butt(request: HttpRequest, job_id: int, status: int = 200, **extra: Any) -> HttpResponse:
    """Groups on a butt: what was shot, what it says, the next shot."""
    state = state_or_404(job_id)
    opened = request.POST.get("test") or request.GET.get("test", "")
    context = butt_context(state, opened, request.POST) | {"here": "butt"}
    return render_job(request, state, "shooting_in/butt.html", context | extra, status)


def to_butt(job_id: int, test: str) -> HttpResponse:
    """To the butt, at one of its tests."""
    return redirect(f"{reverse('butt', args=[job_id])}?test={test}")


class ButtView(JobActionView):
    """Whatever is posted from the butt comes back to it."""

    def done(self, form: Any) -> HttpResponse:
        return to_butt(self.job_id, form.cleaned_data["test"])

    def show(self, status: int, **extra: Any) -> HttpResponse:
        return butt(self.request, self.job_id, status, **extra)


class ButtShotView(ButtView):
    action = write_down_shot
    form_class = ButtShotForm

    def given(self, form: ButtShotForm) -> Given:
        return (form.shot(),)


class ButtTapView(ButtView):
    right = "change"
    form_class = ButtTapForm

    def act(self, form: ButtTapForm, submission: Submission) -> None:
        do_butt_steps(self.job_id, submission, ShotTest(form.cleaned_data["test"]))

    def done(self, form: Any) -> HttpResponse:
        if state_or_404(self.job_id).press is not None:
            return to_job(self.job_id)
        return super().done(form)


class PaperTapView(JobActionView):
    right = "change"
    form_class = SubmissionForm
    screen = PaperStep.key

    def act(self, form: SubmissionForm, submission: Submission) -> None:
        do_paper_steps(self.job_id, submission)
