"""Addresses of people and the shop."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from shop.accounts import views

urlpatterns = [
    path("login/", views.Login.as_view(), name="login"),
    path("logout/", LogoutView.as_view(), name="logout"),
    path("theme/", views.theme, name="theme"),
    path("shop/at/", views.at_shop, name="at_shop"),
    path("shop/", views.shop, name="shop"),
]
