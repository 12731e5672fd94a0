"""Address of the simulated tools."""

from django.urls import path

from shop.simulated import views

urlpatterns = [path("tools/", views.ToolsView.as_view(), name="tools")]
