"""Addresses of check-in and of what was agreed there."""

from django.urls import path

from shop.stages.check_in import views

urlpatterns = [
    path("new/", views.CheckInView.as_view(), name="check_in"),
    path("new/services/", views.services_for, name="services_for"),
    path("<int:job_id>/agreed/", views.ChangeOrderView.as_view(), name="change_order"),
    path("<int:job_id>/agreed/part/", views.AddPartView.as_view(), name="add_part"),
    path("<int:job_id>/cancel/", views.CancelView.as_view(), name="cancel_job"),
    path("<int:job_id>/reopen/", views.ReopenView.as_view(), name="reopen_job"),
]
