"""Addresses of the shop's people."""

from django.urls import path

from shop.people import views

urlpatterns = [
    path("", views.people, name="people"),
    path("log/", views.who_did_what, name="who_did_what"),
    path("invite/", views.InviteView.as_view(), name="invite"),
    path("take-on/", views.TakeOnView.as_view(), name="take_on"),
    path("answer/", views.answer_shop, name="answer_shop"),
    path("password/", views.OwnPassword.as_view(), name="own_password"),
    path("<int:member_id>/role/", views.ChangeRoleView.as_view(), name="change_role"),
    path("<int:member_id>/password/", views.ResetPasswordView.as_view(), name="reset_password"),
    path("<int:member_id>/code/", views.ForgetSecondStepView.as_view(), name="forget_second_step"),
    path("<int:member_id>/let-in/", views.LetInView.as_view(), name="let_in"),
    path("<int:member_id>/active/", views.SetActiveView.as_view(), name="set_active"),
]
