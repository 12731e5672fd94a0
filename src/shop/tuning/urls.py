"""Addresses of shooting in."""

from django.urls import path

from shop.tuning import views

urlpatterns = [
    path("<int:job_id>/butt/", views.butt, name="butt"),
    path("<int:job_id>/butt/shot/", views.ButtShotView.as_view(), name="write_butt_shot"),
    path("<int:job_id>/butt/tap/", views.ButtTapView.as_view(), name="butt_tap"),
    path("<int:job_id>/paper/shot/", views.ShotView.as_view(), name="write_shot"),
    path("<int:job_id>/paper/out/", views.TakeOutView.as_view(), name="take_out_shot"),
    path("<int:job_id>/paper/looked-at/", views.LookedAtView.as_view(), name="look_at_suspect"),
    path("<int:job_id>/paper/tap/", views.PaperTapView.as_view(), name="paper_tap"),
    path("<int:job_id>/paper/words/", views.tear_words, name="tear_words"),
]
