"""Addresses of papers."""

from django.urls import path

from shop.papers import views

urlpatterns = [
    path("<int:job_id>/ticket/", views.ticket, name="ticket"),
    path("<int:job_id>/sheet/", views.sheet, name="sheet"),
    path("<int:job_id>/sheet.pdf", views.sheet_pdf, name="sheet_pdf"),
]
