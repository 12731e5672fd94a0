"""Addresses of the stabiliser."""

from django.urls import path

from shop.stages.stabiliser import views

urlpatterns = [
    path("<int:job_id>/stabiliser/", views.stabiliser, name="stabiliser"),
    path("<int:job_id>/stabiliser/held/", views.WriteFloatView.as_view(), name="write_float"),
]
