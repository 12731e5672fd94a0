"""Addresses of the fit."""

from django.urls import path

from shop.stages.fit import views

urlpatterns = [
    path("<int:job_id>/on-the-bow/", views.on_the_bow, name="on_the_bow"),
    path("<int:job_id>/on-the-bow/write/", views.WriteThingView.as_view(), name="write_thing"),
    path("<int:job_id>/sight/", views.sight, name="sight"),
    path("<int:job_id>/sight.svg", views.sight_svg, name="sight_svg"),
    path("<int:job_id>/fit/try/", views.try_fit, name="try_fit"),
    path("<int:job_id>/fit/arrow/", views.NameArrowView.as_view(), name="name_arrow"),
    path("<int:job_id>/fit/act/", views.FitActView.as_view(), name="do_fit_act"),
]
