"""Addresses of the book."""

from django.urls import path

from shop.book import views

urlpatterns = [
    path("", views.book, name="book"),
    path("<int:entry_id>/", views.entry, name="entry"),
]
