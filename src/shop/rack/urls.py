"""Addresses of the rack."""

from django.urls import path

from shop.rack import views

urlpatterns = [
    path("", views.rack, name="rack"),
    path("find/", views.search, name="find"),
    path("bows/<int:bow_id>/", views.bow_history, name="bow_history"),
    path("bows/<int:bow_id>/move/", views.MoveBowView.as_view(), name="move_bow"),
    path("customers/<int:customer_id>/", views.CustomerView.as_view(), name="customer"),
    path("favicon.ico", views.favicon),
    path("pulse", views.pulse, name="pulse"),
]
