"""Address of check-in."""

from django.urls import path

from shop.check_in import views

urlpatterns = [path("new/", views.CheckInView.as_view(), name="check_in")]
