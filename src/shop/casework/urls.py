"""Addresses of a job as a whole. The address of a step is the last to be tried."""

from django.urls import path

from shop.casework import views

urlpatterns = [
    path("<int:job_id>/", views.job, name="job"),
    path("<int:job_id>/log/", views.log, name="log"),
    path("<int:job_id>/holds/<int:hold_id>/lift/", views.LiftHoldView.as_view(), name="lift_hold"),
    path("<int:job_id>/signature/", views.AskSignatureView.as_view(), name="ask_signature"),
    path("<int:job_id>/<str:step>/", views.step, name="step"),
]
