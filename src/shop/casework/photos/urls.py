"""Addresses of photographs."""

from django.urls import path

from shop.casework.photos import views

urlpatterns = [
    path("<int:job_id>/photos/<int:photo_id>.jpg", views.photo, name="photo"),
    path("<int:job_id>/<str:step>/photo/", views.KeepPhotoView.as_view(), name="keep_photo"),
]
