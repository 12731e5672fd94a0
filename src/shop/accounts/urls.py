"""Addresses of people and the shop."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from shop.accounts import views

urlpatterns = [
    path("login/", views.Login.as_view(), name="login"),
    path("login/code/", views.LoginCode.as_view(), name="login_code"),
    path("me/", views.own_login, name="own_login"),
    path("me/code/", views.second_step, name="second_step"),
    path("me/logins/end/", views.end_one_login, name="end_one_login"),
    path("logout/", LogoutView.as_view(), name="logout"),
    path("theme/", views.theme, name="theme"),
    path("shop/at/", views.at_shop, name="at_shop"),
    path("shop/", views.shop, name="shop"),
]
