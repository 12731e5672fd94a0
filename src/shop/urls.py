"""Which app answers which address."""

from django.urls import include, path

urlpatterns = [
    path("", include("shop.rack.urls")),
    path("", include("shop.accounts.urls")),
    path("book/", include("shop.book.urls")),
    path("jobs/", include("shop.papers.urls")),
    path("jobs/", include("shop.bench.urls")),
]

handler400 = "shop.ui.errors.bad_request"
handler403 = "shop.ui.errors.forbidden"
handler404 = "shop.ui.errors.not_found"
handler500 = "shop.ui.errors.broken"
