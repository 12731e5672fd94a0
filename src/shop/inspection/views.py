"""Inspections and photographs."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.cache import cache_control

from bowcore.stages.inspection.step import InspectionStep
from shop.audit.submissions import Submission
from shop.inspection.actions.inspect import inspect_bow
from shop.inspection.actions.keep_photo import keep_photo
from shop.inspection.forms import InspectionForm, PhotoForm
from shop.inspection.models import Photo
from shop.jobs.action_view import JobActionView


class InspectView(JobActionView):
    right = "inspect"
    form_class = InspectionForm
    screen = InspectionStep.key

    def act(self, form: InspectionForm, submission: Submission) -> None:
        inspect_bow(self.job_id, form.places(), submission)


class KeepPhotoView(JobActionView):
    right = "inspect"
    form_class = PhotoForm
    stay = True

    def act(self, form: PhotoForm, submission: Submission) -> None:
        given = form.cleaned_data["photo"]
        keep_photo(self.job_id, form.cleaned_data["about"], given, given.size, submission)


@cache_control(private=True, max_age=86400, immutable=True)
def photo(request: HttpRequest, job_id: int, photo_id: int) -> HttpResponse:
    """A photograph as it is kept."""
    kept = get_object_or_404(Photo, pk=photo_id, job_id=job_id)
    headers = {"Content-Disposition": "inline", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg", headers=headers)
