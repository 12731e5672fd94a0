"""Addresses of the book."""

from django.urls import path

from shop.book import views

urlpatterns = [
    path("", views.book, name="book"),
    path("new/", views.edit, name="entry_new"),
    path("import/", views.book_import, name="book_import"),
    path("schema/", views.schema, name="book_schema"),
    path("book.<str:form>", views.book_export, name="book_export"),
    path("<int:entry_id>/", views.entry, name="entry"),
    path("<int:entry_id>/confirm/", views.confirm, name="entry_confirm"),
    path("<int:entry_id>/change/", views.edit, name="entry_edit"),
]
