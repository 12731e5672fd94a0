"""Addresses of inspections."""

from django.urls import path

from shop.stages.inspection import views

urlpatterns = [
    path("<int:job_id>/inspection/post/", views.InspectView.as_view(), name="inspect"),
]
