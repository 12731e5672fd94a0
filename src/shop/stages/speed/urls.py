"""Addresses of the chronograph."""

from django.urls import path

from shop.stages.speed import views

urlpatterns = [
    path("<int:job_id>/speed/", views.speed, name="speed"),
    path("<int:job_id>/speed/shot/", views.WriteSpeedView.as_view(), name="write_speed"),
    path("<int:job_id>/speed/out/", views.TakeOutSpeedView.as_view(), name="take_out_speed"),
    path("<int:job_id>/shots.csv", views.shots_file, name="shots_file"),
    path("<int:job_id>/shots/bring-in/", views.BringInShotsView.as_view(), name="bring_in_shots"),
]
