"""Photographs: kept with the job, shown as they are kept."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.cache import cache_control

from shop.casework.action_view import Given, JobActionView
from shop.casework.photos.actions import keep_photo
from shop.casework.photos.forms import PhotoForm
from shop.casework.photos.shrink import shrink
from shop.schema.inspection.models import Photo


class KeepPhotoView(JobActionView):
    action = keep_photo
    form_class = PhotoForm
    stay = True

    def given(self, form: PhotoForm) -> Given:
        photo = form.cleaned_data["photo"]
        return (form.cleaned_data["about"], shrink(photo, photo.size))


@cache_control(private=True, max_age=86400, immutable=True)
def photo(request: HttpRequest, job_id: int, photo_id: int) -> HttpResponse:
    """A photograph as it is kept."""
    kept = get_object_or_404(Photo, pk=photo_id, job_id=job_id)
    headers = {"Content-Disposition": "inline", "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(kept.jpeg), content_type="image/jpeg", headers=headers)
