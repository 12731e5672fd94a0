"""Addresses of arrows."""

from django.urls import path

from shop.stages.arrow import views

urlpatterns = [
    path("<int:job_id>/arrow/", views.arrow, name="arrow"),
    path("<int:job_id>/arrow/try/", views.try_arrow, name="try_arrow"),
    path("<int:job_id>/arrow/write/", views.WriteArrowView.as_view(), name="write_arrow"),
    path("<int:job_id>/arrow/set/", views.arrow_set, name="arrow_set"),
    path("<int:job_id>/arrow/set/write/", views.WriteSetView.as_view(), name="write_set"),
    path("<int:job_id>/arrow/set/label/", views.set_label, name="set_label"),
]
