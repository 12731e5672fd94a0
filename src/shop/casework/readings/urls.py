"""Addresses of readings and marks."""

from django.urls import path

from shop.casework.readings import views

urlpatterns = [
    path(
        "<int:job_id>/readings/<int:reading_id>/",
        views.CorrectReadingView.as_view(),
        name="correct",
    ),
    path("<int:job_id>/skip/", views.SkipView.as_view(), name="skip_wanted"),
    path("<int:job_id>/not-drawn/", views.SkipDrawnView.as_view(), name="skip_drawn"),
    path("<int:job_id>/mark/", views.WriteMarkView.as_view(), name="write_mark"),
    path(
        "<int:job_id>/marks-as-before/",
        views.MarksAsLastTimeView.as_view(),
        name="marks_as_last_time",
    ),
    path("<int:job_id>/tool/<str:quantity>/", views.tool_now, name="tool_now"),
    path("<int:job_id>/<str:step>/leave/", views.LeaveItView.as_view(), name="leave_it"),
    path(
        "<int:job_id>/<str:step>/reading/", views.TakeReadingsView.as_view(), name="take_readings"
    ),
    path("<int:job_id>/<str:step>/unreadable/", views.CannotReadView.as_view(), name="cannot_read"),
]
