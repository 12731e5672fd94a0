"""Addresses of shooting in."""

from django.urls import path

from shop.stages.shooting_in import views

urlpatterns = [
    path("<int:job_id>/butt/", views.butt, name="butt"),
    path("<int:job_id>/butt/shot/", views.ButtShotView.as_view(), name="write_butt_shot"),
    path("<int:job_id>/butt/tap/", views.ButtTapView.as_view(), name="butt_tap"),
    path("<int:job_id>/paper/shot/", views.ShotView.as_view(), name="write_shot"),
    path("<int:job_id>/paper/out/", views.TakeOutView.as_view(), name="take_out_shot"),
    path("<int:job_id>/paper/looked-at/", views.LookedAtView.as_view(), name="look_at_suspect"),
    path("<int:job_id>/paper/tap/", views.PaperTapView.as_view(), name="paper_tap"),
    path("<int:job_id>/paper/words/", views.tear_words, name="tear_words"),
    path("<int:job_id>/sheets/new/", views.KeepSheetPhotoView.as_view(), name="keep_sheet_photo"),
    path("<int:job_id>/sheets/<int:photo_id>/", views.corners, name="corners"),
    path("<int:job_id>/sheets/<int:photo_id>/flat/", views.LayFlatView.as_view(), name="lay_flat"),
    path("<int:job_id>/sheets/<int:sheet_id>.jpg", views.flat_sheet_jpg, name="flat_sheet"),
]
