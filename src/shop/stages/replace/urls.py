"""Addresses at the press and of the ledger."""

from django.urls import path

from shop.stages.replace import views

urlpatterns = [
    path("<int:job_id>/press/replace/", views.OpenToReplaceView.as_view(), name="open_to_replace"),
    path("<int:job_id>/press/swap/", views.SwapView.as_view(), name="swap"),
    path(
        "<int:job_id>/press/policy/",
        views.ChooseReplacementView.as_view(),
        name="choose_replacement",
    ),
    path("<int:job_id>/press/kind/", views.ChoosePressView.as_view(), name="choose_press"),
    path("<int:job_id>/press/tray/", views.TrayView.as_view(), name="put_in_tray"),
    path("<int:job_id>/<str:step>/count/", views.CountBoltsView.as_view(), name="count_bolts"),
    path("<int:job_id>/press/bolts/", views.BoltsBackView.as_view(), name="bolts_back"),
    path("<int:job_id>/drawn-in/", views.DrawInView.as_view(), name="draw_in"),
    path("<int:job_id>/press/check/", views.CheckPartView.as_view(), name="check_part"),
    path("<int:job_id>/press/wrong/", views.SendBackView.as_view(), name="send_back"),
    path("<int:job_id>/press/home/", views.BringHomeView.as_view(), name="bring_home"),
    path(
        "<int:job_id>/press/otherwise/",
        views.ChangeOtherwiseView.as_view(),
        name="change_otherwise",
    ),
    path("<int:job_id>/done-before/", views.LogDoneView.as_view(), name="log_done"),
    path("<int:job_id>/press/turn/", views.TurnView.as_view(), name="turn"),
    path("<int:job_id>/press/gate/", views.LetDownView.as_view(), name="let_down"),
    path("<int:job_id>/turned/", views.TurnWithoutPressView.as_view(), name="turn_without_press"),
    path("<int:job_id>/changed/", views.NoteChangeView.as_view(), name="note_change"),
    path(
        "<int:job_id>/not-on/<int:adjustment_id>/",
        views.PartNotOnView.as_view(),
        name="part_not_on",
    ),
    path("<int:job_id>/back/", views.TakeBackView.as_view(), name="take_back"),
]
