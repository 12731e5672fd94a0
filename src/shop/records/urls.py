"""Addresses of records."""

from django.urls import path

from shop.records import views

urlpatterns = [
    path("", views.RecordsView.as_view(), name="records"),
    path("files/", views.files_read, name="files_read"),
    path("schema.json", views.record_schema, name="record_schema"),
    path("shop.json", views.shop_record, name="shop_record"),
    path("bows/<int:bow_id>.json", views.bow_record, name="bow_record"),
]
