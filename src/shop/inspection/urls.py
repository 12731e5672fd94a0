"""Addresses of inspections and photographs."""

from django.urls import path

from shop.inspection import views

urlpatterns = [
    path("<int:job_id>/inspection/post/", views.InspectView.as_view(), name="inspect"),
    path("<int:job_id>/photos/<int:photo_id>.jpg", views.photo, name="photo"),
    path("<int:job_id>/<str:step>/photo/", views.KeepPhotoView.as_view(), name="keep_photo"),
]
